"""What a clip's frames are measured against, and the settings of measuring."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence

from norvik.core.frame.geometry import Point
from norvik.core.frame.references import References
from norvik.core.frame.uncertainty import CLICK_ERROR_PX
from norvik.store import cameras

KINDS = ("horizontal", "vertical", "water", "scale", "plane")


def put(
    connection: sqlite3.Connection,
    clip_id: int,
    kind: str,
    frame: int,
    points: Sequence[Point],
    width_m: float | None = None,
    height_m: float | None = None,
    in_air: bool = False,
) -> None:
    """Set one reference; a horizontal and a vertical replace each other, as do scale and plane."""
    other = {"horizontal": "vertical", "vertical": "horizontal", "scale": "plane", "plane": "scale"}
    connection.execute(
        "DELETE FROM clip_references WHERE clip_id = ? AND kind = ?", (clip_id, other.get(kind))
    )
    connection.execute(
        "INSERT INTO clip_references (clip_id, kind, frame, points, width_m, height_m, in_air) "
        "VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT (clip_id, kind) DO UPDATE SET "
        "frame = excluded.frame, points = excluded.points, width_m = excluded.width_m, "
        "height_m = excluded.height_m, in_air = excluded.in_air",
        (clip_id, kind, frame, json.dumps(points), width_m, height_m, int(in_air)),
    )


def remove(connection: sqlite3.Connection, clip_id: int, kind: str) -> None:
    connection.execute(
        "DELETE FROM clip_references WHERE clip_id = ? AND kind = ?", (clip_id, kind)
    )


def of_clip(connection: sqlite3.Connection, clip_id: int) -> References:
    found = {
        row["kind"]: row
        for row in connection.execute("SELECT * FROM clip_references WHERE clip_id = ?", (clip_id,))
    }

    def points(kind: str) -> tuple[Point, ...]:
        return tuple(Point(*p) for p in json.loads(found[kind]["points"])) if kind in found else ()

    metric = found.get("plane") or found.get("scale")
    plane = found.get("plane")
    return References(
        level=points("horizontal") or points("vertical"),
        level_plumb="vertical" in found,
        water=points("water"),
        scale=points("scale"),
        scale_m=found["scale"]["width_m"] if "scale" in found else 0.0,
        plane=points("plane"),
        plane_m=(plane["width_m"], plane["height_m"]) if plane else (0.0, 0.0),
        in_air=bool(metric["in_air"]) if metric else False,
        lens=cameras.lens_of_clip(connection, clip_id),
    )


def click_error(connection: sqlite3.Connection) -> float:
    """Standard error of a click, pixels of the source; the default until it is set."""
    row = connection.execute("SELECT value FROM settings WHERE name = 'click-error'").fetchone()
    return float(row["value"]) if row else CLICK_ERROR_PX


def set_click_error(connection: sqlite3.Connection, pixels: float) -> None:
    connection.execute(
        "INSERT INTO settings (name, value) VALUES ('click-error', ?) "
        "ON CONFLICT (name) DO UPDATE SET value = excluded.value",
        (str(pixels),),
    )
