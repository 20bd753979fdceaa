-- A coach's talk over the films of a review. pieces: stretches of its takes in the order in which
-- they are heard; gone: pieces that undo has taken back, the last one last; before: those to undo to.
CREATE TABLE IF NOT EXISTS talks (
    id INTEGER PRIMARY KEY,
    review_id INTEGER NOT NULL REFERENCES reviews (id) ON DELETE CASCADE,
    pieces TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(pieces)),
    before TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(before)),
    gone TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(gone)),
    revision INTEGER NOT NULL DEFAULT 1,
    created_by INTEGER REFERENCES users (id) ON DELETE SET NULL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
CREATE INDEX IF NOT EXISTS talks_by_review ON talks (review_id);
-- What was spoken in one go. key: made by the page that recorded it. mime: of its sound; empty
-- without a microphone. length_ms: how much of it has arrived.
CREATE TABLE IF NOT EXISTS talk_takes (
    id INTEGER PRIMARY KEY,
    talk_id INTEGER NOT NULL REFERENCES talks (id) ON DELETE CASCADE,
    key TEXT NOT NULL UNIQUE,
    mime TEXT NOT NULL DEFAULT '',
    length_ms REAL NOT NULL DEFAULT 0,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
CREATE INDEX IF NOT EXISTS talk_takes_by_talk ON talk_takes (talk_id);
-- A few seconds of a take, as they came: sound, and deeds with the drawings they name (packed).
CREATE TABLE IF NOT EXISTS talk_bits (
    take_id INTEGER NOT NULL REFERENCES talk_takes (id) ON DELETE CASCADE,
    n INTEGER NOT NULL,
    sound BLOB NOT NULL,
    deeds BLOB NOT NULL,
    PRIMARY KEY (take_id, n)
) STRICT;
-- The coach's own words for a chapter.
CREATE TABLE IF NOT EXISTS talk_chapters (
    take_id INTEGER NOT NULL REFERENCES talk_takes (id) ON DELETE CASCADE,
    take_ms REAL NOT NULL,
    words TEXT NOT NULL,
    PRIMARY KEY (take_id, take_ms)
) STRICT;
CREATE TABLE IF NOT EXISTS talk_captions (
    id INTEGER PRIMARY KEY,
    take_id INTEGER NOT NULL REFERENCES talk_takes (id) ON DELETE CASCADE,
    from_ms REAL NOT NULL,
    to_ms REAL NOT NULL CHECK (to_ms > from_ms),
    words TEXT NOT NULL
) STRICT;
CREATE INDEX IF NOT EXISTS talk_captions_by_take ON talk_captions (take_id);
-- What the coach wants to remember at a point of the path through a review; for no one else.
CREATE TABLE IF NOT EXISTS talk_notes (
    review_id INTEGER NOT NULL REFERENCES reviews (id) ON DELETE CASCADE,
    kind TEXT NOT NULL,
    what TEXT NOT NULL,
    words TEXT NOT NULL,
    PRIMARY KEY (review_id, kind, what)
) STRICT;
-- Films that were made of a talk or of a clip. path: relative to the data folder. made_of: what it
-- shows, in full, so that the same wish finds the same film.
CREATE TABLE IF NOT EXISTS made_films (
    id INTEGER PRIMARY KEY,
    review_id INTEGER REFERENCES reviews (id) ON DELETE CASCADE,
    clip_id INTEGER REFERENCES clips (id) ON DELETE CASCADE,
    made_of TEXT NOT NULL UNIQUE CHECK (json_valid(made_of)),
    path TEXT NOT NULL UNIQUE,
    seconds REAL NOT NULL,
    bytes INTEGER NOT NULL,
    made_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
CREATE INDEX IF NOT EXISTS made_films_by_review ON made_films (review_id);
CREATE INDEX IF NOT EXISTS made_films_by_clip ON made_films (clip_id);
