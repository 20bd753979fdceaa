"""What the coach saw and ticked: faults and strengths with side, degree and frame."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.judging.judged import Degree
from norvik.core.strokes.names import Side

DEGREES: tuple[Degree, ...] = ("slight", "clear")


@dataclass(frozen=True, slots=True)
class Sighting:
    what: str
    side: Side
    degree: Degree
    frame: int | None


def of_clip(connection: sqlite3.Connection, clip_id: int) -> list[Sighting]:
    rows = connection.execute(
        "SELECT what, side, degree, frame FROM sightings WHERE clip_id = ? ORDER BY id", (clip_id,)
    )
    return [Sighting(**row) for row in rows]


def put(connection: sqlite3.Connection, clip_id: int, seen: Sighting) -> None:
    """Tick, or change the degree and frame of what is ticked already."""
    connection.execute(
        "INSERT INTO sightings (clip_id, what, side, degree, frame) VALUES (?, ?, ?, ?, ?) "
        "ON CONFLICT (clip_id, what, side) "
        "DO UPDATE SET degree = excluded.degree, frame = excluded.frame",
        (clip_id, seen.what, seen.side, seen.degree, seen.frame),
    )


def remove(connection: sqlite3.Connection, clip_id: int, what: str, side: Side) -> None:
    connection.execute(
        "DELETE FROM sightings WHERE clip_id = ? AND what = ? AND side = ?", (clip_id, what, side)
    )


def counts(connection: sqlite3.Connection, clip_ids: Sequence[int]) -> dict[int, int]:
    """How many ticks there are on each of these clips; those without are left out."""
    rows = connection.execute(
        "SELECT clip_id, count(*) FROM sightings "
        "WHERE clip_id IN (SELECT value FROM json_each(?)) GROUP BY clip_id",
        (json.dumps(list(clip_ids)),),
    )
    return dict(rows.fetchall())
