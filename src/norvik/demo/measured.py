"""What the coach of the demo measured, drew and followed on one clip: placed from its truth."""

from __future__ import annotations

import sqlite3
from typing import Any

import numpy as np

from norvik.core.frame.geometry import Point
from norvik.jobs.follow_point import FOLLOW
from norvik.jobs.runner import run_through
from norvik.model.camera import camera_for
from norvik.model.film import Take
from norvik.model.schedule import schedule
from norvik.settings import Settings
from norvik.store import clips, drawings, jobs, references, stills, tracks
from norvik.store.drawings import StoredDrawing

#: Seconds of the clip that are followed, and what.
_FOLLOWED_S = 7.0
_POINTS = ("wrist", "elbow", "shoulder")


def measure_clip(
    settings: Settings, connection: sqlite3.Connection, coach: int, clip_id: int, take: Take,
    truth: dict[str, Any],
) -> None:  # fmt: skip
    """truth: as the film has it beside it. The near arm is the right one in a side view."""
    clip = clips.by_id(connection, clip_id)
    base = clips.time_base(connection, clip)
    joints = truth["joints_px"]

    def at(name: str, frame: int) -> Point:
        x, y = joints[name][frame]
        return Point(round(x, 1), round(y, 1))

    def draw(kind: str, name: str, side: str, frame: int, *points: Point, **more: str) -> None:
        made = StoredDrawing(0, kind, name, side, frame, frame, frame, points, **more)
        drawings.add(connection, clip_id, coach, made)

    surface = camera_for(take.view).project(np.array([[-2.0, 0, 0], [1.2, 0, 0]]))
    ends = [Point(float(x), float(y)) for x, y in surface]
    references.put(connection, clip_id, "water", 0, ends)
    planned = schedule(take.swim, take.seconds).marks(0.0, base.duration_s)
    pressed = [m.time_s for m in planned if m.event == "press" and m.side == "right"]
    for time_s in pressed[:3]:
        frame = base.frame_nearest(time_s)
        arm = [at(f"right_{joint}", frame) for joint in ("shoulder", "elbow", "fingertip")]
        draw("measure", "high-elbow", "right", frame, *arm)
        body = [at(joint, frame) for joint in ("right_shoulder", "right_ankle", "left_ankle")]
        draw("measure", "body-line", "", frame, *body)
    first = base.frame_nearest(
        next(m.time_s for m in planned if m.event == "shoulder" and m.side == "right")
    )
    stills.keep(connection, clip_id, coach, first)
    last = min(clip.last_frame, first + base.frame_nearest(_FOLLOWED_S))
    for point in _POINTS:
        track = tracks.open_track(connection, clip_id, coach, point, "right")
        place = at(f"right_{point}", first)
        tracks.set_anchor(connection, track, first, place.x, place.y)
        args = {"clip_id": clip_id, "track_id": track, "frame": first, "to": last}
        job = jobs.add(connection, FOLLOW, args, None)
        tracks.set_job(connection, track, job)
        run_through(settings, job)
