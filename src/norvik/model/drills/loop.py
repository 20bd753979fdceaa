"""A drill drawn: all frames of its loop, and the four instants that tell most of it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.body import Build, Pose
from norvik.model.drills import MOTIONS
from norvik.model.drills.kit import around, worn
from norvik.model.drills.motion import Motion
from norvik.model.drills.posed import pose_of
from norvik.model.outline import Eye, Shape, axes, shapes
from norvik.model.stance import EYES

#: Frames a second of a loop, and at most so many.
_FPS, _MOST = 12, 48
#: Room about the body, drawing units, and how wide the picture is for its height.
_ROOM, _WIDE = 14.0, 1.6


@dataclass(frozen=True, slots=True)
class DrillLoop:
    """What a drill looks like.

    frames: shapes of each, far ones first. around: shapes that stand still behind them. box: left,
    top, width, height. surface_y: the water line or None. water: whether there is any. seconds: of
    the loop. instants: numbers of the four frames that differ most, in order of time.
    """

    frames: tuple[tuple[Shape, ...], ...]
    around: tuple[Shape, ...]
    box: tuple[float, float, float, float]
    surface_y: float | None
    water: bool
    seconds: float
    instants: tuple[int, ...]


@lru_cache(maxsize=32)
def drill_loop(drill: str) -> DrillLoop | None:
    """The loop of a drill of the catalogue; None for one that has no motion, such as a coach's."""
    motion = MOTIONS.get(drill)
    if motion is None:
        return None
    build = Build()
    count = min(_MOST, max(8, round(motion.seconds * _FPS)))
    times = np.arange(count) * motion.seconds / count
    pose = pose_of(motion, build, times)
    eye = Eye(*axes(*EYES[motion.view]))
    frames = tuple(
        tuple(shapes(pose, n, eye, build.height_m, worn(motion.kit, pose, n))) for n in range(count)
    )
    standing = around(motion.around, pose)
    box = _box(frames)
    behind = (eye.shape(s.points, [s.radius_m] * len(s.points), s.tone) for s in standing)
    kept = tuple(inside for shape in behind if (inside := _clipped(shape, box)) is not None)
    water = not on_land(motion)
    return DrillLoop(
        frames, kept, box, 0.0 if water and EYES[motion.view][1] == 0 else None, water,
        motion.seconds, _instants(pose),
    )  # fmt: skip


def on_land(motion: Motion) -> bool:
    """Whether a drill is done out of the water."""
    return "ground" in motion.around


def _box(frames: tuple[tuple[Shape, ...], ...]) -> tuple[float, float, float, float]:
    """Room for the body in every frame, and for the water line above a body that is deep."""
    points = np.array([p for frame in frames for shape in frame for p in shape.points])
    (left, top), (right, bottom) = points.min(axis=0) - _ROOM, points.max(axis=0) + _ROOM
    width, height = right - left, bottom - top
    if width < _WIDE * height:
        left, width = left - (_WIDE * height - width) / 2, _WIDE * height
    else:
        top, height = top - (width / _WIDE - height) / 2, width / _WIDE
    return tuple(round(float(v), 1) for v in (left, top, width, height))  # type: ignore[return-value]


def _clipped(shape: Shape, box: tuple[float, float, float, float]) -> Shape | None:
    """The part of a convex shape that lies in the picture."""
    left, top, width, height = box
    frame = [(left, top), (left + width, top), (left + width, top + height), (left, top + height)]
    area, inside = cv2.intersectConvexConvex(
        np.array(shape.points, np.float32), np.array(frame, np.float32)
    )
    if area <= 0 or inside is None:
        return None
    points = inside.reshape(-1, 2).round(1).tolist()
    return Shape(tuple((float(x), float(y)) for x, y in points), shape.tone)


def _instants(pose: Pose, count: int = 4) -> tuple[int, ...]:
    """The first frame and those that lie farthest from all that were taken before."""
    joints: NDArray[np.float64] = np.concatenate(
        [points for name, points in pose.items() if name != "face"], axis=1
    )
    taken = [0]
    while len(taken) < count:
        apart = np.min([np.linalg.norm(joints - joints[n], axis=1) for n in taken], axis=0)
        taken.append(int(np.argmax(apart)))
    return tuple(sorted(taken))
