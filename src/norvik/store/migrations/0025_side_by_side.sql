-- Two cameras on one swim. instants: JSON list of one or two [frame of the one, frame of the other]
-- that show the same instant.
CREATE TABLE IF NOT EXISTS tied_recordings (
    one_id INTEGER NOT NULL REFERENCES recordings (id) ON DELETE CASCADE,
    other_id INTEGER NOT NULL REFERENCES recordings (id) ON DELETE CASCADE,
    instants TEXT NOT NULL CHECK (json_valid(instants)),
    created_by INTEGER REFERENCES users (id) ON DELETE SET NULL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
    PRIMARY KEY (one_id, other_id),
    CHECK (one_id < other_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX IF NOT EXISTS tied_recordings_by_other ON tied_recordings (other_id);

-- Instants of two films beside each other that a review shows. rows: JSON list of [frame of the one,
-- frame of the other, what it is]. other_model: how the model swimmer was filmed, in place of a clip.
CREATE TABLE IF NOT EXISTS review_pairs (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    review_id INTEGER NOT NULL REFERENCES reviews (id) ON DELETE CASCADE,
    one_clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    other_clip_id INTEGER REFERENCES clips (id) ON DELETE CASCADE,
    other_model TEXT CHECK (other_model IS NULL OR json_valid(other_model)),
    rows TEXT NOT NULL CHECK (json_valid(rows)),
    caption TEXT NOT NULL DEFAULT '',
    created_by INTEGER REFERENCES users (id) ON DELETE SET NULL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
    CHECK ((other_clip_id IS NULL) <> (other_model IS NULL))
) STRICT;
CREATE INDEX IF NOT EXISTS review_pairs_by_review ON review_pairs (review_id, id);
