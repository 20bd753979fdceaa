-- Measures that were taken on a frame. points: JSON list of [x, y], pixels of the upright picture at
-- the source's resolution, in the order of the measure's points.
CREATE TABLE IF NOT EXISTS measures (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    frame INTEGER NOT NULL CHECK (frame >= 0),
    measure TEXT NOT NULL,
    side TEXT NOT NULL DEFAULT '',
    points TEXT NOT NULL,
    created_by INTEGER REFERENCES users (id),
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

CREATE INDEX IF NOT EXISTS measures_by_clip ON measures (clip_id, frame);
