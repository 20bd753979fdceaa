"""How fast a swim goes: the way of one cycle, which follows the body's length, times the rate.

Within a cycle it goes quicker and slower, as arms and legs drive.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from norvik.model import body
from norvik.model.body import Build, Seconds
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


#: Speed against its mean at instants of a cycle. Own choice of shape, so that the whole varies as
#: published: by some 30 to 45 % (standard deviation) in breaststroke, 15 to 30 % in butterfly, both
#: slowest before the kick and as the arms come forward (recalled, not looked up). The arms of
#: freestyle and backstroke take turns, so that their swim is taken as even.
_BREAST_ARMS = {"out": 0.90, "in": 1.05, "shoot": 1.10}
_BREAST_LEGS = (("heels", 0.95), ("set", 0.35), ("close", 1.60))
_BREAST_SWEEP = 1.35
_FLY = {"entry": 0.80, "catch": 0.98, "press": 0.95, "shoulder": 1.20, "exit": 1.30}
_FLY_OVER = 0.95


def within_cycle(plan: Schedule, stroke: str, t: Seconds) -> Seconds:
    """Speed of the body at instants of the swim, against its mean; 1 where it is even."""
    keys = {"breaststroke": _breaststroke, "butterfly": _butterfly}.get(stroke, lambda _: [])(plan)
    if len(keys) < 4:
        return np.ones_like(t)
    every = np.arange(keys[0][0], keys[-1][0], 1 / 240)
    return body.steady(keys, t) / float(np.mean(body.steady(keys, every)))


def _breaststroke(plan: Schedule) -> list[tuple[float, float]]:
    keys = []
    for c in plan.arms["both"]:
        keys += [(c.at[event], share) for event, share in _BREAST_ARMS.items()]
        keys.append((0.5 * (c.at["in"] + c.at["shoot"]), _BREAST_SWEEP))
    for leg in plan.legs:
        keys += [(getattr(leg, event), share) for event, share in _BREAST_LEGS]
    return _apart(keys)


def _butterfly(plan: Schedule) -> list[tuple[float, float]]:
    keys = []
    for c in plan.arms["both"]:
        keys += [(c.at[event], share) for event, share in _FLY.items()]
        keys.append((0.5 * (c.at["exit"] + c.end), _FLY_OVER))
    return _apart(keys)


def _apart(keys: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """In order of time; of two that nearly fall together the first."""
    found: list[tuple[float, float]] = []
    for time_s, share in sorted(keys):
        if not found or time_s - found[-1][0] > 0.02:
            found.append((time_s, share))
    return found
