"""Counters of what a clip's judgement rests on: whoever keeps one looks here whether it is old."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence

#: (file of the database, its own number, what all clips rest on, what this clip rests on). The
#: number alone does not tell a database from a copy of it.
Version = tuple[str, int, int, int]
_DATABASE, _EVERYTHING = -1, 0


def versions(connection: sqlite3.Connection, clip_ids: Sequence[int]) -> dict[int, Version]:
    """The state of what each clip's judgement rests on; it never comes back once it has changed.

    Read it before the judgement is worked out: then what is kept under it can only be newer.
    """
    wanted = json.dumps([_DATABASE, _EVERYTHING, *clip_ids])
    rows = connection.execute(
        "SELECT clip_id, version FROM rests_on WHERE clip_id IN (SELECT value FROM json_each(?))",
        (wanted,),
    )
    found = {row[0]: row[1] for row in rows}
    file = str(connection.execute("PRAGMA database_list").fetchone()["file"])
    base = file, found.get(_DATABASE, 0), found.get(_EVERYTHING, 0)
    return {n: (*base, found.get(n, 0)) for n in clip_ids}
