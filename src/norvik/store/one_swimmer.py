"""One swimmer's rows in a database of their own, and such a database read into another one.

Rows keep their ids in the file; where they are read in they get new ones, and whatever points at
them follows. People of the club they come from do not go along.
"""

from __future__ import annotations

import json
import secrets
import sqlite3
import zlib
from collections.abc import Mapping
from contextlib import closing
from pathlib import Path
from typing import Any

from norvik.store import talks
from norvik.store.connection import connect, migrate, transaction

_CLIPS = "SELECT id FROM main.clips WHERE swimmer_id = ?1"
_OF_CLIPS = f"clip_id IN ({_CLIPS})"
_RECORDINGS = "SELECT recording_id FROM main.clips WHERE swimmer_id = ?1"
_OF_REVIEWS = "review_id IN (SELECT id FROM main.reviews WHERE swimmer_id = ?1)"
_TALKS = f"SELECT id FROM main.talks WHERE {_OF_REVIEWS}"
_OF_TAKES = f"take_id IN (SELECT id FROM main.talk_takes WHERE talk_id IN ({_TALKS}))"
_OF_PLANS = "plan_id IN (SELECT id FROM main.plans WHERE swimmer_id = ?1)"
#: Table: which of its rows are the swimmer's (?1), what others point at first.
ROWS: Mapping[str, str] = {
    "swimmers": "id = ?1",
    "cameras": f"id IN (SELECT camera_id FROM main.recordings WHERE id IN ({_RECORDINGS}))",
    "recordings": f"id IN ({_RECORDINGS})",
    "frame_tables": f"recording_id IN ({_RECORDINGS})",
    "tied_recordings": f"one_id IN ({_RECORDINGS}) AND other_id IN ({_RECORDINGS})",
    "clips": "swimmer_id = ?1",
    **dict.fromkeys(
        ("marks", "sightings", "loops", "stills", "clip_references", "best_rhythms",
         "marked_again", "ticked_again", "readings", "reading_answers", "reading_taken",
         "reading_passed",
         "drawings", "tracks", "remarks"),
        _OF_CLIPS,
    ),
    "drawing_repeats": f"drawing_id IN (SELECT id FROM main.drawings WHERE {_OF_CLIPS})",
    "track_points": f"track_id IN (SELECT id FROM main.tracks WHERE {_OF_CLIPS})",
    "reviews": "swimmer_id = ?1",
    **dict.fromkeys(
        ("review_clips", "focuses", "overrules", "focus_answers", "talk_notes", "talks"),
        _OF_REVIEWS,
    ),
    "review_pairs": f"{_OF_REVIEWS} AND one_clip_id IN ({_CLIPS}) "
    f"AND (other_clip_id IS NULL OR other_clip_id IN ({_CLIPS}))",
    "talk_takes": f"talk_id IN ({_TALKS})",
    **dict.fromkeys(("talk_bits", "talk_chapters", "talk_captions"), _OF_TAKES),
    **dict.fromkeys(("swims", "plans", "pains", "rungs", "consents", "pool_tests"),
                    "swimmer_id = ?1"),
    "swim_lengths": "swim_id IN (SELECT id FROM main.swims WHERE swimmer_id = ?1)",
    **dict.fromkeys(("training", "calendar_entries"), _OF_PLANS),
}  # fmt: skip
#: Columns that name something which does not go along.
_EMPTY = {"tracks": ("job_id",)}
_STAYED = "This film shows other swimmers as well and stayed in the club that it comes from."


def cut_out(connection: sqlite3.Connection, swimmer_id: int, out: Path) -> list[int]:
    """Write a swimmer's rows into a new database file; gives recordings whose film goes along.

    A recording with others on it goes without its film and without its name.
    """
    migrate(out)
    shared = {
        row[0]
        for row in connection.execute(
            f"SELECT id FROM recordings WHERE id IN ({_RECORDINGS}) AND EXISTS (SELECT 1 FROM "
            "clips o WHERE o.recording_id = recordings.id AND o.swimmer_id IS NOT ?1)",
            (swimmer_id,),
        )
    }
    connection.execute("ATTACH DATABASE ? AS away", (str(out),))
    try:
        # References to people and to what stays behind point nowhere until they are emptied.
        connection.execute("PRAGMA foreign_keys = OFF")
        with transaction(connection):
            for table, own in ROWS.items():
                connection.execute(
                    f"INSERT INTO away.{table} SELECT * FROM main.{table} WHERE {own}",
                    (swimmer_id,),
                )
    finally:
        connection.execute("DETACH DATABASE away")
        connection.execute("PRAGMA foreign_keys = ON")
    with closing(connect(out)) as away:
        away.execute("PRAGMA foreign_keys = OFF")
        with transaction(away):
            _forget_people(away)
            for recording_id in shared:
                away.execute(
                    "UPDATE recordings SET original_path = NULL, review_path = NULL, "
                    "state = 'failed', failure = ?, original_name = ? WHERE id = ?",
                    (_STAYED, f"film {recording_id}", recording_id),
                )
            own_clips = {row[0] for row in away.execute("SELECT id FROM clips")}
            others = _clips_on_stage(away) - own_clips
            talks.forget_titles(away, others)
        away.execute("VACUUM")
        away.execute("PRAGMA journal_mode = DELETE")
        rows = away.execute("SELECT id FROM recordings WHERE state = 'ready'")
        return [row[0] for row in rows]


