"""One stroke cycle round a circle: where in it each event falls, as a mean of all marked cycles.

The circle begins with the opening (entry, out) of one arm. Places are shares of the cycle, 0 to 1,
and are averaged on the circle, so that 0.99 and 0.01 meet at 0.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.strokes.names import Side
from norvik.core.time.kick import surface_beats
from norvik.core.time.resolve import OrderedMark, ResolvedMarks, Slot


@dataclass(frozen=True, slots=True)
class Place:
    """at: share of the cycle. sd: its spread, 0 for a single one. n: how many cycles."""

    at: float
    sd: float
    n: int


@dataclass(frozen=True, slots=True)
class Arc:
    """A phase from one place to another, clockwise; it may pass the top. side: of a breath."""

    phase: str
    start: Place
    end: Place
    side: Side = ""

    @property
    def share(self) -> float:
        return (self.end.at - self.start.at) % 1.0


@dataclass(frozen=True, slots=True)
class Ring:
    """One ring of the dial. dots: single places, such as every beat of the legs."""

    name: str
    arcs: tuple[Arc, ...] = ()
    dots: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True)
class Dial:
    """lead: the arm whose opening stands at the top. cycle_s: mean cycle. cycles: of the lead."""

    lead: str
    cycle_s: float
    cycles: int
    rings: tuple[Ring, ...]


def dial_of(resolved: ResolvedMarks) -> Dial | None:
    """The dial of a clip; None without a whole cycle."""
    arms = resolved.stroke.arms
    by_arm = {arm: [c for c in resolved.cycles if c.side == arm] for arm in arms}
    lead = max(arms, key=lambda arm: len(by_arm[arm]))
    cycles = by_arm[lead]
    cycle_s = resolved.mean_cycle_s
    if not cycles or cycle_s is None:
        return None
    turning = _Turning(cycles)
    rings = [Ring(_arm_name(arm), _arm_arcs(resolved, arm, turning)) for arm in arms]
    if resolved.breaths:
        rings.append(Ring("breath", _breath_arcs(resolved, turning)))
    if resolved.stroke.leg_cycle:
        rings.append(Ring("legs", _leg_arcs(resolved, turning)))
    else:
        beats = [s for b in surface_beats(resolved) if (s := turning.share(b)) is not None]
        if beats:
            rings.append(Ring("legs", dots=tuple(beats)))
    return Dial(lead, cycle_s, len(cycles), tuple(r for r in rings if r.arcs or r.dots))


class _Turning:
    """Where in the leading arm's cycle an instant falls."""

    def __init__(self, cycles: Sequence[Slot]) -> None:
        self._cycles = cycles
        self._starts = [c.start.time_s for c in cycles if c.start]

    def share(self, mark: OrderedMark) -> float | None:
        """None outside the whole cycles of the leading arm."""
        n = bisect_right(self._starts, mark.time_s) - 1
        if n < 0:
            return None
        cycle = self._cycles[n]
        share = (mark.time_s - self._starts[n]) / cycle.seconds
        return share if share < 1 and mark.length == cycle.length else None

    def place(self, marks: Sequence[OrderedMark]) -> Place | None:
        shares = [s for m in marks if (s := self.share(m)) is not None]
        return circular(shares) if shares else None


def circular(shares: Sequence[float]) -> Place:
    """Mean and spread of places on a circle of length 1. shares: at least one.

    The spread is the circular standard deviation, sqrt(-2 ln R) / (2 pi) of the circle.
    """
    x = math.fsum(math.cos(2 * math.pi * s) for s in shares) / len(shares)
    y = math.fsum(math.sin(2 * math.pi * s) for s in shares) / len(shares)
    length = min(1.0, math.hypot(x, y))
    sd = math.sqrt(-2 * math.log(length)) / (2 * math.pi) if length > 0 else 0.5
    return Place(math.atan2(y, x) / (2 * math.pi) % 1.0, sd, len(shares))


def _arm_name(arm: str) -> str:
    return "arms" if arm == "both" else f"{arm} arm"


def _arm_arcs(resolved: ResolvedMarks, arm: Side, turning: _Turning) -> tuple[Arc, ...]:
    opens = resolved.stroke.opens
    places = {opens: turning.place(resolved.openings(arm))}
    for event in resolved.stroke.arm_events[1:]:
        places[event] = turning.place(resolved.marks_of(event, arm))
    arcs = []
    for phase in resolved.stroke.phases:
        start, end = places.get(phase.start), places.get(phase.end)
        if start is not None and end is not None:
            arcs.append(Arc(phase.name, start, end))
    return tuple(arcs)


def _breath_arcs(resolved: ResolvedMarks, turning: _Turning) -> tuple[Arc, ...]:
    """Breaths of each side by themselves: to both sides they lie half a cycle apart."""
    arcs = []
    for side in dict.fromkeys(b.side for b in resolved.breaths):
        own = [b for b in resolved.breaths if b.side == side]
        turn = turning.place([b.turn for b in own if b.turn])
        air = turning.place([b.air for b in own])
        down = turning.place([b.down for b in own if b.down])
        if turn and air:
            arcs.append(Arc("turn", turn, air, side))
        if air and down:
            arcs.append(Arc("air", air, down, side))
    return tuple(arcs)


def _leg_arcs(resolved: ResolvedMarks, turning: _Turning) -> tuple[Arc, ...]:
    opens = resolved.stroke.leg_cycle[0]
    arcs = []
    for phase in resolved.stroke.leg_phases:
        ends = [
            turning.place([p for s in resolved.leg_slots if (p := s.at(event, opens))])
            for event in (phase.start, phase.end)
        ]
        if ends[0] and ends[1] and phase.name != "glide":
            arcs.append(Arc(phase.name, ends[0], ends[1]))
    return tuple(arcs)
