"""Measures taken on the frames of a clip: which one, on which frame, at which points."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.errors import NotFoundError
from norvik.core.frame.geometry import Point


@dataclass(frozen=True, slots=True)
class StoredMeasure:
    """points: pixels of the upright picture at the source's resolution."""

    id: int
    frame: int
    measure: str
    side: str
    points: tuple[Point, ...]


_COLUMNS = "id, frame, measure, side, points"


def of_clip(connection: sqlite3.Connection, clip_id: int) -> list[StoredMeasure]:
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM measures WHERE clip_id = ? ORDER BY frame, id", (clip_id,)
    )
    return [_stored(row) for row in rows]


def by_id(connection: sqlite3.Connection, clip_id: int, measure_id: int) -> StoredMeasure:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM measures WHERE clip_id = ? AND id = ?", (clip_id, measure_id)
    ).fetchone()
    if row is None:
        raise NotFoundError("This measure is not there any more.")
    return _stored(row)


def add(
    connection: sqlite3.Connection,
    clip_id: int,
    user_id: int | None,
    frame: int,
    measure: str,
    side: str,
    points: Sequence[Point],
) -> int:
    """Keep a measure. Returns its id."""
    row = connection.execute(
        "INSERT INTO measures (clip_id, frame, measure, side, points, created_by) "
        "VALUES (?, ?, ?, ?, ?, ?) RETURNING id",
        (clip_id, frame, measure, side, json.dumps(points), user_id),
    ).fetchone()
    return int(row["id"])


def move(
    connection: sqlite3.Connection, clip_id: int, measure_id: int, points: Sequence[Point]
) -> None:
    connection.execute(
        "UPDATE measures SET points = ? WHERE clip_id = ? AND id = ?",
        (json.dumps(points), clip_id, measure_id),
    )


def delete(connection: sqlite3.Connection, clip_id: int, measure_id: int) -> None:
    connection.execute("DELETE FROM measures WHERE clip_id = ? AND id = ?", (clip_id, measure_id))


def _stored(row: sqlite3.Row) -> StoredMeasure:
    found_id, frame, measure, side, points = row
    return StoredMeasure(
        found_id, frame, measure, side, tuple(Point(*p) for p in json.loads(points))
    )
