"""What was seen and said on a clip of the one who swims there: it stays or goes with the person."""

from __future__ import annotations

import sqlite3

#: Marks and measures are not of it: they say what is on the film, whoever swims there.
TABLES = ("sightings", "remarks")


def remove(connection: sqlite3.Connection, clip_id: int) -> None:
    """Take away what was ticked and said on a clip. Call inside a transaction."""
    for table in TABLES:
        connection.execute(f"DELETE FROM {table} WHERE clip_id = ?", (clip_id,))
