"""Quantities that are declared by the marks between which they lie."""

from __future__ import annotations

from collections.abc import Sequence

from norvik.core.time.certainty.gradients import Gradients, Interval, Term, mean_s, seconds_of
from norvik.core.time.own_spread import Single, of_arms, of_values
from norvik.core.time.plus_minus import Own
from norvik.core.time.quantities import QUANTITIES


def path_of(quantity_id: str, path: str) -> str:
    """Where a quantity stands in the timing object."""
    return path or f"quantities.{quantity_id}"


def terms(g: Gradients, topics: dict[str, str], topic: str) -> dict[str, Term]:
    """Of one topic. topics: first word of a path to its topic."""
    found: dict[str, Term] = {}
    for q in QUANTITIES.values():
        path = path_of(q.id, q.path)
        if q.intervals is None or topics[path.split(".", 1)[0]] != topic:
            continue
        if g.timing.stroke not in q.strokes:
            continue
        ends = q.intervals(g.timing)
        gradient, own = g.mean(ends), _own(ends)
        if gradient is None:
            continue
        if not q.of_cycle:
            found[path] = Term(gradient, own)
        elif g.cycle_s:
            pct = 100 / g.cycle_s
            of_cycle = g.of_cycle_pct(gradient, pct * mean_s(ends))
            if of_cycle is not None:
                found[path] = Term(of_cycle, own.times(pct) if own else None)
    return found


def _own(intervals: Sequence[Interval]) -> Own | None:
    """Intervals that begin and end with an arm's marks are each arm's own; others stand alone."""
    if not all(p.mark.lane == "arm" and p.mark.side for ends in intervals for p in ends):
        return of_values([seconds_of(ends) for ends in intervals])
    by_arm: dict[str, list[Single]] = {}
    for ends in intervals:
        by_arm.setdefault(ends[0].mark.side, []).append((ends[0].time_s, seconds_of(ends)))
    return of_arms(by_arm)
