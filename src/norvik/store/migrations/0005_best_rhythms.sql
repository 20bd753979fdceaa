-- Clips in which a swimmer looked and went best, as the coach says, with the rate that was marked.
CREATE TABLE IF NOT EXISTS best_rhythms (
    clip_id INTEGER PRIMARY KEY REFERENCES clips (id) ON DELETE CASCADE,
    cycles_per_min REAL NOT NULL CHECK (cycles_per_min > 0),
    kept_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
