-- Proposed measures on the frame that the coach passed over: not asked for in that stroke again.
CREATE TABLE IF NOT EXISTS reading_passed (
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    measure TEXT NOT NULL,
    side TEXT NOT NULL,
    frame INTEGER NOT NULL,
    PRIMARY KEY (clip_id, measure, side, frame)
) STRICT;
