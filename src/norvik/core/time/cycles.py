"""Cycle time, rate, spread, drift. A cycle runs from one entry of an arm to its next.

Cycle time is the one stored quantity; both ways of saying the rate derive from it.
"""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass, field

import numpy as np

from norvik.core.distributions import t_factor
from norvik.core.statistics import mean, sd
from norvik.core.strokes.definitions import event_name
from norvik.core.time.marker import Marking
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import ResolvedMarks, Slot
from norvik.core.time.timebase import interval_uncertainty_s

#: Own choice: cycles that got this much longer, beyond doubt, are called fading.
FADING_FALL = 0.03


@dataclass(frozen=True, slots=True)
class CycleTime:
    """Mean and sample SD in seconds, coefficient of variation in percent, as they are marked.

    own_sd and own_cv_pct: the same without what marking adds to them: the swimmer's own spread.
    """

    mean: float | None = None
    sd: float | None = None
    cv_pct: float | None = None
    own_sd: float | None = None
    own_cv_pct: float | None = None


@dataclass(frozen=True, slots=True)
class Cycles:
    """count: cycles of all arms. by_side: seconds of each. drift: positive when cycles lengthen."""

    count: int = 0
    time_s: CycleTime = field(default_factory=CycleTime)
    by_side: dict[str, list[float]] = field(default_factory=dict)
    drift_pct_per_min: float | None = None
    fading: bool | None = None


@dataclass(frozen=True, slots=True)
class Rate:
    """u_cycles_per_min is the standard uncertainty; show plus-minus twice of it."""

    cycles_per_min: float | None = None
    strokes_per_min: float | None = None
    u_cycles_per_min: float | None = None


def cycles_of(resolved: ResolvedMarks, marking: Marking, reasons: Reasons) -> Cycles:
    """Cycle times, their spread and their drift."""
    found = resolved.cycles
    times = [c.seconds for c in found]
    by_side = {
        side: [c.seconds for c in found if c.side == side] for side in ("left", "right", "both")
    }
    opens = resolved.stroke.opens
    average, spread = mean(times), sd(times)
    if average is None:
        why = f"needs two {event_name(opens)} marks of one arm in a row"
        reasons.missing("cycles.time_s.mean", why)
    if spread is None:
        reasons.missing(("cycles.time_s.sd", "cycles.time_s.cv_pct"), "needs two cycles")
    own_paths = ("cycles.time_s.own_sd", "cycles.time_s.own_cv_pct")
    own_sd: float | None = None
    if spread is None:
        reasons.missing(own_paths, "needs two cycles")
    elif (u_mark_s := marking.spread_s(opens)) is None:
        reasons.missing(own_paths, "the frame interval is not known")
    else:
        noise = marking_noise(resolved, u_mark_s)
        own_sd = math.sqrt(max(0.0, spread * spread - noise.variance))
    drift, fading = _drift(found, marking.frame_interval_s)
    if drift is None:
        reasons.missing(("cycles.drift_pct_per_min", "cycles.fading"), "needs three cycles")
    cv, own_cv = (
        100 * s / average if s is not None and average else None for s in (spread, own_sd)
    )
    times_s = CycleTime(average, spread, cv, own_sd, own_cv)
    return Cycles(len(found), times_s, by_side, drift, fading)


@dataclass(frozen=True, slots=True)
class MarkingNoise:
    """What marking does to the sample variance of the cycle times, in s2.

    variance: how much it adds on average. alone: variance of that, in s4, for a swimmer whose
    cycles are all alike; with_spread: how much a variance of the swimmer's own of 1 s2 adds to it.
    """

    variance: float
    alone: float
    with_spread: float

    def unsure(self, own_variance: float) -> float:
        """Standard uncertainty in s2 of the variance that is left when the noise is taken off."""
        return math.sqrt(self.alone + self.with_spread * own_variance)


