"""How fast a swim goes: the way of one cycle, which follows the body's length, times the rate."""

from __future__ import annotations

from itertools import pairwise

from norvik.model.body import Build
from norvik.model.schedule import Schedule

#: Own choice: metres of one cycle in body heights, about those of a club swimmer. v = rate x
#: distance per cycle (Craig and Pendergast 1979, Med Sci Sports 11:278-283).
CYCLE_IN_HEIGHTS = {
    "freestyle": 1.15,
    "backstroke": 1.05,
    "breaststroke": 0.95,
    "butterfly": 1.00,
    "wall": 1.15,
}


def metres_per_cycle(stroke: str, build: Build) -> float:
    """Metres that one cycle of this body carries it forward."""
    if build.metres_per_cycle is not None:
        return build.metres_per_cycle
    return CYCLE_IN_HEIGHTS[stroke] * build.height_m


def swum_speed(stroke: str, build: Build, plan: Schedule) -> float:
    """Metres a second of a swim as it is laid out: the way of a cycle over its mean time."""
    openings = [
        [next(iter(c.at.values())) for c in cycles if "entry" in c.at or "out" in c.at]
        for cycles in plan.arms.values()
    ]
    times = [b - a for starts in openings for a, b in pairwise(starts)]
    return metres_per_cycle(stroke, build) * len(times) / sum(times)
