"""What is done with an installation as a whole: is it well, and people moving out and in."""
