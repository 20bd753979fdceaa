"""What the coach of the demo measured, drew and followed on one clip: placed from its truth."""

from __future__ import annotations

import math
import sqlite3
from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import Any

import numpy as np

from norvik.core.frame.geometry import Point
from norvik.core.strokes.names import Side
from norvik.jobs.runner import run_through
from norvik.model.camera import camera_for
from norvik.model.film import Take
from norvik.model.schedule import schedule
from norvik.settings import Settings
from norvik.store import clips, drawings, jobs, references, stills, tracks
from norvik.store.drawings import StoredDrawing
from norvik.work_names import FOLLOW

#: Where a joint lies on a frame.
At = Callable[[str, int], Point]
#: Joints that are clicked for each measure, and the arm's event at which it is taken.
_MEASURES = {
    "high-elbow": ("press", ("right_shoulder", "right_elbow", "right_fingertip")),
    "body-line": ("press", ("right_shoulder", "right_ankle", "left_ankle")),
    "body-roll": ("shoulder", ("left_shoulder", "right_shoulder")),
}
_SIDED: dict[str, Side] = {"high-elbow": "right", "body-line": "", "body-roll": "right"}
_TAKINGS = 3
#: Seconds of the clip that are followed, and what.
_FOLLOWED_S = 7.0
_POINTS = ("wrist", "elbow", "shoulder")


def _joints(measure: str, at: At, frame: int) -> list[Point]:
    return [at(joint, frame) for joint in _MEASURES[measure][1]]


def measure_alone(
    connection: sqlite3.Connection, coach: int, clip_id: int, take: Take, truth: dict[str, Any],
    measures: Sequence[str],
) -> None:  # fmt: skip
    """Some measures on three frames each, placed from the film's truth."""
    base = clips.time_base(connection, clips.by_id(connection, clip_id))
    planned = schedule(take.swim, take.seconds).marks(0.0, base.duration_s)
    for measure in measures:
        event, joints = _MEASURES[measure]
        times = [m.time_s for m in planned if m.event == event and m.side == "right"]
        frames = [base.frame_nearest(time_s) for time_s in times]
        if measure == "body-roll":
            frames = _largest_rolls(truth, frames)
        for frame in frames[:_TAKINGS]:
            points = tuple(_place(truth["joints_px"][j][frame]) for j in joints)
            made = StoredDrawing(
                0, "measure", measure, _SIDED[measure], frame, frame, frame, points
            )
            drawings.add(connection, clip_id, coach, made)


def _largest_rolls(truth: dict[str, Any], frames: Sequence[int]) -> list[int]:
    """The frame of each cycle, from one of these frames to the next, with the largest roll."""
    left, right = (truth["joints_px"][f"{side}_shoulder"] for side in ("left", "right"))

    def roll(frame: int) -> float:
        (lx, ly), (rx, ry) = left[frame], right[frame]
        return math.atan2(abs(ly - ry), abs(lx - rx))

    return [max(range(a, b), key=roll) for a, b in pairwise(frames) if b > a]


def _place(xy: Sequence[float]) -> Point:
    return Point(round(xy[0], 1), round(xy[1], 1))


def measure_clip(
    settings: Settings, connection: sqlite3.Connection, coach: int, clip_id: int, take: Take,
    truth: dict[str, Any],
) -> None:  # fmt: skip
    """truth: as the film has it beside it. The near arm is the right one in a side view."""
    clip = clips.by_id(connection, clip_id)
    base = clips.time_base(connection, clip)
    joints = truth["joints_px"]

    def at(name: str, frame: int) -> Point:
        return _place(joints[name][frame])

    def draw(kind: str, name: str, side: Side, frame: int, *points: Point, **more: str) -> None:
        made = StoredDrawing(0, kind, name, side, frame, frame, frame, points, **more)
        drawings.add(connection, clip_id, coach, made)

    surface = camera_for(take.view).project(np.array([[-2.0, 0, 0], [1.2, 0, 0]]))
    ends = [Point(float(x), float(y)) for x, y in surface]
    references.put(connection, clip_id, "water", 0, ends)
    planned = schedule(take.swim, take.seconds).marks(0.0, base.duration_s)
    pressed = [m.time_s for m in planned if m.event == "press" and m.side == "right"]
    frames = [base.frame_nearest(time_s) for time_s in pressed[:3]]
    for frame in frames:
        draw("measure", "high-elbow", "right", frame, *_joints("high-elbow", at, frame))
        draw("measure", "body-line", "", frame, *_joints("body-line", at, frame))
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
