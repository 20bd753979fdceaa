"""A film that is compared: a clip, or the model swimmer filmed for it. Both answer alike."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from norvik.core.strokes.names import Side, StrokeName
from norvik.core.time.in_step import CycleEvents, cycles_of_arm
from norvik.core.time.resolve import ResolvedMarks
from norvik.model.wish import ModelWish
from norvik.store.clips import Clip
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.side_by_side.model_film import ModelSwim, swim_of


@dataclass(frozen=True)
class Film:
    """key: in addresses. real_s: seconds of every frame of its file. first, last: its frames there.

    timed: of a clip; model: of the model swimmer, one of whose cycles stands for all.
    """

    key: str
    stroke: StrokeName
    view: str
    real_s: np.ndarray[tuple[int], np.dtype[np.float64]]
    first: int
    last: int
    resolved: ResolvedMarks
    timed: ClipTiming | None = None
    model: ModelSwim | None = None

    @property
    def clip(self) -> Clip | None:
        return self.timed.clip if self.timed else None

    @property
    def from_s(self) -> float:
        return float(self.real_s[self.first])

    def clamped(self, frame: int) -> int:
        return min(max(frame, self.first), self.last)

    def time_of(self, frame: int) -> float:
        return float(self.real_s[self.clamped(frame)])

    def frame_of(self, time_s: float) -> int:
        """The nearest frame of its own, by real time."""
        return int(self.frames_of(np.array([time_s]))[0])

    def frames_of(
        self, times_s: np.ndarray[tuple[int], np.dtype[np.float64]]
    ) -> np.ndarray[tuple[int], np.dtype[np.int64]]:
        real = self.real_s
        if len(real) < 2:
            return np.full(len(times_s), self.first, np.int64)
        after = np.clip(np.searchsorted(real, times_s), 1, len(real) - 1)
        nearest = np.where(times_s - real[after - 1] <= real[after] - times_s, after - 1, after)
        return np.clip(nearest, self.first, self.last).astype(np.int64)

    def interval_at(self, frame: int) -> float:
        """Real seconds from this frame to its neighbour; 0 in a film of one frame."""
        if len(self.real_s) < 2:
            return 0.0
        n = min(max(frame, 0), len(self.real_s) - 2)
        return float(self.real_s[n + 1] - self.real_s[n])

    def side(self, wanted: str) -> Side:
        """The arm that is meant: the one asked for where the stroke has it, else the last one."""
        arms = self.resolved.stroke.arms
        return next((arm for arm in arms if arm == wanted), arms[-1])

    def cycles(self, side: str) -> tuple[CycleEvents, ...]:
        """Whole cycles of an arm. The model swimmer has one, from the middle of its film."""
        found = cycles_of_arm(self.resolved, self.side(side))
        if self.model is not None:
            return tuple(found[len(found) // 2 :][:1])
        return tuple(found)

    def instants(self, event: str, side: str) -> list[float]:
        """Every instant of an event of an arm, in time order; the end of the last cycle is one."""
        arm = self.side(side)
        if event == self.resolved.stroke.arm_events[0]:
            ends = {c.end_s for c in self.cycles(arm)}
            return sorted({p.time_s for p in self.resolved.openings(arm)} | ends)
        return [p.time_s for p in self.resolved.marks_of(event, arm)]


def film_of_clip(timed: ClipTiming) -> Film:
    clip = timed.clip
    return Film(
        str(clip.id), clip.stroke, clip.view, timed.time_base.real_s, clip.first_frame,
        clip.last_frame, timed.timing.resolved, timed,
    )  # fmt: skip


def film_of_model(wish: ModelWish) -> Film:
    swim = swim_of(wish)
    return Film(
        wish.key, wish.stroke, wish.view, swim.times_s, 0, len(swim.times_s) - 1, swim.resolved,
        model=swim,
    )  # fmt: skip
