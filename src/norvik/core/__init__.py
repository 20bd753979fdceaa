"""The trade: timing, judging and prescribing. No interface, database, file, clock or video here."""
