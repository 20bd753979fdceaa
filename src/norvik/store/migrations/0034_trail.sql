-- Who saw, sent, changed, erased what and when. Rows are never changed, and removed only when they
-- are older than the club keeps them (the setting trail-days; three years unless it says otherwise).
-- person: name at that time, so that a row can be read after the account is gone.
CREATE TABLE IF NOT EXISTS trail (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
    user_id INTEGER,
    person TEXT NOT NULL DEFAULT '',
    deed TEXT NOT NULL,
    kind TEXT NOT NULL DEFAULT '',
    thing_id INTEGER,
    swimmer_id INTEGER,
    words TEXT NOT NULL DEFAULT '',
    address TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE INDEX IF NOT EXISTS trail_by_swimmer ON trail (swimmer_id);
CREATE INDEX IF NOT EXISTS trail_by_thing ON trail (kind, thing_id, deed, user_id);

CREATE TRIGGER IF NOT EXISTS trail_is_not_changed BEFORE UPDATE ON trail
BEGIN SELECT RAISE(ABORT, 'the trail is not changed'); END;

CREATE TRIGGER IF NOT EXISTS trail_is_kept BEFORE DELETE ON trail
WHEN OLD.at > strftime('%Y-%m-%dT%H:%M:%SZ', 'now', '-' ||
    coalesce((SELECT CAST(value AS INTEGER) FROM club WHERE name = 'trail-days'), 1095) || ' days')
BEGIN SELECT RAISE(ABORT, 'the trail is kept'); END;
