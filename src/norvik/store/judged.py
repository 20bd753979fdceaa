"""All that was judged and written of one swimmer on a clip, as one thing that stays or goes."""

from __future__ import annotations

import sqlite3

#: Marks and measures are not of it: they say what is on the film, whoever swims there.
TABLES = ("sightings", "focuses", "overrules", "reviews", "focus_answers")


def answers(connection: sqlite3.Connection, clip_id: int) -> int:
    """How many answers about points in training a clip gave."""
    row = connection.execute("SELECT count(*) FROM focus_answers WHERE clip_id = ?", (clip_id,))
    return int(row.fetchone()[0])


def remove(connection: sqlite3.Connection, clip_id: int) -> None:
    """Take away what was judged and written on a clip. Call inside a transaction."""
    for table in TABLES:
        connection.execute(f"DELETE FROM {table} WHERE clip_id = ?", (clip_id,))
