"""Cycle time, rate, spread, drift. A cycle runs from one entry of an arm to its next.

Cycle time is the one stored quantity; both ways of saying the rate derive from it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np

from norvik.core.statistics import mean, sd
from norvik.core.strokes.definitions import event_name
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import ResolvedMarks, Slot
from norvik.core.time.timebase import interval_uncertainty_s

#: Own choice: cycles that got this much longer, beyond doubt, are called fading.
FADING_FALL = 0.03


@dataclass(frozen=True, slots=True)
class CycleTime:
    """Mean and sample SD in seconds, coefficient of variation in percent."""

    mean: float | None = None
    sd: float | None = None
    cv_pct: float | None = None


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


def cycles_of(resolved: ResolvedMarks, frame_interval_s: float | None, reasons: Reasons) -> Cycles:
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
    drift, fading = _drift(found, frame_interval_s)
    if drift is None:
        reasons.missing(("cycles.drift_pct_per_min", "cycles.fading"), "needs three cycles")
    cv = 100 * spread / average if spread is not None and average else None
    return Cycles(len(found), CycleTime(average, spread, cv), by_side, drift, fading)


def rate_of(resolved: ResolvedMarks, frame_interval_s: float | None, reasons: Reasons) -> Rate:
    """All cycles of all arms over the sum of their times, never the mean of single rates.

    Each uninterrupted stretch of one arm adds the variance of one interval between two marks.
    Worked: 60 frames/s, one cycle of 1.25 s: 48.0 cycles/min, u 0.261.
    """
    found = resolved.cycles
    if not found:
        reasons.missing(("rate.cycles_per_min", "rate.strokes_per_min"), "no whole cycle")
        reasons.missing("rate.u_cycles_per_min", "no whole cycle")
        return Rate()
    total_s = math.fsum(c.seconds for c in found)
    per_min = 60 * len(found) / total_s
    u: float | None = None
    if frame_interval_s is None:
        reasons.missing("rate.u_cycles_per_min", "the frame interval is not known")
    else:
        total_u_s = math.sqrt(_stretches(resolved)) * interval_uncertainty_s(frame_interval_s)
        u = per_min * total_u_s / total_s
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
    return fit.drift_pct_per_min, fit.fall >= FADING_FALL and fit.fall > 2 * fit.u


@dataclass(frozen=True, slots=True)
class RateFall:
    """fall: share by which the rate drops from the first to the last cycle; u: its standard

    uncertainty. drift: slope of the cycle time in percent of its mean per minute; drift_u: its
    standard error.
    """

    fall: float
    u: float
    drift_pct_per_min: float
    drift_u: float


def rate_fall(found: tuple[Slot, ...], frame_interval_s: float | None) -> RateFall | None:
    """Least-squares line of cycle time over the middle of each cycle; None under three cycles.

    The uncertainty joins that of the slope with that of marking on frames, where it is known.
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
    slope_u = math.sqrt(float(residual @ residual) / (len(found) - 2) / spread)
    u = slope_u * float(np.ptp(middle)) / last
    if frame_interval_s is not None:
        u = math.hypot(u, interval_uncertainty_s(frame_interval_s) / last)
    per_min = 100 * 60 / float(times.mean())
    return RateFall(1 - first / last, u, slope * per_min, slope_u * per_min)
