"""From frames to real seconds, and what marking on a frame costs in certainty.

Media time is the timestamp in the file; real time is what happened in the pool.
real = media / stretch: footage recorded at 240 frames/s and stored at 30 has stretch 8.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from norvik.core.errors import TimeBaseError


def mark_uncertainty_s(frame_interval_s: float) -> float:
    """Standard uncertainty in seconds of one event marked on a frame.

    The true instant lies anywhere within one frame interval: a rectangular distribution.
    Source: JCGM 100:2008 (GUM), 4.3.7.
    """
    return frame_interval_s / math.sqrt(12)


def interval_uncertainty_s(frame_interval_s: float) -> float:
    """Standard uncertainty in seconds of the time between two events marked on frames."""
    return frame_interval_s / math.sqrt(6)


@dataclass(frozen=True)
class TimeBase:
    """Every frame's own timestamp.

    media_s: shape (n,), seconds, strictly growing, first at 0. stretch: media over real, above 0.
    Raises TimeBaseError where these do not hold: a wrong time base makes every number wrong,
    so it is refused and never repaired.
    """

    media_s: NDArray[np.float64]
    stretch: float = 1.0

    def __post_init__(self) -> None:
        if self.media_s.ndim != 1 or self.media_s.size == 0:
            raise TimeBaseError("The clip has no frame times. Add it again.")
        if not np.all(np.isfinite(self.media_s)) or np.any(np.diff(self.media_s) <= 0):
            raise TimeBaseError(
                "The frame times of this clip do not grow from frame to frame. Add it again."
            )
        if not math.isfinite(self.stretch) or self.stretch <= 0:
            raise TimeBaseError("The slow-motion factor must be a number above 0.")

    @property
    def frames(self) -> int:
        return int(self.media_s.size)

    @cached_property
    def real_s(self) -> NDArray[np.float64]:
        """Real seconds of every frame since the first, shape (n,)."""
        return (self.media_s - self.media_s[0]) / self.stretch

    @cached_property
    def _seconds(self) -> list[float]:
        return self.real_s.tolist()

    @cached_property
    def frame_interval_s(self) -> float | None:
        """Median real time between frames in seconds; None for a single frame."""
        return float(np.median(np.diff(self.real_s))) if self.frames > 1 else None

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

    def frame_nearest(self, time_s: float) -> int:
        """The frame whose real time lies nearest to time_s, clamped to the clip."""
        after = int(np.searchsorted(self.real_s, time_s))
        if after <= 0:
            return 0
        if after >= self.frames:
            return self.frames - 1
        before_is_nearer = time_s - self.real_s[after - 1] <= self.real_s[after] - time_s
        return after - 1 if before_is_nearer else after
