"""Cameras of the club, each kept for its next clips."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.errors import NotFoundError
from norvik.core.frame.geometry import Point
from norvik.core.frame.lens import Housing, Lens

#: A line that is straight in the pool: points in halves of the picture's longer side, from its
#: middle, so that they hold for films of any size.
Line = tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True)
class Camera:
    """lines: what its lens was checked with."""

    id: int
    name: str
    housing: Housing
    view_deg: float
    lines: tuple[Line, ...]
    k: float
    u_k: float

    def lens(self, width: int, height: int) -> Lens:
        """Its lens for a picture of this size, upright."""
        return Lens(width, height, self.k, self.u_k, self.housing, self.view_deg)


_COLUMNS = "c.id, c.name, c.housing, c.view_deg, c.lines, c.k, c.u_k"


def every(connection: sqlite3.Connection) -> list[Camera]:
    return [
        _camera(row)
        for row in connection.execute(f"SELECT {_COLUMNS} FROM cameras c ORDER BY c.name")
    ]


def by_id(connection: sqlite3.Connection, camera_id: int) -> Camera:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM cameras c WHERE c.id = ?", (camera_id,)
    ).fetchone()
    if row is None:
        raise NotFoundError("This camera has been removed. Choose another one.")
    return _camera(row)


def of_recording(connection: sqlite3.Connection, recording_id: int) -> Camera | None:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM cameras c JOIN recordings r ON r.camera_id = c.id WHERE r.id = ?",
        (recording_id,),
    ).fetchone()
    return _camera(row) if row else None


def add(connection: sqlite3.Connection, name: str) -> int:
    """Of a name that is taken the camera that has it."""
    connection.execute("INSERT INTO cameras (name) VALUES (?) ON CONFLICT DO NOTHING", (name,))
    row = connection.execute("SELECT id FROM cameras WHERE name = ?", (name,)).fetchone()
    return int(row["id"])


def film_with(connection: sqlite3.Connection, recording_id: int, camera_id: int | None) -> None:
    """Say with which camera a recording was made; None: nobody knows."""
    connection.execute(
        "UPDATE recordings SET camera_id = ? WHERE id = ?", (camera_id, recording_id)
    )


def set_housing(
    connection: sqlite3.Connection, camera_id: int, housing: Housing, view_deg: float
) -> None:
    connection.execute(
        "UPDATE cameras SET housing = ?, view_deg = ? WHERE id = ?", (housing, view_deg, camera_id)
    )


def set_lens(
    connection: sqlite3.Connection, camera_id: int, lines: Sequence[Line], k: float, u_k: float
) -> None:
    connection.execute(
        "UPDATE cameras SET lines = ?, k = ?, u_k = ? WHERE id = ?",
        (json.dumps(lines), k, u_k, camera_id),
    )


def lens_of_clip(connection: sqlite3.Connection, clip_id: int) -> Lens | None:
    """The lens that a clip was filmed through, for its picture at the source's resolution.

    Without a camera that is known a lens that bends nothing; None before the film can be seen.
    """
    row = connection.execute(
        f"SELECT r.width, r.height, r.source_width, r.source_height, {_COLUMNS} FROM clips x "
        "JOIN recordings r ON r.id = x.recording_id LEFT JOIN cameras c ON c.id = r.camera_id "
        "WHERE x.id = ?",
        (clip_id,),
    ).fetchone()
    if row is None or not row["width"] or not row["height"]:
        return None
    longer = max(row["width"], row["height"])
    source = max(row["source_width"] or 0, row["source_height"] or 0) or longer
    width, height = (round(row[side] * source / longer) for side in ("width", "height"))
    return Lens(width, height) if row["id"] is None else _camera(row).lens(width, height)


def points_of(lines: Sequence[Line], lens: Lens) -> list[list[Point]]:
    """The lines in the pixels of a picture."""
    m = lens.middle
    return [[Point(m.x + x * lens.half, m.y + y * lens.half) for x, y in line] for line in lines]


def line_of(points: Sequence[Point], lens: Lens) -> Line:
    """Points of a picture as a line that is kept."""
    m = lens.middle
    return tuple(((p.x - m.x) / lens.half, (p.y - m.y) / lens.half) for p in points)


def _camera(row: sqlite3.Row) -> Camera:
    lines = tuple(tuple((x, y) for x, y in line) for line in json.loads(row["lines"]))
    return Camera(
        row["id"], row["name"], row["housing"], row["view_deg"], lines, row["k"], row["u_k"]
    )
