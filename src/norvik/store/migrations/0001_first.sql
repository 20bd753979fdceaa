-- Times are ISO 8601 in UTC. JSON columns hold lists of words from the catalogue.

CREATE TABLE IF NOT EXISTS users (
    id INTEGER PRIMARY KEY,
    email TEXT NOT NULL UNIQUE COLLATE NOCASE,
    name TEXT NOT NULL,
    role TEXT NOT NULL CHECK (role IN ('coach', 'assistant')),
    password_hash TEXT NOT NULL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

CREATE TABLE IF NOT EXISTS swimmers (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    level TEXT NOT NULL CHECK (level IN ('beginner', 'improver', 'advanced')),
    usual_breath TEXT NOT NULL DEFAULT '' CHECK (usual_breath IN ('', 'left', 'right', 'both')),
    aim TEXT NOT NULL DEFAULT '',
    pain TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(pain)),
    kit TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(kit)),
    schools TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(schools)),
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

-- Ids are never reused: browsers keep films and stills under them.
-- original_path and review_path are relative to the data folder.
-- A clip is "ready" when it has a frame table and a review copy.
CREATE TABLE IF NOT EXISTS clips (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    swimmer_id INTEGER NOT NULL REFERENCES swimmers (id),
    stroke TEXT NOT NULL,
    view TEXT NOT NULL,
    role TEXT NOT NULL,
    filmed_on TEXT NOT NULL,
    stretch REAL NOT NULL DEFAULT 1 CHECK (stretch > 0),
    original_name TEXT NOT NULL,
    original_path TEXT NOT NULL,
    sha256 TEXT NOT NULL,
    bytes INTEGER NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('waiting', 'ready', 'failed')),
    failure TEXT,
    warning TEXT,
    review_path TEXT,
    rate_num INTEGER,
    rate_den INTEGER,
    width INTEGER,
    height INTEGER,
    source_width INTEGER,
    source_height INTEGER,
    codec TEXT,
    frames INTEGER,
    constant_rate INTEGER,
    created_by INTEGER REFERENCES users (id),
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
CREATE INDEX IF NOT EXISTS clips_by_swimmer ON clips (swimmer_id, filmed_on);
CREATE INDEX IF NOT EXISTS clips_by_checksum ON clips (sha256);

-- media_s: little-endian 64-bit floats, seconds of each frame in the file, first at 0.
CREATE TABLE IF NOT EXISTS frame_tables (
    clip_id INTEGER PRIMARY KEY REFERENCES clips (id) ON DELETE CASCADE,
    media_s BLOB NOT NULL
) STRICT;

CREATE TABLE IF NOT EXISTS jobs (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL,
    args TEXT NOT NULL CHECK (json_valid(args)),
    clip_id INTEGER REFERENCES clips (id) ON DELETE CASCADE,
    state TEXT NOT NULL DEFAULT 'queued'
        CHECK (state IN ('queued', 'running', 'done', 'failed', 'cancelled', 'interrupted')),
    doing TEXT NOT NULL DEFAULT '',
    progress REAL,
    failure TEXT,
    attempts INTEGER NOT NULL DEFAULT 0,
    cancel_asked INTEGER NOT NULL DEFAULT 0,
    heartbeat_at REAL,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
    ended_at TEXT
) STRICT;
CREATE INDEX IF NOT EXISTS jobs_by_state ON jobs (state);
CREATE INDEX IF NOT EXISTS jobs_by_clip ON jobs (clip_id);

-- A deleted mark comes back under its old id when the deletion is undone: ids are never reused.
CREATE TABLE IF NOT EXISTS marks (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    frame INTEGER NOT NULL CHECK (frame >= 0),
    lane TEXT NOT NULL,
    side TEXT NOT NULL,
    event TEXT NOT NULL,
    note TEXT NOT NULL DEFAULT '',
    UNIQUE (clip_id, frame, lane, side, event)
) STRICT;

-- Every change of a mark, so that it can be undone and done again, also after a reload.
-- before is NULL for a mark that was placed, after is NULL for one that was deleted.
CREATE TABLE IF NOT EXISTS mark_changes (
    id INTEGER PRIMARY KEY,
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    user_id INTEGER,
    mark_id INTEGER NOT NULL,
    before TEXT,
    after TEXT,
    undone INTEGER NOT NULL DEFAULT 0,
    made_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
CREATE INDEX IF NOT EXISTS mark_changes_by_clip ON mark_changes (clip_id, id);

-- What the coach saw and ticked. what: id of a fault or of a strength in the catalogue.
CREATE TABLE IF NOT EXISTS sightings (
    id INTEGER PRIMARY KEY,
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    what TEXT NOT NULL,
    side TEXT NOT NULL DEFAULT '',
    degree TEXT NOT NULL CHECK (degree IN ('slight', 'clear')),
    frame INTEGER,
    UNIQUE (clip_id, what, side)
) STRICT;

CREATE TABLE IF NOT EXISTS reviews (
    clip_id INTEGER PRIMARY KEY REFERENCES clips (id) ON DELETE CASCADE,
    words TEXT NOT NULL DEFAULT '',
    film_again_on TEXT,
    done_at TEXT
) STRICT;

CREATE TABLE IF NOT EXISTS focuses (
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    fault TEXT NOT NULL,
    place INTEGER NOT NULL,
    still_frame INTEGER,
    drills TEXT CHECK (drills IS NULL OR json_valid(drills)),
    PRIMARY KEY (clip_id, fault)
) STRICT;
