"""The time check: two frames and the seconds that truly passed between them give the stretch."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from norvik.core.errors import TimeBaseError
from norvik.core.time.timebase import FACTOR_RANGE, TimeBase, interval_uncertainty_s

#: Disagreement in percent of the declared factor from which it is said. Own choice.
TOLERANCE_PCT = 2.0
#: Factors that cameras really store, from 30 or 60 frames/s recorded to 240 stored at 25 or 30.
_USUAL = (0.5, 1.0, 2.0, 4.0, 5.0, 8.0, 10.0, 16.0, 20.0, 32.0)
#: Cameras call 29.97 and 239.76 frames/s 30 and 240: relative standard uncertainty, rectangular.
ROUND_RATE_U = 0.001 / math.sqrt(3)


@dataclass(frozen=True, slots=True)
class TimeCheck:
    """What a time check found.

    declared_s: real seconds between the frames by the declared stretches. factor: what the
    stretch has to be there; for a check that spans a ramp, the mean one. u_factor: standard
    uncertainty from the two frames alone. off_pct: how far the declared seconds are from the
    true ones. suggested: the usual factor that agrees with the finding, else the finding itself.
    """

    first: int
    last: int
    true_s: float
    declared_s: float
    factor: float
    u_factor: float
    off_pct: float
    spans_ramp: bool
    suggested: float

    @property
    def agrees(self) -> bool:
        """True within the tolerance, widened to what the two frames can tell at all."""
        blur_pct = 200 * self.u_factor / self.factor
        return abs(self.off_pct) <= max(TOLERANCE_PCT, blur_pct)


def check_time(base: TimeBase, first: int, last: int, true_s: float) -> TimeCheck:
    """Compare the time base with true_s seconds between the frames first and last.

    Raises TimeBaseError when the frames are not two, or true_s is not above 0 or leads to a
    factor that nobody would believe.
    """
    first, last = min(first, last), max(first, last)
    if first == last:
        raise TimeBaseError("A time check needs two different frames.")
    if not (math.isfinite(true_s) and true_s > 0):
        raise TimeBaseError("The true time must be a number of seconds above 0.")
    declared_s = base.time_of(last) - base.time_of(first)
    media_s = float(base.media_s[last] - base.media_s[first])
    factor = media_s / true_s
    if not FACTOR_RANGE[0] <= factor <= FACTOR_RANGE[1]:
        raise TimeBaseError(
            f"{true_s:g} s between these frames would mean that the file plays {factor:.3g} times "
            "slower than it happened. Look at the two frames and the seconds again."
        )
    # The clock was read on two frames: each is off by up to half a real frame interval.
    interval_s = media_s / (last - first) / factor
    u_factor = factor * interval_uncertainty_s(interval_s) / true_s
    spans = {float(f) for f in base.factors[first:last]}
    usual = min(_USUAL, key=lambda f: abs(math.log(f / factor)))
    fits = abs(usual / factor - 1) <= max(TOLERANCE_PCT / 100, 2 * u_factor / factor)
    return TimeCheck(
        first=first,
        last=last,
        true_s=true_s,
        declared_s=declared_s,
        factor=factor,
        u_factor=u_factor,
        off_pct=100 * (declared_s / true_s - 1),
        spans_ramp=len(spans) > 1,
        suggested=usual if fits else round(factor, 3),
    )


def scale_uncertainty(factors: Iterable[float], check: TimeCheck | None) -> float:
    """Relative standard uncertainty of every time in a clip, from its slow-motion factor.

    factors: the declared ones. A file that plays as it happened has the camera's own clock, which
    is better than anything that is marked. A usual factor is exact but for the round name of the
    frame rate, unless a time check says otherwise by more than its two frames can be off: then that
    disagreement counts. Another factor is as sure as the check that gave it.
    """
    declared = set(factors)
    if check is None:
        return 0.0 if declared == {1.0} else ROUND_RATE_U
    blur, off = check.u_factor / check.factor, abs(check.off_pct) / 100
    if off > 2 * blur:
        return math.hypot(off / 2, blur)
    return ROUND_RATE_U if declared <= set(_USUAL) else blur
