"""A quantity of time as judging takes it: value, uncertainty, and the instants that show it.

A reading is None when the marks do not tell; then nothing is judged.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from norvik.core.strokes import Phase
from norvik.core.time.coordination import nearest
from norvik.core.time.phases import phase_seconds
from norvik.core.time.timebase import interval_uncertainty_s
from norvik.core.time.timing import Timing


@dataclass(frozen=True, slots=True)
class Occurrence:
    """One instance: where to look (real seconds) and its own value in the quantity's unit."""

    time_s: float
    value: float
    side: str = ""


@dataclass(frozen=True, slots=True)
class Reading:
    """u: standard uncertainty in the quantity's unit; None when it is not known."""

    value: float
    u: float | None
    occurrences: tuple[Occurrence, ...] = ()


@dataclass(frozen=True, slots=True)
class Quantity:
    id: str
    name: str
    unit: str
    digits: int
    read: Callable[[Timing], Reading | None]


def mean_reading(timing: Timing, found: list[Occurrence], path: str) -> Reading | None:
    """Mean of the instances, with the uncertainty of the quantity under that dotted path."""
    if not found:
        return None
    value = math.fsum(o.value for o in found) / len(found)
    return Reading(value, timing.uncertainty.get(path), tuple(found))


def mean_seconds(timing: Timing, found: list[Occurrence]) -> Reading | None:
    """Mean of intervals between two marks each, in seconds, none sharing a mark with another."""
    if not found:
        return None
    u = interval_u(timing)
    value = math.fsum(o.value for o in found) / len(found)
    return Reading(value, None if u is None else u / math.sqrt(len(found)), tuple(found))


def interval_u(timing: Timing) -> float | None:
    d = timing.frame_interval_s
    return None if d is None else interval_uncertainty_s(d)


def interval_u_pct(timing: Timing) -> float | None:
    """Uncertainty of an interval in percent of the mean cycle."""
    u, cycle_s = interval_u(timing), timing.resolved.mean_cycle_s
    return None if u is None or not cycle_s else 100 * u / cycle_s


def phase_share(
    phase: Phase, at: str, path: str, strokes: tuple[str, ...]
) -> Callable[[Timing], Reading | None]:
    """Reads a phase of the arm in percent of its own cycle, in these strokes.

    at: the inner event that shows it. path: of its uncertainty.
    """

    def read(timing: Timing) -> Reading | None:
        if timing.stroke not in strokes:
            return None
        opens = timing.resolved.stroke.opens
        found = [
            Occurrence(c.inner[at].time_s, 100 * seconds / c.seconds, c.side)
            for c in timing.resolved.cycles
            if (seconds := phase_seconds(c, phase, opens)) is not None
        ]
        return mean_reading(timing, found, path)

    return read


def mean_of_pairs(timing: Timing, found: list[Occurrence]) -> Reading | None:
    """Mean of intervals between two marks each, in percent of the mean cycle."""
    u = interval_u_pct(timing)
    if not found:
        return None
    value = math.fsum(o.value for o in found) / len(found)
    return Reading(value, None if u is None else u / math.sqrt(len(found)), tuple(found))


def air_after(event: str, stroke: str) -> Callable[[Timing], Reading | None]:
    """Reads the mouth clear minus the nearest of an arm event, in percent of the mean cycle.

    Both lie on the same side of a wall and less than half a cycle apart.
    """

    def read(timing: Timing) -> Reading | None:
        resolved, cycle_s = timing.resolved, timing.resolved.mean_cycle_s
        if timing.stroke != stroke or not cycle_s:
            return None
        found = []
        for air in (b.air for b in resolved.breaths):
            here = [p for p in resolved.marks_of(event, "both") if p.length == air.length]
            mark = nearest(here, air.time_s)
            if mark is not None and abs(air.time_s - mark.time_s) < cycle_s / 2:
                late = air.time_s - mark.time_s
                found.append(Occurrence(air.time_s, 100 * late / cycle_s))
        return mean_of_pairs(timing, found)

    return read
