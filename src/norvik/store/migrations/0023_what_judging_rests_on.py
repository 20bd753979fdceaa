"""Counts every change of what a clip's judgement rests on, so that one can be kept until then.

Row 0 counts what all clips rest on, row -1 tells this database from every other one.
"""

from typing import Any

from yoyo import step

_UP = (
    "INSERT INTO rests_on (clip_id, version) SELECT {clips} "
    "ON CONFLICT (clip_id) DO UPDATE SET version = version + 1"
)
#: Table: which clips a row of it (%s: NEW or OLD) bears on, as a SELECT of (clip_id, 1).
_ONE = "%s.clip_id, 1"
_OF_RECORDING = "id, 1 FROM clips WHERE recording_id = %s.{column}"
_OF_SWIMMER = (
    "id, 1 FROM clips WHERE swimmer_id = (SELECT swimmer_id FROM clips WHERE id = %s.clip_id)"
)
_TABLES = {
    "clips": "%s.id, 1",
    "marks": _ONE, "mark_changes": _ONE, "sightings": _ONE, "drawings": _ONE,
    "clip_references": _ONE, "tracks": _ONE,
    "drawing_repeats": "clip_id, 1 FROM drawings WHERE id = %s.drawing_id",
    "track_points": "clip_id, 1 FROM tracks WHERE id = %s.track_id",
    "remarks": _OF_SWIMMER,
    "recordings": _OF_RECORDING.format(column="id"),
    "frame_tables": _OF_RECORDING.format(column="recording_id"),
    "swimmers": "id, 1 FROM clips WHERE swimmer_id = %s.id",
}  # fmt: skip
#: What every judgement rests on.
_ALL = ("cameras", "club", "jobs", "marked_again", "own_cues", "own_drills", "settings", "users")
#: Of these only some columns matter; the others change all the time.
_COLUMNS = {"jobs": "state"}


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    cursor.execute(
        "CREATE TABLE IF NOT EXISTS rests_on (clip_id INTEGER PRIMARY KEY, "
        "version INTEGER NOT NULL DEFAULT 1) STRICT"
    )
    cursor.execute("INSERT OR IGNORE INTO rests_on VALUES (0, 1), (-1, abs(random() >> 12))")
    bears = {**_TABLES, **dict.fromkeys(_ALL, "0, 1")}
    for table, clips in bears.items():
        for deed, row in (("INSERT", "NEW"), ("UPDATE", "NEW"), ("DELETE", "OLD")):
            of = f" OF {_COLUMNS[table]}" if deed == "UPDATE" and table in _COLUMNS else ""
            rows = [row] if deed != "UPDATE" or "%s" not in clips else ["OLD", "NEW"]
            # SQLite reads ON CONFLICT as part of a SELECT that ends without a condition.
            whole = clips if " WHERE " in clips else f"{clips} WHERE true"
            steps = "; ".join(_UP.format(clips=whole.replace("%s", r)) for r in rows)
            cursor.execute(
                f"CREATE TRIGGER IF NOT EXISTS rests_on_{table}_{deed.lower()} "
                f"AFTER {deed}{of} ON {table} BEGIN {steps}; END"
            )


steps = [step(apply)]
