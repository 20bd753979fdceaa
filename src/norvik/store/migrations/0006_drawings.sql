-- What is drawn on the picture: measures, lines, notes. points: JSON list of [x, y], pixels of the
-- upright picture at the source's resolution. Shown from first_frame to last_frame (NULL: to the
-- end); frame is where it was made. name: the measure of a measure or choice. text: what a note
-- says, what was chosen.
CREATE TABLE IF NOT EXISTS drawings (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    kind TEXT NOT NULL,
    name TEXT NOT NULL DEFAULT '',
    side TEXT NOT NULL DEFAULT '',
    frame INTEGER NOT NULL CHECK (frame >= 0),
    first_frame INTEGER NOT NULL CHECK (first_frame >= 0),
    last_frame INTEGER CHECK (last_frame >= first_frame),
    points TEXT NOT NULL,
    style TEXT NOT NULL DEFAULT 'neutral',
    text TEXT NOT NULL DEFAULT '',
    created_by INTEGER REFERENCES users (id),
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
CREATE INDEX IF NOT EXISTS drawings_by_clip ON drawings (clip_id, frame);

-- Every change of a drawing, so that it can be taken back. before, after: JSON of the drawing.
CREATE TABLE IF NOT EXISTS drawing_changes (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    user_id INTEGER REFERENCES users (id),
    before TEXT,
    after TEXT,
    undone INTEGER NOT NULL DEFAULT 0,
    made_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
CREATE INDEX IF NOT EXISTS drawing_changes_by_clip ON drawing_changes (clip_id, id);

-- A measure taken again without seeing the first.
CREATE TABLE IF NOT EXISTS drawing_repeats (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    drawing_id INTEGER NOT NULL REFERENCES drawings (id) ON DELETE CASCADE,
    points TEXT NOT NULL,
    created_by INTEGER REFERENCES users (id),
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
CREATE INDEX IF NOT EXISTS drawing_repeats_by_drawing ON drawing_repeats (drawing_id);

-- What a clip's frames are measured against, one of each kind. width_m, height_m: of a scale (its
-- distance alone) or of a rectangle.
CREATE TABLE IF NOT EXISTS clip_references (
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    kind TEXT NOT NULL CHECK (kind IN ('horizontal', 'vertical', 'water', 'scale', 'plane')),
    frame INTEGER NOT NULL,
    points TEXT NOT NULL,
    width_m REAL,
    height_m REAL,
    in_air INTEGER NOT NULL DEFAULT 0,
    PRIMARY KEY (clip_id, kind)
) STRICT;

-- Points that are followed. state of a frame: anchor (set by hand), followed, lost. confidence: 0..1.
CREATE TABLE IF NOT EXISTS tracks (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    point TEXT NOT NULL,
    side TEXT NOT NULL DEFAULT '',
    job_id INTEGER,
    created_by INTEGER REFERENCES users (id),
    UNIQUE (clip_id, point, side)
) STRICT;
CREATE TABLE IF NOT EXISTS track_points (
    track_id INTEGER NOT NULL REFERENCES tracks (id) ON DELETE CASCADE,
    frame INTEGER NOT NULL,
    x REAL,
    y REAL,
    state TEXT NOT NULL CHECK (state IN ('anchor', 'followed', 'lost')),
    confidence REAL NOT NULL,
    PRIMARY KEY (track_id, frame)
) STRICT, WITHOUT ROWID;

-- Settings of the whole installation.
CREATE TABLE IF NOT EXISTS settings (
    name TEXT PRIMARY KEY,
    value TEXT NOT NULL
) STRICT;

-- Frames that are kept as pictures, with what is drawn on them then. caption: the coach's own words.
CREATE TABLE IF NOT EXISTS stills (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    frame INTEGER NOT NULL CHECK (frame >= 0),
    caption TEXT NOT NULL DEFAULT '',
    created_by INTEGER REFERENCES users (id),
    UNIQUE (clip_id, frame)
) STRICT;
