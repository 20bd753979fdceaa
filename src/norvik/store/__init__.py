"""SQLite by plain SQL: one module for each noun, short functions that take the connection."""
