"""Did it really change? One swimmer's values of two days against each other.

A difference counts when it is larger than twice its standard uncertainty. That of each clip is the
larger of what measuring makes of its mean and of what the swimmer's own spread makes of it
(standard deviation over the root of how many there are); both clips' combine by their squares
(JCGM 100:2008, 5.1.2).
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from norvik.core.judging.coaching_model import Band
from norvik.core.statistics import sd

VERDICTS = ("better", "worse", "changed", "same")


@dataclass(frozen=True, slots=True)
class ComparableValue:
    """One value of a clip. singles: the values that it is the mean of. u: of measuring, or None."""

    what: str
    side: str
    name: str
    unit: str
    digits: int
    value: float
    u: float | None
    singles: tuple[float, ...] = ()
    band: Band | None = None

    @property
    def own_u(self) -> float | None:
        """Standard uncertainty of the value; None where neither measuring nor spread is known."""
        spread = sd(self.singles)
        from_spread = None if spread is None else spread / math.sqrt(len(self.singles))
        known = [u for u in (self.u, from_spread) if u is not None]
        return max(known) if known else None


@dataclass(frozen=True, slots=True)
class Comparison:
    """verdict: "better", "worse", "changed" (really, with no band to say which), or "same" (within

    measuring error and the swimmer's own spread). least: the smallest difference that would count;
    None where no uncertainty is known, and then nothing is said to be real.
    """

    before: ComparableValue
    after: ComparableValue
    difference: float
    least: float | None
    verdict: str


def compare(
    before: Iterable[ComparableValue], after: Sequence[ComparableValue]
) -> list[Comparison]:
    """Every value that both clips have, real changes first."""
    later = {(k.what, k.side): k for k in after}
    found = [compare_value(k, later[k.what, k.side]) for k in before if (k.what, k.side) in later]
    return sorted(found, key=lambda c: VERDICTS.index(c.verdict))


def compare_value(before: ComparableValue, after: ComparableValue) -> Comparison:
    """The change of one value; the band is the later clip's."""
    difference = after.value - before.value
    own = before.own_u, after.own_u
    if own[0] is None or own[1] is None:
        return Comparison(before, after, difference, None, "same")
    # What is not seen in the digits that a value is written with is no change.
    least = max(2 * math.hypot(own[0], own[1]), 10.0**-after.digits)
    if abs(difference) <= least:
        verdict = "same"
    else:
        was, is_now = _off(before.value, after.band), _off(after.value, after.band)
        verdict = "changed"
        if was is not None and is_now is not None and was != is_now:
            verdict = "better" if is_now < was else "worse"
    return Comparison(before, after, difference, least, verdict)


def _off(value: float, band: Band | None) -> float | None:
    """How far a value lies outside the good range, or beyond its fault limits where the band has no

    good end on that side; None without any limit.
    """
    if band is None:
        return None
    low = band.fault_below if band.good_from is None else band.good_from
    high = band.fault_above if band.good_to is None else band.good_to
    if low is None and high is None:
        return None
    return max(
        low - value if low is not None else 0.0, value - high if high is not None else 0.0, 0.0
    )
