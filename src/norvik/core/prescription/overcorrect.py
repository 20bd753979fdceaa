"""How far beyond the target to aim: what is changed overhead or in front feels bigger than it is.

aim = target + (target - now), capped (common practice; the formula is an own choice). Film again
and reduce.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from norvik.core.judging.coaching_model import Band
from norvik.core.strokes.names import Side

#: Measures of what a swimmer changes overhead or in front without seeing it, and how far beyond
#: the target to aim at most, in the measure's unit (own choice; two hours of the clock).
CAPS = {"entry-line": 2.0, "entry-ahead": 0.3, "reach-depth": 0.3, "arm-dive": 15.0}


@dataclass(frozen=True, slots=True)
class Aim:
    """All in the unit of the measure."""

    measure: str
    side: Side
    now: float
    target: float
    aim: float


def aim_of(measure: str, side: Side, now: float, band: Band | None) -> Aim | None:
    """Where to aim for a value outside its good range; None inside it, or where seeing is enough.

    The target is the middle of the good range, or its one end.
    """
    if measure not in CAPS or band is None or not math.isfinite(now):
        return None
    low, high = band.good_from, band.good_to
    if (low is None or now >= low) and (high is None or now <= high):
        return None
    ends = [end for end in (low, high) if end is not None]
    target = sum(ends) / len(ends)
    beyond = max(-CAPS[measure], min(CAPS[measure], target - now))
    return Aim(measure, side, now, target, target + beyond)
