"""Speed from passes of known distances, and what one cycle brings forward."""

from __future__ import annotations

from dataclasses import dataclass

from norvik.core.statistics import mean
from norvik.core.strokes import Phase
from norvik.core.strokes.definitions import event_name
from norvik.core.time.phases import phase_ends
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import OrderedMark, ResolvedMarks


@dataclass(frozen=True, slots=True)
class Speed:
    """v = rate x distance per cycle (Craig and Pendergast 1979, Med Sci Sports 11:278-283).

    stroke_index = v x distance per cycle in m2/s (Costill et al. 1985, Int J Sports Med 6:266-270).
    """

    m_per_s: float | None = None
    distance_per_cycle_m: float | None = None
    stroke_index: float | None = None


def pass_ends(resolved: ResolvedMarks) -> list[tuple[OrderedMark, OrderedMark]]:
    """First and last pass of each length."""
    found = []
    for length in sorted({p.length for p in resolved.passes}):
        here = [p for p in resolved.passes if p.length == length]
        found.append((here[0], here[-1]))
    return found


def speed_of(resolved: ResolvedMarks, reasons: Reasons) -> Speed:
    """Sum of distances over sum of times, first to last pass of each length.

    Worked: 1.50 m/s at 30 cycles/min: 3.00 m a cycle, index 4.50 m2/s.
    """
    ends = pass_ends(resolved)
    metres = sum((b.mark.metres or 0) - (a.mark.metres or 0) for a, b in ends)
    seconds = sum(b.time_s - a.time_s for a, b in ends)
    if seconds <= 0:
        why = "no passes are marked" if not resolved.passes else "needs two passes in one length"
        reasons.missing([f"speed.{name}" for name in Speed.__slots__], why)
        return Speed()
    v = metres / seconds
    cycle_s = resolved.mean_cycle_s
    if not cycle_s:
        why = "no whole cycle"
        reasons.missing(("speed.distance_per_cycle_m", "speed.stroke_index"), why)
        return Speed(v)
    return Speed(v, v * cycle_s, v * v * cycle_s)


def reach_ends(resolved: ResolvedMarks) -> list[tuple[OrderedMark, OrderedMark]]:
    """Entry and press of each whole cycle that has both."""
    opens = resolved.stroke.opens
    reach = Phase("reach", opens, "press")
    return [e for c in resolved.cycles if (e := phase_ends(c, reach, opens)) is not None]


def hold_distance_m(resolved: ResolvedMarks, speed: Speed, reasons: Reasons) -> float | None:
    """Metres travelled from entry to press, mean over whole cycles. None in breaststroke."""
    if not resolved.stroke.phases4:
        return None
    if speed.m_per_s is None:
        reasons.missing("hold_distance_m", "no passes are marked")
        return None
    average = mean([b.time_s - a.time_s for a, b in reach_ends(resolved)])
    if average is None:
        opens = resolved.stroke.opens
        reasons.missing(
            "hold_distance_m", f"no whole cycle has {event_name(opens)} and pull marked"
        )
        return None
    return speed.m_per_s * average
