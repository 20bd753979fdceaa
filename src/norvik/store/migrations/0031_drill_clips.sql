-- A clip of the coach's own that shows a drill and goes with it to the swimmers.
CREATE TABLE IF NOT EXISTS drill_clips (
    drill_id TEXT PRIMARY KEY,
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE
) STRICT;
CREATE INDEX IF NOT EXISTS drill_clips_by_clip ON drill_clips (clip_id);
