"""Checking a camera's lens with lines that are straight in the pool."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import replace

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point
from norvik.core.frame.lens import Lens, Straightness, check_lines
from norvik.store import cameras, references
from norvik.store.cameras import Camera
from norvik.store.clips import Clip

#: Own choice: more lines make it no surer.
_MOST_LINES = 12


def camera_of(connection: sqlite3.Connection, clip: Clip) -> Camera:
    """The camera of a clip; one of its own where nobody has said which it was."""
    found = cameras.of_recording(connection, clip.recording.id)
    if found is None:
        made = cameras.add(connection, f"Camera {len(cameras.every(connection)) + 1}")
        cameras.film_with(connection, clip.recording.id, made)
        found = cameras.by_id(connection, made)
    return found


def add_line(connection: sqlite3.Connection, clip: Clip, points: Sequence[Point]) -> Straightness:
    """Check the lens with one more line, and keep what is found for the camera's next clips."""
    lens = cameras.lens_of_clip(connection, clip.id)
    if lens is None:
        raise MeasureError("The film can't be seen yet. Check its lens when it is ready.")
    camera = camera_of(connection, clip)
    lines = (*camera.lines, cameras.line_of(points, lens))[-_MOST_LINES:]
    own = camera.lens(lens.width, lens.height)
    found = check_lines(cameras.points_of(lines, lens), own, references.click_error(connection))
    cameras.set_lens(connection, camera.id, lines, found.lens.k, found.lens.u_k)
    return found


def straightness(connection: sqlite3.Connection, camera: Camera, lens: Lens) -> Straightness | None:
    """What the camera's lines say, in the pixels of a clip; None without any."""
    if not camera.lines:
        return None
    own = replace(lens, housing=camera.housing, view_deg=camera.view_deg)
    return check_lines(
        cameras.points_of(camera.lines, lens), own, references.click_error(connection)
    )


def set_housing(
    connection: sqlite3.Connection, clip: Clip, camera: Camera, housing: str, view_deg: float
) -> None:
    """Say what the camera was in; the lens is found anew from its lines."""
    if housing not in ("none", "flat", "dome"):
        raise MeasureError("A camera is in no housing, behind a flat port or behind a dome.")
    if not 10 <= view_deg <= 170:
        raise MeasureError("The angle of view lies between 10 and 170 degrees.")
    kind = "flat" if housing == "flat" else "dome" if housing == "dome" else "none"
    cameras.set_housing(connection, camera.id, kind, view_deg)  # type: ignore[arg-type]
    lens = cameras.lens_of_clip(connection, clip.id)
    changed = cameras.by_id(connection, camera.id)
    found = straightness(connection, changed, lens) if lens else None
    if found is not None:
        cameras.set_lens(connection, camera.id, camera.lines, found.lens.k, found.lens.u_k)


def forget_lines(connection: sqlite3.Connection, camera: Camera) -> None:
    """The lens counts as straight again, and unchecked."""
    cameras.set_lens(connection, camera.id, (), 0.0, 0.0)
