"""Stroke rate, how steady it is, and how it changes over the clip."""

from __future__ import annotations

from norvik.core.time.coordination import hand_steps
from norvik.core.time.cycles import rate_fall
from norvik.core.time.plus_minus import Certainty, Own
from norvik.core.time.quantities.quantity import (
    Occurrence,
    Quantity,
    Reading,
    from_timing,
    of_path,
    reading_of,
    starts_of_cycles,
)
from norvik.core.time.timing import Timing


def rate_unit(timing: Timing) -> str:
    """Single strokes where the arms take turns, else cycles: as a coach counts."""
    return "strokes/min" if timing.resolved.stroke.alternating else "cycles/min"


def stroke_rate(timing: Timing) -> Reading | None:
    """The rate in the unit of `rate_unit`, with each cycle's own."""
    per_min, each = (
        from_timing(timing, "rate.cycles_per_min"),
        timing.resolved.stroke.strokes_per_cycle,
    )
    if per_min is None:
        return None
    path = "strokes_per_min" if each == 2 else "cycles_per_min"
    found = tuple(
        Occurrence(c.start.time_s, 60 * each / c.seconds, c.side)
        for c in timing.resolved.cycles
        if c.start and c.seconds
    )
    return reading_of(timing, each * per_min, f"rate.{path}", found)


def _rate_fall(timing: Timing) -> Reading | None:
    fall = rate_fall(timing.resolved.cycles, timing.frame_interval_s)
    if fall is None:
        return None
    cycles = timing.resolved.cycles
    ends = [c.start for c in (cycles[0], cycles[-1]) if c.start]
    found = tuple(Occurrence(p.time_s, 100 * fall.fall) for p in ends)
    u = 100 * fall.u
    return Reading(100 * fall.fall, u, found, Certainty(u, own=Own(u, fall.dof)))


def _fading(timing: Timing) -> str:
    return {True: "fading", False: "holds", None: ""}[timing.cycles.fading]


def _spread(timing: Timing) -> Reading | None:
    """Coefficient of variation without what marking adds, where that is known."""
    times, n = timing.cycles.time_s, timing.cycles.count
    cv, path = times.own_cv_pct, "cycles.time_s.own_cv_pct"
    if cv is None:
        cv, path = times.cv_pct, "cycles.time_s.cv_pct"
    if cv is None or n < 4:
        return None
    starts = starts_of_cycles(timing)
    return reading_of(timing, cv, path, [Occurrence(p.time_s, cv) for p in starts[:1]])


def _left_right(timing: Timing) -> Reading | None:
    """How uneven, without its direction. Each step shares its entries with the next."""
    if timing.rhythm_pct is None:
        return None
    by_side = hand_steps(timing.resolved)
    steps = [*by_side["left"], *by_side["right"]]
    late = "left" if timing.rhythm_pct < 0 else "right"
    usual = (timing.resolved.mean_cycle_s or 0) / 2
    found = tuple(
        Occurrence(b.time_s, 100 * abs(b.time_s - a.time_s - usual) / usual if usual else 0.0, late)
        for a, b in steps
        if b.mark.side == late
    )
    return reading_of(timing, abs(timing.rhythm_pct), "rhythm_pct", found)


def _late(timing: Timing) -> str:
    """Which hand comes late: a positive value means long from left to right."""
    if not timing.rhythm_pct:
        return ""
    return "right late" if timing.rhythm_pct > 0 else "left late"


RATE = (
    Quantity(
        "cycle-spread", "Spread of cycle times", "s", 3,
        of_path("cycles.time_s.own_sd", starts_of_cycles),
        "Standard deviation of the cycle times, without what marking adds to it.",
        "rate", path="cycles.time_s.own_sd", compared=False,
    ),
    Quantity(
        "spread", "Consistency (spread of cycle times)", "%", 1, _spread,
        "Standard deviation of the cycle times in percent of their mean (coefficient of "
        "variation), without what marking adds to it. Needs four cycles.",
        "rate", path="cycles.time_s.own_cv_pct", with_speed=True,
    ),
    Quantity(
        "rate-fall", "Rate change over the clip, drop +", "%", 1, _rate_fall,
        "How much the rate drops from the first cycle to the last, on a straight line through the "
        "cycle times. Needs three cycles.",
        "rate", note=_fading,
    ),
    Quantity(
        "hand-rhythm", "Left-right timing", "%", 1, _left_right,
        "How uneven the steps from hand to hand are: 100 times the difference of left-to-right and "
        "right-to-left over their sum; 0 is even.",
        "coordination", ("freestyle", "backstroke"), "rhythm_pct", signed=False, note=_late,
    ),
)  # fmt: skip