def swimmers_in(source: Path) -> int:
    """How many swimmers a file holds; 0 where it is no whole database."""
    with closing(sqlite3.connect(source)) as away:
        try:
            if away.execute("PRAGMA quick_check").fetchone()[0] != "ok":
                return 0
            return int(away.execute("SELECT count(*) FROM swimmers").fetchone()[0])
        except sqlite3.Error:
            return 0


def _forget_people(away: sqlite3.Connection) -> None:
    for table in ROWS:
        for column, (parent, _) in _references(away, table).items():
            if parent == "users":
                away.execute(f"UPDATE {table} SET {column} = NULL")
        for column in _EMPTY.get(table, ()):
            away.execute(f"UPDATE {table} SET {column} = NULL")
    away.execute("DELETE FROM rests_on WHERE clip_id > 0")


def _clips_on_stage(away: sqlite3.Connection) -> set[int]:
    return {
        clip
        for row in away.execute("SELECT id FROM talks")
        for clip in talks.clips_shown(away, row[0])
    }


def _references(connection: sqlite3.Connection, table: str) -> dict[str, tuple[str, str]]:
    """Column to the table and column that it points at."""
    rows = connection.execute(f"PRAGMA foreign_key_list({table})")
    return {row["from"]: (row["table"], row["to"] or "id") for row in rows}


Ids = dict[str, dict[int, int]]


def read_in(connection: sqlite3.Connection, source: Path) -> Ids:
    """Add all rows of such a database, with new ids. Call inside a transaction.

    Gives old id to new id, by table.
    """
    ids: Ids = {}
    with closing(connect(source)) as away:
        for table in ROWS:
            ids[table] = {}
            points = _references(connection, table)
            own_id = _has_own_id(connection, table)
            for row in away.execute(f"SELECT * FROM {table}").fetchall():
                values = _moved(dict(row), table, points, ids)
                if values is None:
                    continue
                old = values.pop("id") if own_id else None
                if table == "cameras":
                    ids[table][row["id"]] = _camera(connection, values)
                    continue
                new = _insert(connection, table, values)
                if old is not None:
                    ids[table][old] = new
    _follow(connection, ids)
    return ids


def _has_own_id(connection: sqlite3.Connection, table: str) -> bool:
    columns = connection.execute(f"PRAGMA table_info({table})").fetchall()
    return any(c["name"] == "id" and c["pk"] for c in columns)


def _moved(
    values: dict[str, Any], table: str, points: Mapping[str, tuple[str, str]], ids: Ids
) -> dict[str, Any] | None:
    """A row with what it points at under the new ids; None where that did not come along."""
    for column, (parent, _) in points.items():
        if values[column] is None:
            continue
        new = ids.get(parent, {}).get(values[column])
        if new is None and column in _NEEDED.get(table, (column,)):
            return None
        values[column] = new
    if table == "talk_takes":
        values["key"] = f"moved-{secrets.token_hex(12)}"
    return values


#: Where only some references have to be there for a row to make sense.
_NEEDED = {
    "plans": ("swimmer_id",), "swims": ("swimmer_id",), "recordings": (), "remarks": ("clip_id",),
    "focuses": ("review_id",), "review_clips": ("review_id",), "pool_tests": ("swimmer_id",),
}  # fmt: skip


def _insert(connection: sqlite3.Connection, table: str, values: Mapping[str, Any]) -> int:
    names = ", ".join(f'"{name}"' for name in values)
    holes = ", ".join("?" * len(values))
    made = connection.execute(
        f"INSERT INTO {table} ({names}) VALUES ({holes})", tuple(values.values())
    )
    return int(made.lastrowid or 0)


def _camera(connection: sqlite3.Connection, values: Mapping[str, Any]) -> int:
    """The camera of this name, which the club may have already."""
    row = connection.execute("SELECT id FROM cameras WHERE name = ?", (values["name"],)).fetchone()
    return int(row["id"]) if row else _insert(connection, "cameras", values)


def _follow(connection: sqlite3.Connection, ids: Ids) -> None:
    """What names others inside of text: plans their review, talks their takes and clips."""
    for new in ids["plans"].values():
        row = connection.execute("SELECT review_id FROM plans WHERE id = ?", (new,)).fetchone()
        connection.execute(
            "UPDATE plans SET review_id = ? WHERE id = ?",
            (ids["reviews"].get(row["review_id"]), new),
        )
    for new in ids["talks"].values():
        row = connection.execute("SELECT pieces FROM talks WHERE id = ?", (new,)).fetchone()
        pieces = [[ids["talk_takes"][t], a, b] for t, a, b in json.loads(row["pieces"])]
        connection.execute(
            "UPDATE talks SET pieces = ?, before = '[]', gone = '[]' WHERE id = ?",
            (json.dumps(pieces), new),
        )
    for take in ids["talk_takes"].values():
        rows = connection.execute("SELECT n, deeds FROM talk_bits WHERE take_id = ?", (take,))
        for n, packed in rows.fetchall():
            deeds, inks = json.loads(zlib.decompress(packed))
            for film in (f for d in deeds if d[1] == "stage" for f in d[3]):
                if film.get("clip") is not None:
                    # A clip that stayed behind is one that is gone.
                    film["clip"] = ids["clips"].get(film["clip"], 0)
            connection.execute(
                "UPDATE talk_bits SET deeds = ? WHERE take_id = ? AND n = ?",
                (zlib.compress(json.dumps([deeds, inks]).encode()), take, n),
            )
