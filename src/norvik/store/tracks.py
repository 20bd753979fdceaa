"""Points that are followed through a clip: where each is on every frame, and how sure it is."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from typing import NamedTuple

from norvik.core.errors import NotFoundError
from norvik.core.strokes.names import Side
from norvik.store.connection import transaction


class TrackPoint(NamedTuple):
    """x, y: source pixels, None where lost. state: "anchor", "followed" or "lost"."""

    frame: int
    x: float | None
    y: float | None
    state: str
    confidence: float


@dataclass(frozen=True, slots=True)
class StoredTrack:
    id: int
    clip_id: int
    point: str
    side: Side
    job_id: int | None

    @property
    def name(self) -> str:
        return f"{self.side} {self.point}".strip()


_COLUMNS = "id, clip_id, point, side, job_id"


def of_clip(connection: sqlite3.Connection, clip_id: int) -> list[StoredTrack]:
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM tracks WHERE clip_id = ? ORDER BY id", (clip_id,)
    )
    return [StoredTrack(*row) for row in rows]


def state_of(connection: sqlite3.Connection, clip_id: int) -> tuple[tuple[object, ...], ...]:
    """What tells whether any followed place of a clip has changed; empty without a track."""
    rows = connection.execute(
        "SELECT t.id, t.point, t.side, count(p.frame), total(p.frame), total(p.x), total(p.y), "
        "total(p.confidence) FROM tracks t LEFT JOIN track_points p ON p.track_id = t.id "
        "WHERE t.clip_id = ? GROUP BY t.id ORDER BY t.id",
        (clip_id,),
    )
    return tuple(tuple(row) for row in rows)


def by_id(connection: sqlite3.Connection, clip_id: int, track_id: int) -> StoredTrack:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM tracks WHERE clip_id = ? AND id = ?", (clip_id, track_id)
    ).fetchone()
    if row is None:
        raise NotFoundError("This track has been deleted.")
    return StoredTrack(*row)


def open_track(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None, point: str, side: Side
) -> int:
    """The id of the track of a point, made when it is missing."""
    row = connection.execute(
        "INSERT INTO tracks (clip_id, point, side, created_by) VALUES (?, ?, ?, ?) "
        "ON CONFLICT (clip_id, point, side) DO UPDATE SET point = excluded.point RETURNING id",
        (clip_id, point, side, user_id),
    ).fetchone()
    return int(row["id"])


def set_job(connection: sqlite3.Connection, track_id: int, job_id: int | None) -> None:
    connection.execute("UPDATE tracks SET job_id = ? WHERE id = ?", (job_id, track_id))


def points_of(connection: sqlite3.Connection, track_id: int) -> list[TrackPoint]:
    rows = connection.execute(
        "SELECT frame, x, y, state, confidence FROM track_points WHERE track_id = ? ORDER BY frame",
        (track_id,),
    )
    return [TrackPoint(*row) for row in rows]


def set_anchor(
    connection: sqlite3.Connection, track_id: int, frame: int, x: float, y: float
) -> None:
    """A place set by hand. Nothing but another one by hand ever moves it."""
    connection.execute(
        "INSERT INTO track_points (track_id, frame, x, y, state, confidence) "
        "VALUES (?, ?, ?, ?, 'anchor', 1) ON CONFLICT (track_id, frame) DO UPDATE SET "
        "x = excluded.x, y = excluded.y, state = 'anchor', confidence = 1",
        (track_id, frame, x, y),
    )


def put_followed(
    connection: sqlite3.Connection, track_id: int, points: Iterable[TrackPoint]
) -> None:
    """Keep followed or lost places; anchors stay."""
    connection.executemany(
        "INSERT INTO track_points (track_id, frame, x, y, state, confidence) "
        "VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (track_id, frame) DO UPDATE SET "
        "x = excluded.x, y = excluded.y, state = excluded.state, "
        "confidence = excluded.confidence WHERE state <> 'anchor'",
        [(track_id, *p) for p in points],
    )


def forget(connection: sqlite3.Connection, track_id: int, first: int, last: int) -> None:
    """Take away what was followed between two frames, both included; anchors stay."""
    connection.execute(
        "DELETE FROM track_points WHERE track_id = ? AND frame BETWEEN ? AND ? "
        "AND state <> 'anchor'",
        (track_id, first, last),
    )


def delete(connection: sqlite3.Connection, track_id: int) -> None:
    connection.execute("DELETE FROM tracks WHERE id = ?", (track_id,))


def replace_points(
    connection: sqlite3.Connection, track_id: int, points: Iterable[TrackPoint]
) -> None:
    """All places of a track, as they come from a file."""
    with transaction(connection):
        connection.execute("DELETE FROM track_points WHERE track_id = ?", (track_id,))
        connection.executemany(
            "INSERT INTO track_points (track_id, frame, x, y, state, confidence) "
            "VALUES (?, ?, ?, ?, ?, ?)",
            [(track_id, *p) for p in points],
        )
