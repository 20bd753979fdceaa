"""From frames to real seconds, and what marking on a frame costs in certainty.

Media time is the timestamp in the file; real time is what happened in the pool.
real = media / stretch: footage recorded at 240 frames/s and stored at 30 has stretch 8.
A file with ramps (normal, slow, normal) has a list of stretches, each from one frame on.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from norvik.core.errors import TimeBaseError

#: Least and most slow-motion factor that is believed.
FACTOR_RANGE = (0.05, 100.0)


def mark_uncertainty_s(frame_interval_s: float) -> float:
    """Standard uncertainty in seconds of one event marked on a frame.

    The true instant lies anywhere within one frame interval: a rectangular distribution.
    Source: JCGM 100:2008 (GUM), 4.3.7.
    """
    return frame_interval_s / math.sqrt(12)


def interval_uncertainty_s(frame_interval_s: float) -> float:
    """Standard uncertainty in seconds of the time between two events marked on frames."""
    return frame_interval_s / math.sqrt(6)


@dataclass(frozen=True, slots=True)
class Stretch:
    """From from_frame on the file plays `factor` times slower than it happened."""

    from_frame: int
    factor: float


#: A file that plays as it happened.
AS_IT_HAPPENED = (Stretch(0, 1.0),)


def checked_stretches(stretches: Iterable[Stretch]) -> tuple[Stretch, ...]:
    """Stretches in order, neighbours of one factor joined. Raises TimeBaseError.

    The first begins at frame 0, no two begin at one frame, factors lie within FACTOR_RANGE.
    """
    ordered = sorted(stretches, key=lambda s: s.from_frame)
    if not ordered or ordered[0].from_frame != 0:
        raise TimeBaseError("The first slow-motion factor has to begin at the first frame.")
    joined: list[Stretch] = []
    for stretch in ordered:
        if not FACTOR_RANGE[0] <= stretch.factor <= FACTOR_RANGE[1]:
            raise TimeBaseError(
                f"The slow-motion factor must lie between {FACTOR_RANGE[0]} and "
                f"{FACTOR_RANGE[1]:g}."
            )
        if joined and joined[-1].from_frame == stretch.from_frame:
            raise TimeBaseError(
                f"Two slow-motion factors begin at frame {stretch.from_frame}. Keep one of them."
            )
        if not joined or joined[-1].factor != stretch.factor:
            joined.append(stretch)
    return tuple(joined)


@dataclass(frozen=True)
class TimeBase:
    """Every frame's own timestamp.

    media_s: shape (n,), seconds, strictly growing, first at 0. stretches: see Stretch; those that
    begin beyond the last frame are without effect.
    Raises TimeBaseError where these do not hold: a wrong time base makes every number wrong,
    so it is refused and never repaired.
    """

    media_s: NDArray[np.float64]
    stretches: tuple[Stretch, ...] = AS_IT_HAPPENED

    def __post_init__(self) -> None:
        if self.media_s.ndim != 1 or self.media_s.size == 0:
            raise TimeBaseError("The clip has no frame times. Add it again.")
        if not np.all(np.isfinite(self.media_s)) or np.any(np.diff(self.media_s) <= 0):
            raise TimeBaseError(
                "The frame times of this clip do not grow from frame to frame. Add it again."
            )
        object.__setattr__(self, "stretches", checked_stretches(self.stretches))

    @property
    def frames(self) -> int:
        return int(self.media_s.size)

    @property
    def ramps(self) -> bool:
        """True when the slow-motion factor changes within the clip."""
        return len(self.stretches) > 1

    @cached_property
    def factors(self) -> NDArray[np.float64]:
        """The slow-motion factor from each frame to the next, shape (n,)."""
        begins = np.array([s.from_frame for s in self.stretches])
        which = np.searchsorted(begins, np.arange(self.frames), side="right") - 1
        return np.array([s.factor for s in self.stretches])[which]

    @cached_property
    def real_s(self) -> NDArray[np.float64]:
        """Real seconds of every frame since the first, shape (n,)."""
        if not self.ramps:
            return (self.media_s - self.media_s[0]) / self.stretches[0].factor
        steps = np.diff(self.media_s) / self.factors[:-1]
        return np.concatenate(([0.0], np.cumsum(steps)))

    @cached_property
    def _seconds(self) -> list[float]:
        return self.real_s.tolist()

    @cached_property
    def frame_interval_s(self) -> float | None:
        """Median real time between frames in seconds; None for a single frame."""
        return self.interval_within(0, self.frames - 1)

    def interval_within(self, first: int, last: int) -> float | None:
        """Median real time between the frames first..last; None when there is only one."""
        part = self.real_s[first : last + 1]
        return float(np.median(np.diff(part))) if part.size > 1 else None

    def interval_at(self, frames: Sequence[int]) -> float | None:
        """Real time between frames that holds for marks on these frames, in seconds.

        Without ramps the median of the clip. With ramps the longest of the local intervals, so
        that no plus-minus is given too small.
        """
        if not self.ramps or not frames or self.frames < 2:
            return self.frame_interval_s
        at = np.clip(np.asarray(frames), 0, self.frames - 2)
        return float(np.max(np.diff(self.real_s)[at]))

    @property
    def duration_s(self) -> float:
        """Real seconds from the first frame to the end of the last."""
        return float(self.real_s[-1]) + (self.frame_interval_s or 0.0)

    def time_of(self, frame: int) -> float:
        """Real seconds of a frame. Raises TimeBaseError outside the clip."""
        if not 0 <= frame < len(self._seconds):
            raise TimeBaseError(
                f"Frame {frame} is not in this clip, which runs from 0 to {self.frames - 1}."
            )
        return self._seconds[frame]

    def times_of(self, frames: Sequence[int]) -> list[float]:
        """Real seconds of frames. Raises TimeBaseError when one lies outside the clip."""
        for end in (min(frames, default=0), max(frames, default=0)):
            self.time_of(end)
        seconds = self._seconds
        return [seconds[frame] for frame in frames]

    def frame_nearest(self, time_s: float) -> int:
        """The frame whose real time lies nearest to time_s, clamped to the clip."""
        after = int(np.searchsorted(self.real_s, time_s))
        if after <= 0:
            return 0
        if after >= self.frames:
            return self.frames - 1
        before_is_nearer = time_s - self.real_s[after - 1] <= self.real_s[after] - time_s
        return after - 1 if before_is_nearer else after
