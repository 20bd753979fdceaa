"""Where every joint is at every instant, for any stroke."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from norvik.model.body import Build, Pose, Seconds
from norvik.model.schedule import Schedule
from norvik.model.speed import within_cycle
from norvik.model.strokes import backstroke, breaststroke, butterfly, freestyle, wall

__all__ = ["Build", "Pose", "pose", "travelled"]

_POSES: dict[str, Callable[[Schedule, Build, Seconds], Pose]] = {
    "freestyle": freestyle.pose,
    "backstroke": backstroke.pose,
    "breaststroke": breaststroke.pose,
    "butterfly": butterfly.pose,
    "wall": wall.pose,
}


def pose(plan: Schedule, build: Build, times_s: Seconds, stroke: str = "freestyle") -> Pose:
    """All joints at the given seconds; each entry has shape (len(times_s), 3)."""
    return _POSES[stroke](plan, build, times_s)


def travelled(plan: Schedule, times_s: Seconds, stroke: str, speed_m_s: float) -> Seconds:
    """Metres that the swimmer has come forward since the first instant, shape of times_s."""
    if stroke == "wall":
        speeds = wall.speed(plan, times_s) * speed_m_s / 1.5
    else:
        speeds = speed_m_s * within_cycle(plan, stroke, times_s)
    steps = np.diff(times_s, prepend=times_s[0]) * speeds
    return np.cumsum(steps)
