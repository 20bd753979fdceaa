-- What was written down of a pool test. entries: JSON, values by the id of their entry. pool: length
-- of one length as a fraction, in unit. session: its key in the plan that set it.
CREATE TABLE IF NOT EXISTS pool_tests (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    swimmer_id INTEGER NOT NULL REFERENCES swimmers (id) ON DELETE CASCADE,
    test TEXT NOT NULL,
    stroke TEXT NOT NULL,
    done_on TEXT NOT NULL,
    pool TEXT NOT NULL,
    unit TEXT NOT NULL CHECK (unit IN ('m', 'yd')),
    entries TEXT NOT NULL CHECK (json_valid(entries)),
    rested INTEGER NOT NULL CHECK (rested IN (0, 1)),
    note TEXT NOT NULL DEFAULT '',
    plan_id INTEGER REFERENCES plans (id) ON DELETE SET NULL,
    session TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX IF NOT EXISTS pool_tests_by_swimmer ON pool_tests (swimmer_id, done_on);
