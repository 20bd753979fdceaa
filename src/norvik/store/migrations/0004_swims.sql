-- A swim by lengths. total_s: the time that a watch gave for the whole, if any.
CREATE TABLE IF NOT EXISTS swims (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    swimmer_id INTEGER NOT NULL REFERENCES swimmers (id),
    swum_on TEXT NOT NULL,
    stroke TEXT NOT NULL,
    pool_m REAL NOT NULL CHECK (pool_m > 0),
    total_s REAL CHECK (total_s > 0),
    note TEXT NOT NULL DEFAULT '',
    created_by INTEGER REFERENCES users (id),
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

-- strokes: single strokes as counted. under_s: seconds under water after the wall.
CREATE TABLE IF NOT EXISTS swim_lengths (
    swim_id INTEGER NOT NULL REFERENCES swims (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    seconds REAL NOT NULL CHECK (seconds > 0),
    strokes INTEGER,
    effort TEXT NOT NULL DEFAULT '',
    under_s REAL,
    PRIMARY KEY (swim_id, number)
) STRICT, WITHOUT ROWID;

CREATE INDEX IF NOT EXISTS swims_by_swimmer ON swims (swimmer_id, swum_on);
