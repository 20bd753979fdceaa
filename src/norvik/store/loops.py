"""Loops that were kept by name: a stretch of a clip that is worth seeing again."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.errors import MarkError


@dataclass(frozen=True, slots=True)
class Loop:
    id: int
    name: str
    from_frame: int
    to_frame: int


def of_clip(connection: sqlite3.Connection, clip_id: int) -> list[Loop]:
    rows = connection.execute(
        "SELECT id, name, from_frame, to_frame FROM loops WHERE clip_id = ? "
        "ORDER BY from_frame, id",
        (clip_id,),
    )
    return [Loop(*row) for row in rows]


def keep(
    connection: sqlite3.Connection, clip_id: int, name: str, from_frame: int, to_frame: int
) -> None:
    """Keep a loop; one of the same name is replaced. Raises MarkError."""
    name = " ".join(name.split())[:60]
    if not name:
        raise MarkError("Give the loop a name.")
    if to_frame <= from_frame:
        raise MarkError("A loop has to end after it begins. Set both ends first.")
    connection.execute(
        "INSERT INTO loops (clip_id, name, from_frame, to_frame) VALUES (?, ?, ?, ?) "
        "ON CONFLICT (clip_id, name) DO UPDATE SET from_frame = excluded.from_frame, "
        "to_frame = excluded.to_frame",
        (clip_id, name, from_frame, to_frame),
    )


def delete(connection: sqlite3.Connection, clip_id: int, loop_id: int) -> None:
    connection.execute("DELETE FROM loops WHERE clip_id = ? AND id = ?", (clip_id, loop_id))
