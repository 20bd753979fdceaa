-- What the coach says in own words of a frame. kind: praise, point or doubt. drawn: shown with what
-- is drawn on the frame. cue, drills: of a point that is worked on. view: that can answer a doubt,
-- empty for any other clip; answer: what was seen then, on the clip answered_on.
CREATE TABLE IF NOT EXISTS remarks (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    kind TEXT NOT NULL CHECK (kind IN ('praise', 'point', 'doubt')),
    text TEXT NOT NULL,
    side TEXT NOT NULL DEFAULT '',
    frame INTEGER,
    drawn INTEGER NOT NULL DEFAULT 1 CHECK (drawn IN (0, 1)),
    cue TEXT NOT NULL DEFAULT '',
    drills TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(drills)),
    view TEXT NOT NULL DEFAULT '',
    answer TEXT NOT NULL DEFAULT '',
    answered_on INTEGER REFERENCES clips (id) ON DELETE SET NULL,
    created_by INTEGER REFERENCES users (id) ON DELETE SET NULL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
CREATE INDEX IF NOT EXISTS remarks_by_clip ON remarks (clip_id, id);