def marking_noise(resolved: ResolvedMarks, u_mark_s: float) -> MarkingNoise:
    """u_mark_s: standard uncertainty of one mark. At least two cycles.

    The cycle times are differences of marks, which neighbours share: x = A t. With C that takes the
    mean off and M = C A A' C, marking of variance s2 adds s2 tr(M) / (n - 1), of which the variance
    is (2 s4 tr(M M) + 4 s2 x' M x) / (n - 1)2: moments of a quadratic form in normal errors.
    """
    cycles = resolved.cycles
    n = len(cycles)
    starts = np.array([c.start.order for c in cycles if c.start])
    ends = np.array([c.end.order for c in cycles if c.end])
    shared = np.intersect1d(starts, ends).size
    sums = np.bincount(ends, minlength=resolved.count) - np.bincount(
        starts, minlength=resolved.count
    )
    rows = sums[ends] - sums[starts]
    once = float(sums @ sums) / n
    trace = 2 * n - once
    trace2 = 4 * n + 2 * shared - 2 * float(rows @ rows) / n + once * once
    s2 = u_mark_s * u_mark_s
    return MarkingNoise(
        s2 * trace / (n - 1),
        2 * s2 * s2 * max(0.0, trace2) / (n - 1) ** 2,
        4 * s2 * trace / (n - 1) ** 2,
    )


def rate_of(resolved: ResolvedMarks, marking: Marking, reasons: Reasons) -> Rate:
    """All cycles of all arms over the sum of their times, never the mean of single rates.

    Each uninterrupted stretch of one arm adds the variance of one interval between two marks.
    Worked, for the frames alone: 60 frames/s, one cycle of 1.25 s: 48.0 cycles/min, u 0.261.
    """
    found = resolved.cycles
    if not found:
        reasons.missing(("rate.cycles_per_min", "rate.strokes_per_min"), "no whole cycle")
        reasons.missing("rate.u_cycles_per_min", "no whole cycle")
        return Rate()
    total_s = math.fsum(c.seconds for c in found)
    per_min = 60 * len(found) / total_s
    u: float | None = None
    u_mark_s = marking.spread_s(resolved.stroke.opens)
    if u_mark_s is None:
        reasons.missing("rate.u_cycles_per_min", "the frame interval is not known")
    else:
        total_u_s = math.sqrt(2 * _stretches(resolved)) * u_mark_s
        u = per_min * math.hypot(total_u_s / total_s, marking.scale_u)
    return Rate(per_min, per_min * resolved.stroke.strokes_per_cycle, u)


def _stretches(resolved: ResolvedMarks) -> int:
    """Runs of cycles that share their end marks; each run has two marks that are uncertain."""
    count = 0
    last_end: dict[str, int] = {}
    for cycle in resolved.cycles:
        assert cycle.start is not None
        assert cycle.end is not None
        if last_end.get(cycle.side) != cycle.start.order:
            count += 1
        last_end[cycle.side] = cycle.end.order
    return count


def _drift(
    found: tuple[Slot, ...], frame_interval_s: float | None
) -> tuple[float | None, bool | None]:
    fit = rate_fall(found, frame_interval_s)
    if fit is None:
        return None, None
    surely = fit.fall > t_factor(fit.dof) * fit.u
    return fit.drift_pct_per_min, fit.fall >= FADING_FALL and surely


@dataclass(frozen=True, slots=True)
class RateFall:
    """How the rate changes over a clip.

    fall: share by which it drops from the first to the last cycle; u: its standard uncertainty,
    dof: the degrees of freedom of that. drift: slope of the cycle time in percent of its mean per
    minute; drift_u: its standard error.
    """

    fall: float
    u: float
    dof: float
    drift_pct_per_min: float
    drift_u: float


def rate_fall(found: tuple[Slot, ...], frame_interval_s: float | None) -> RateFall | None:
    """Least-squares line of cycle time over the middle of each cycle; None under three cycles.

    The cycles of both arms make one line, but they are one rhythm, so that they count once in how
    sure it is. The uncertainty joins that of the slope with that of the frames, where it is known.
    """
    if len(found) < 3:
        return None
    middle = np.array([c.middle_s for c in found])
    times = np.array([c.seconds for c in found])
    centred = middle - middle.mean()
    spread = float(centred @ centred)
    if spread == 0:
        return None
    slope = float(centred @ times) / spread
    fitted = times.mean() + slope * centred
    first, last = float(fitted[middle.argmin()]), float(fitted[middle.argmax()])
    residual = times - fitted
    rhythm = max(Counter(c.side for c in found).values())
    twice = len(found) / rhythm
    slope_u = math.sqrt(float(residual @ residual) / (len(found) - 2) / spread * twice)
    u = slope_u * float(np.ptp(middle)) / last
    if frame_interval_s is not None:
        u = math.hypot(u, interval_uncertainty_s(frame_interval_s) / last)
    per_min = 100 * 60 / float(times.mean())
    return RateFall(1 - first / last, u, max(1, rhythm - 2), slope * per_min, slope_u * per_min)
