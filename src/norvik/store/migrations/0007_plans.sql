-- Why a coach chose another point than the one proposed.
CREATE TABLE IF NOT EXISTS overrules (
    clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
    fault TEXT NOT NULL,
    because TEXT NOT NULL,
    PRIMARY KEY (clip_id, fault)
) STRICT;

-- A plan of training. wish: JSON of what it is made from; everything else is worked out from it.
CREATE TABLE IF NOT EXISTS plans (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    swimmer_id INTEGER NOT NULL REFERENCES swimmers (id) ON DELETE CASCADE,
    clip_id INTEGER REFERENCES clips (id) ON DELETE SET NULL,
    stroke TEXT NOT NULL,
    wish TEXT NOT NULL CHECK (json_valid(wish)),
    made_on TEXT NOT NULL DEFAULT (strftime('%Y-%m-%d', 'now')),
    ended_on TEXT
) STRICT;
CREATE INDEX IF NOT EXISTS plans_by_swimmer ON plans (swimmer_id, id);

-- What was done of a plan. session: its key in the plan. felt: effort felt, 1 to 10.
CREATE TABLE IF NOT EXISTS training (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    plan_id INTEGER NOT NULL REFERENCES plans (id) ON DELETE CASCADE,
    session TEXT NOT NULL,
    outcome TEXT NOT NULL CHECK (outcome IN ('done', 'partly', 'skipped')),
    felt INTEGER CHECK (felt BETWEEN 1 AND 10),
    note TEXT NOT NULL DEFAULT '',
    noted_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
    UNIQUE (plan_id, session)
) STRICT;

-- Pain that was told, until the coach clears it. What hurts now also stands with the swimmer.
CREATE TABLE IF NOT EXISTS pains (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    swimmer_id INTEGER NOT NULL REFERENCES swimmers (id) ON DELETE CASCADE,
    part TEXT NOT NULL,
    note TEXT NOT NULL DEFAULT '',
    noted_on TEXT NOT NULL DEFAULT (strftime('%Y-%m-%d', 'now')),
    cleared_on TEXT,
    cleared_note TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX IF NOT EXISTS pains_by_swimmer ON pains (swimmer_id, id);

-- How a focus stands for a swimmer, where the coach said it; otherwise it is worked out.
CREATE TABLE IF NOT EXISTS rungs (
    swimmer_id INTEGER NOT NULL REFERENCES swimmers (id) ON DELETE CASCADE,
    stroke TEXT NOT NULL,
    fault TEXT NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('done', 'resting')),
    note TEXT NOT NULL DEFAULT '',
    said_on TEXT NOT NULL DEFAULT (strftime('%Y-%m-%d', 'now')),
    PRIMARY KEY (swimmer_id, stroke, fault)
) STRICT;

-- The coach's drills: new ones, and own versions of shipped ones. drill: JSON, NULL where only
-- hidden says something.
CREATE TABLE IF NOT EXISTS own_drills (
    id TEXT PRIMARY KEY,
    drill TEXT CHECK (drill IS NULL OR json_valid(drill)),
    hidden INTEGER NOT NULL DEFAULT 0 CHECK (hidden IN (0, 1))
) STRICT;

-- The coach's own cue for a fault.
CREATE TABLE IF NOT EXISTS own_cues (
    fault TEXT PRIMARY KEY,
    cue TEXT NOT NULL
) STRICT;
