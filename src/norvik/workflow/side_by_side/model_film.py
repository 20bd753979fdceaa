"""The model swimmer filmed for a comparison.

From the clip's view, at its stroke rate and frame rate, swimming well or with one fault. Its file
can be made again at any time.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from norvik.core.frame.geometry import Point
from norvik.core.frame.laid_on import Trunk
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import StrokeName
from norvik.core.time.resolve import ResolvedMarks, resolve
from norvik.model.camera import Camera
from norvik.model.dials import DIALS, usual_swim
from norvik.model.film import Shot
from norvik.model.wish import ModelWish
from norvik.workflow.clip_timing import ClipTiming

#: Views that the model swimmer is filmed from; from elsewhere it is filmed from the side.
VIEWS = {"side-under", "side-above", "front-under", "overhead"}
NEAREST_VIEW = {"front-above": "front-under"}
#: Frames a second that it is filmed at.
RATES = (30, 60, 120)
#: Points that are followed on clips, by the model's joint.
JOINTS = {
    "fingertips": "fingertip", "wrist": "wrist", "elbow": "elbow", "knee": "knee",
    "ankle": "ankle", "toes": "toe",
}  # fmt: skip


@dataclass(frozen=True)
class ModelSwim:
    """A film of the model swimmer.

    times_s: of every frame. trunks: shoulder and hip on every frame, in its pixels. points: by
    (point, side) as points are followed, where it is on every frame.
    """

    wish: ModelWish
    times_s: np.ndarray[tuple[int], np.dtype[np.float64]]
    resolved: ResolvedMarks
    size: tuple[int, int]
    trunks: tuple[Trunk, ...]
    points: dict[tuple[str, str], tuple[Point, ...]]


def faults_of(stroke: StrokeName) -> list[str]:
    """Faults that the model swimmer can show in a stroke."""
    return [fault for fault, dial in DIALS.items() if dial.stroke == stroke]


def wish_for(timed: ClipTiming, fault: str) -> ModelWish:
    """How the model is filmed beside a clip. A rate that is not marked yet is the usual one."""
    clip = timed.clip
    view = clip.view if clip.view in VIEWS else NEAREST_VIEW.get(clip.view, "side-under")
    cycle_s = timed.timing.resolved.mean_cycle_s or usual_swim(clip.stroke).cycle_s
    per_min = min(80, max(15, round(60 / cycle_s)))
    interval = timed.time_base.interval_within(clip.first_frame, clip.last_frame) or 1 / 60
    fps = next((r for r in reversed(RATES) if r <= 1.05 / interval), RATES[0])
    return ModelWish(clip.stroke, view, fault if fault in faults_of(clip.stroke) else "",
                     per_min, fps)  # fmt: skip


@lru_cache(maxsize=16)
def swim_of(wish: ModelWish) -> ModelSwim:
    """All of the model's film but its pictures: worked out, not read from them."""
    shot = Shot(wish.take())
    marks = shot.plan.marks(0.0, float(shot.times[-1]))
    camera = shot.camera
    trunks = []
    points: dict[tuple[str, str], list[Point]] = {
        (name, side): [] for name in JOINTS for side in ("left", "right")
    }
    for n in range(len(shot.times)):
        moved = float(shot.travelled[n])
        # The middle of both sides: from the side one shoulder hides the other.
        shoulder, hip = (
            (shot.joints[f"left_{j}"][n] + shot.joints[f"right_{j}"][n]) / 2
            for j in ("shoulder", "hip")
        )
        trunks.append(Trunk(_seen(camera, shoulder, moved), _seen(camera, hip, moved)))
        for (name, side), places in points.items():
            places.append(_seen(camera, shot.joints[f"{side}_{JOINTS[name]}"][n], moved))
    resolved = resolve(marks, STROKES[wish.stroke])
    size = camera.width_px, camera.height_px
    return ModelSwim(
        wish, shot.times, resolved, size, tuple(trunks),
        {which: tuple(places) for which, places in points.items()},
    )  # fmt: skip


def _seen(camera: Camera, place: NDArray[np.float64], moved_m: float) -> Point:
    x, y = camera.project(place, moved_m)
    return Point(float(x), float(y))
