"""Holding a value against a band, with a margin for what is not known of it."""

from __future__ import annotations

import math

from norvik.core.judging.coaching_model import Band
from norvik.core.judging.judged import Verdict


def verdict_of_takings(band: Band, value: float, margin: float, n: int, least: int) -> Verdict:
    """The verdict on the mean of n takings: with fewer than `least` of them at most "watch"."""
    verdict, _ = verdict_of(band, value, margin)
    return "watch" if verdict in ("fault", "unsure") and n < least else verdict


def verdict_of(band: Band, value: float, margin: float) -> tuple[Verdict, float]:
    """("good", "watch", "fault" or "unsure", how far beyond the nearest fault limit).

    margin: how far in the value's unit the swimmer's own value may be off, 0 or more (see
    `margin_of`). "fault" is only what lies beyond its limit by more than that. A limit within the
    margin makes the value "unsure", unless it lies inside the good range: that is good, if not
    surely. "watch" is only what is outside the good range by more than the margin: noise alone
    calls nobody to watch anything. Beyond is negative on the near side of the limit, and -inf for a
    band without one.
    """
    below, above = band.fault_below, band.fault_above
    beyond = max(
        below - value if below is not None else -math.inf,
        value - above if above is not None else -math.inf,
    )
    past_good = _past_good(band, value)
    if beyond > margin:
        return "fault", beyond
    if beyond > -margin and margin > 0 and not -math.inf < past_good <= 0:
        return "unsure", beyond
    return ("watch" if past_good > margin else "good"), beyond


def surely_good(band: Band, value: float, margin: float) -> bool:
    """Is all that the value may be inside the good range, and off the fault limits?"""
    verdict, beyond = verdict_of(band, value, margin)
    return verdict == "good" and beyond <= -margin and _past_good(band, value) <= -margin


def near_fault(band: Band, value: float) -> bool:
    """Is the value past the middle between the good range and the fault limit on its side?

    Own choice: what lies nearer to good than to the fault is not worth a line of its own.
    """
    for good, limit, sign in (
        (band.good_to, band.fault_above, 1),
        (band.good_from, band.fault_below, -1),
    ):
        if limit is not None:
            middle = limit if good is None else (good + limit) / 2
            if sign * (value - middle) > 0:
                return True
    return False


def _past_good(band: Band, value: float) -> float:
    """How far the value lies outside the good range; negative inside, -inf without a range."""
    return max(
        value - band.good_to if band.good_to is not None else -math.inf,
        band.good_from - value if band.good_from is not None else -math.inf,
    )
