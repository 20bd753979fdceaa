"""Where films and all files that belong to them lie: one folder, or a bucket."""
