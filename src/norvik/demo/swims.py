"""The swim by lengths that the demo shows: a steady 400 m that gets slower at the end."""

from __future__ import annotations

import sqlite3
from datetime import date, timedelta

from norvik.core.followup.length_log import Length
from norvik.store import swims

_SECONDS = (20.3, 20.6, 20.8, 20.7, 20.9, 20.9, 21.1, 21.1, 21.2, 21.6, 21.8, 21.8, 21.7, 21.9,
            22.2, 21.4)  # fmt: skip
_STROKES = (18, 18, 19, 19, 19, 19, 19, 20, 20, 20, 20, 20, 20, 20, 21, 20)


def add_swim(connection: sqlite3.Connection, swimmer_id: int, coach: int, pool_m: float) -> None:
    lengths = [
        Length(seconds, strokes, "easy" if n < 4 else "", 3.2 if n else None)
        for n, (seconds, strokes) in enumerate(zip(_SECONDS, _STROKES, strict=True))
    ]
    day = (date.today() - timedelta(days=5)).isoformat()
    swims.add(
        connection, swimmer_id, day, "freestyle", pool_m, 340.2, "even effort", lengths, coach
    )
