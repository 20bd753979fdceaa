"""Recordings: the file apart from what is seen in it, so that one can be cut into many clips.

One step, so that it happens whole or not at all; it does nothing when it has been done.
"""

from typing import Any

from yoyo import step

_TABLES = """
-- A file that was brought. original_path and review_path are relative to the data folder;
-- original_path is NULL when the original was released. copied: review_path is a file of its own.
-- state: "waiting" nothing can be seen yet, "opening" a first stretch can be reviewed while the
-- rest is being made, "ready", "failed". frames counts those that can be reviewed.
-- stretches: list of [from frame, slow-motion factor]. told_rate_fps: capture rate that the
-- camera wrote into the file. check_*: the time check (two frames and true seconds).
-- levels: black and white point of each colour for a view through murky water.
CREATE TABLE recordings (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    original_name TEXT NOT NULL,
    original_path TEXT,
    sha256 TEXT NOT NULL,
    bytes INTEGER NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('waiting', 'opening', 'ready', 'failed')),
    failure TEXT,
    warning TEXT,
    times_estimated INTEGER NOT NULL DEFAULT 0,
    review_path TEXT,
    copied INTEGER NOT NULL DEFAULT 1,
    rate_num INTEGER,
    rate_den INTEGER,
    width INTEGER,
    height INTEGER,
    source_width INTEGER,
    source_height INTEGER,
    codec TEXT,
    frames INTEGER,
    constant_rate INTEGER,
    sound INTEGER NOT NULL DEFAULT 0,
    strip TEXT NOT NULL DEFAULT '' CHECK (strip = '' OR json_valid(strip)),
    levels TEXT NOT NULL DEFAULT '' CHECK (levels = '' OR json_valid(levels)),
    stretches TEXT NOT NULL DEFAULT '[[0, 1.0]]' CHECK (json_valid(stretches)),
    told_rate_fps REAL,
    check_first INTEGER,
    check_last INTEGER,
    check_s REAL CHECK (check_s > 0),
    created_by INTEGER REFERENCES users (id),
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
CREATE INDEX recordings_by_checksum ON recordings (sha256);
CREATE INDEX recordings_by_state ON recordings (state);

-- What is seen of one swimmer: a whole recording, or a part of it from first_frame to last_frame
-- (NULL: to the end). Frames are those of the recording, in marks and everywhere else.
-- swimmer_id is NULL until somebody says who swims. kit: worn or held while filmed. unsure: the
-- time base is in doubt, as worked out when clip or marks changed last.
CREATE TABLE new_clips (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    recording_id INTEGER NOT NULL REFERENCES recordings (id) ON DELETE CASCADE,
    first_frame INTEGER NOT NULL DEFAULT 0 CHECK (first_frame >= 0),
    last_frame INTEGER CHECK (last_frame > first_frame),
    is_part INTEGER NOT NULL DEFAULT 0,
    swimmer_id INTEGER REFERENCES swimmers (id),
    stroke TEXT NOT NULL,
    view TEXT NOT NULL,
    role TEXT NOT NULL,
    effort TEXT NOT NULL DEFAULT '',
    pace_s REAL CHECK (pace_s > 0),
    kit TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(kit)),
    filmed_on TEXT NOT NULL,
    pool_m REAL CHECK (pool_m > 0),
    unsure INTEGER NOT NULL DEFAULT 0,
    trashed_at TEXT,
    created_by INTEGER REFERENCES users (id),
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;

INSERT INTO recordings (id, original_name, original_path, sha256, bytes, state, failure, warning,
    review_path, copied, rate_num, rate_den, width, height, source_width, source_height, codec,
    frames, constant_rate, stretches, created_by, created_at)
SELECT id, original_name, original_path, sha256, bytes, state, failure, warning,
    review_path, coalesce(review_path != original_path, 1), rate_num, rate_den, width, height,
    source_width, source_height, codec, frames, constant_rate,
    json_array(json_array(0, stretch)), created_by, created_at
FROM clips;
INSERT INTO new_clips (id, recording_id, swimmer_id, stroke, view, role, filmed_on, created_by,
    created_at)
SELECT id, id, swimmer_id, stroke, view, role, filmed_on, created_by, created_at FROM clips;
-- Ids of deleted clips stay used.
UPDATE sqlite_sequence SET seq = (SELECT max(seq) FROM sqlite_sequence WHERE name = 'clips')
WHERE name IN ('recordings', 'new_clips')
    AND EXISTS (SELECT 1 FROM sqlite_sequence WHERE name = 'clips');

CREATE TABLE new_frame_tables (
    recording_id INTEGER PRIMARY KEY REFERENCES recordings (id) ON DELETE CASCADE,
    media_s BLOB NOT NULL
) STRICT;
INSERT INTO new_frame_tables SELECT clip_id, media_s FROM frame_tables;
DROP TABLE frame_tables;
ALTER TABLE new_frame_tables RENAME TO frame_tables;

DROP TABLE jobs;
CREATE TABLE jobs (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    kind TEXT NOT NULL,
    args TEXT NOT NULL CHECK (json_valid(args)),
    recording_id INTEGER REFERENCES recordings (id) ON DELETE CASCADE,
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
CREATE INDEX jobs_by_state ON jobs (state);
CREATE INDEX jobs_by_recording ON jobs (recording_id);
-- Whatever was under way begins anew.
INSERT INTO jobs (kind, args, recording_id)
SELECT 'prepare-recording', json_object('recording_id', id), id FROM recordings
WHERE state = 'waiting';

DROP TABLE clips;
ALTER TABLE new_clips RENAME TO clips;
CREATE INDEX clips_by_day ON clips (filmed_on, id) WHERE trashed_at IS NULL;
CREATE INDEX clips_by_swimmer ON clips (swimmer_id, filmed_on);
CREATE INDEX clips_by_recording ON clips (recording_id);
CREATE INDEX marks_by_clip ON marks (clip_id);

CREATE TABLE loops (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    name TEXT NOT NULL,
    from_frame INTEGER NOT NULL,
    to_frame INTEGER NOT NULL CHECK (to_frame > from_frame),
    UNIQUE (clip_id, name)
) STRICT;

-- Where each person stopped in each clip.
CREATE TABLE places (
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
    frame INTEGER NOT NULL,
    seen_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
    PRIMARY KEY (clip_id, user_id)
) STRICT, WITHOUT ROWID;

-- Every change of a cut, so that it can be undone and done again. Each side holds the clip's
-- edges, swimmer, stroke and whether it is in the trash.
CREATE TABLE cut_changes (
    id INTEGER PRIMARY KEY,
    recording_id INTEGER NOT NULL REFERENCES recordings (id) ON DELETE CASCADE,
    user_id INTEGER,
    clip_id INTEGER NOT NULL,
    before TEXT NOT NULL,
    after TEXT NOT NULL,
    undone INTEGER NOT NULL DEFAULT 0,
    made_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
CREATE INDEX cut_changes_by_recording ON cut_changes (recording_id, id);
"""


def _statements(script: str) -> list[str]:
    plain = "\n".join(line for line in script.splitlines() if not line.lstrip().startswith("--"))
    return [s for s in (part.strip() for part in plain.split(";")) if s]


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("SELECT count(*) FROM pragma_table_info('clips') WHERE name = 'recording_id'")
    if cursor.fetchone()[0]:
        return
    for statement in _statements(_TABLES):
        cursor.execute(statement)


steps = [step(apply)]
