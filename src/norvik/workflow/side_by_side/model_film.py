"""The model swimmer filmed for a comparison.

From the clip's view, at its stroke rate and frame rate, swimming well or with one fault. Its file
can be made again at any time.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from norvik.core.frame.geometry import Point
from norvik.core.frame.laid_on import Trunk
from norvik.core.strokes import STROKES
from norvik.core.time.resolve import ResolvedMarks, resolve
from norvik.model.camera import Camera
from norvik.model.dials import DIALS, usual_swim, with_faults
from norvik.model.film import Shot, Take, film
from norvik.workflow.clip_timing import ClipTiming

#: Raised when the model swimmer looks or moves differently: older films are made again.
EDITION = 1
#: Views that the model swimmer is filmed from; from elsewhere it is filmed from the side.
VIEWS = {"side-under", "side-above", "front-under", "overhead"}
NEAREST_VIEW = {"front-above": "front-under"}
#: Frames a second that it is filmed at.
RATES = (30, 60, 120)
#: Cycles that are filmed: a whole one of each arm lies in the middle.
_CYCLES = 3.6
#: Points that are followed on clips, by the model's joint.
JOINTS = {
    "fingertips": "fingertip", "wrist": "wrist", "elbow": "elbow", "knee": "knee",
    "ankle": "ankle", "toes": "toe",
}  # fmt: skip
#: Films that are kept; the one that was not looked at for longest goes first.
KEPT = 40


@dataclass(frozen=True, slots=True)
class ModelWish:
    """fault: of the dials, or empty. cycles_per_min: whole number. fps: of RATES."""

    stroke: str
    view: str
    fault: str
    cycles_per_min: int
    fps: int

    @property
    def key(self) -> str:
        return f"model:{self.fault}" if self.fault else "model"

    @property
    def name(self) -> str:
        """Of its file, without an ending."""
        how = self.fault or "well"
        return f"{self.stroke}-{self.view}-{how}-{self.cycles_per_min}-{self.fps}-{EDITION}"

    def file(self, folder: Path) -> Path:
        return folder / f"{self.name}.mp4"

    def take(self) -> Take:
        swim = replace(usual_swim(self.stroke, self.cycles_per_min), variation=0.0)
        take = Take(swim, seconds=_CYCLES * swim.cycle_s, fps=self.fps, view=self.view)
        return with_faults(take, {self.fault: 1.0}) if self.fault else take


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


def faults_of(stroke: str) -> list[str]:
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


def film_it(folder: Path, wish: ModelWish, painted: Callable[[int, int], None]) -> None:
    """Film the model for a wish, if nobody has yet. painted: told how many frames of how many."""
    out = wish.file(folder)
    if out.is_file():
        return
    folder.mkdir(parents=True, exist_ok=True)
    take = wish.take()
    frames = len(take.frame_times())
    film(take, out, lambda done: painted(done, frames))
    # What lies beside a film serves tests and trials of the model alone.
    for ending in (".events.csv", ".truth.json"):
        out.with_suffix(ending).unlink(missing_ok=True)
    forget_old(folder)


def forget_old(folder: Path) -> None:
    """Delete the films that have not been looked at for longest, so that KEPT are left."""
    oldest_first = sorted(folder.glob("*.mp4"), key=lambda p: p.stat().st_mtime)
    for old in oldest_first[:-KEPT]:
        for path in folder.glob(f"{old.stem}.*"):
            path.unlink(missing_ok=True)
