"""Events that were marked again, blind."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.strokes.names import Lane, Side


@dataclass(frozen=True, slots=True)
class MarkedAgain:
    """One event, marked twice.

    own: the same person placed the first mark. later_s: real seconds from the first mark to the
    second, negative where the second is earlier. interval_s: real seconds between frames.
    """

    clip_id: int
    person: str
    own: bool
    lane: Lane
    side: Side
    event: str
    first_frame: int
    again_frame: int
    later_s: float
    interval_s: float


_COLUMNS = "clip_id, person, own, lane, side, event, first_frame, again_frame, later_s, interval_s"


def add(connection: sqlite3.Connection, made: MarkedAgain) -> None:
    connection.execute(
        f"INSERT INTO marked_again ({_COLUMNS}) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (made.clip_id, made.person, int(made.own), made.lane, made.side, made.event,
         made.first_frame, made.again_frame, made.later_s, made.interval_s),
    )  # fmt: skip


def every(connection: sqlite3.Connection) -> list[MarkedAgain]:
    return _read(connection.execute(f"SELECT {_COLUMNS} FROM marked_again ORDER BY id"))


def of_clip(connection: sqlite3.Connection, clip_id: int) -> list[MarkedAgain]:
    return _read(
        connection.execute(
            f"SELECT {_COLUMNS} FROM marked_again WHERE clip_id = ? ORDER BY id", (clip_id,)
        )
    )


def remove(connection: sqlite3.Connection, clip_id: int, person: str) -> None:
    """What one person marked again in a clip."""
    connection.execute(
        "DELETE FROM marked_again WHERE clip_id = ? AND person = ?", (clip_id, person)
    )


def _read(rows: sqlite3.Cursor) -> list[MarkedAgain]:
    return [MarkedAgain(**{**dict(row), "own": bool(row["own"])}) for row in rows]
