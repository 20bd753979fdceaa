-- What was read of a clip's film without a mark, as the clip was then: stroke, view, first and last
-- frame, time base. poses: places of the joints, packed. events: none of them a mark.
CREATE TABLE IF NOT EXISTS readings (
    clip_id INTEGER PRIMARY KEY REFERENCES clips (id) ON DELETE CASCADE,
    read_as TEXT NOT NULL CHECK (json_valid(read_as)),
    seen REAL NOT NULL,
    cycle TEXT CHECK (cycle IS NULL OR json_valid(cycle)),
    events TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(events)),
    reasons TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(reasons)),
    parts TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(parts)),
    looks_like TEXT NOT NULL DEFAULT 'null' CHECK (json_valid(looks_like)),
    poses BLOB,
    made_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
-- What the coach answered to something that a reading says to look at.
CREATE TABLE IF NOT EXISTS reading_answers (
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    what TEXT NOT NULL,
    side TEXT NOT NULL DEFAULT '',
    answer TEXT NOT NULL CHECK (answer IN ('yes', 'no', 'unsure')),
    created_by INTEGER REFERENCES users (id) ON DELETE SET NULL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
    PRIMARY KEY (clip_id, what, side)
) STRICT;
-- Read events that the coach confirmed as they lay, many at once: these say nothing of how far
-- reading is off.
CREATE TABLE IF NOT EXISTS reading_taken (
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    frame INTEGER NOT NULL,
    lane TEXT NOT NULL,
    side TEXT NOT NULL,
    event TEXT NOT NULL,
    PRIMARY KEY (clip_id, frame, lane, side, event)
) STRICT;
-- The job that reads a clip is asked for at every mark.
CREATE INDEX IF NOT EXISTS jobs_by_clip ON jobs (kind, json_extract(args, '$.clip_id'));
