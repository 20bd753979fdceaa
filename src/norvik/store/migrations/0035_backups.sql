-- Backups that were made: where, when (seconds since 1970), and how each ended.
CREATE TABLE IF NOT EXISTS backups (
    id INTEGER PRIMARY KEY,
    folder TEXT NOT NULL,
    generation TEXT NOT NULL,
    made_at REAL NOT NULL,
    files INTEGER NOT NULL,
    bytes INTEGER NOT NULL,
    verified_at REAL,
    failure TEXT NOT NULL DEFAULT ''
) STRICT;
