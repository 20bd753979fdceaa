"""Consent: who allowed what for a swimmer, when, until when, and how it is known.

What was noted before moves here: leave to be shown beside others, leave to send links, and that a
guardian had consented where a swimmer is under 18.
"""

from typing import Any

from yoyo import step

_TABLE = """CREATE TABLE IF NOT EXISTS consents (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    swimmer_id INTEGER REFERENCES swimmers (id) ON DELETE SET NULL,
    swimmer_name TEXT NOT NULL DEFAULT '',
    kind TEXT NOT NULL CHECK (kind IN ('filming', 'keeping', 'squad', 'sending', 'example')),
    given_by TEXT NOT NULL,
    guardian INTEGER NOT NULL DEFAULT 0 CHECK (guardian IN (0, 1)),
    given_on TEXT NOT NULL,
    until TEXT NOT NULL DEFAULT '',
    withdrawn_on TEXT NOT NULL DEFAULT '',
    withdrawn_by TEXT NOT NULL DEFAULT '',
    words TEXT NOT NULL DEFAULT '',
    paper TEXT NOT NULL DEFAULT '',
    noted_by INTEGER REFERENCES users (id) ON DELETE SET NULL,
    noted_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT"""


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    cursor.execute(_TABLE)
    cursor.execute("CREATE INDEX IF NOT EXISTS consents_by_swimmer ON consents (swimmer_id, kind)")
    # A swimmer is read with what holds today: what was judged of the swimmer is counted as older.
    for deed, row in (("INSERT", "NEW"), ("UPDATE", "NEW"), ("DELETE", "OLD")):
        cursor.execute(
            f"CREATE TRIGGER IF NOT EXISTS rests_on_consents_{deed.lower()} AFTER {deed} "
            "ON consents BEGIN INSERT INTO rests_on (clip_id, version) SELECT id, 1 FROM clips "
            f"WHERE swimmer_id = {row}.swimmer_id "
            "ON CONFLICT (clip_id) DO UPDATE SET version = version + 1; END"
        )
    cursor.execute("SELECT count(*) FROM pragma_table_info('swimmers') WHERE name = 'leave_by'")
    if not cursor.fetchone()[0]:
        return
    note = "noted before consent had a record of its own"
    for kind, who, day in (
        ("squad", "leave_by", "leave_on"),
        ("sending", "sending_by", "sending_on"),
    ):
        cursor.execute(
            f"INSERT INTO consents (swimmer_id, kind, given_by, guardian, given_on, words) "
            f"SELECT id, '{kind}', {who}, minor, {day}, '{note}' FROM swimmers "
            f"WHERE {who} != '' AND {day} != ''"
        )
    for kind in ("filming", "keeping"):
        cursor.execute(
            "INSERT INTO consents (swimmer_id, kind, given_by, guardian, given_on, words) "
            f"SELECT id, '{kind}', 'the guardian', 1, substr(created_at, 1, 10), '{note}' "
            "FROM swimmers WHERE minor"
        )
    # Rows as they were before can be written back no more.
    cursor.execute("DELETE FROM undo_steps WHERE parts LIKE '%\"swimmers\"%'")
    for column in ("leave_by", "leave_on", "sending_by", "sending_on"):
        cursor.execute(f"ALTER TABLE swimmers DROP COLUMN {column}")


steps = [step(apply)]
