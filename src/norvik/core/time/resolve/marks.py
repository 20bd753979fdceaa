"""The containers that resolved marks live in."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple

from norvik.core.strokes import StrokeRules
from norvik.core.strokes.events import Mark, Problem
from norvik.core.strokes.names import Side

#: Thresholds in seconds are compared with this much grace, so that 1.4 - 1.0 is not "under 0.4".
EPSILON_S = 1e-9


class OrderedMark(NamedTuple):
    """A mark that counts. order: its place among all marks; length: walls met before it."""

    mark: Mark
    order: int
    length: int
    time_s: float


@dataclass(slots=True)
class Slot:
    """What lies between two openings of an arm (or leg) cycle.

    kind: "cycle" counts; "gap" seems to hold a missing opening and is no cycle; "partial" lacks
    its opening or its end (clip or wall). inner: event name to the one mark of it; empty in a gap,
    whose marks stand in `loose`. seconds: duration of a cycle or gap; NaN for a partial slot.
    """

    side: Side
    length: int
    start: OrderedMark | None
    end: OrderedMark | None
    kind: str
    inner: dict[str, OrderedMark] = field(default_factory=dict)
    loose: list[OrderedMark] = field(default_factory=list)
    seconds: float = field(init=False, default=math.nan)

    def __post_init__(self) -> None:
        if self.start is not None and self.end is not None:
            self.seconds = self.end.time_s - self.start.time_s

    @property
    def middle_s(self) -> float:
        if self.start is None or self.end is None:
            return float("nan")
        return (self.start.time_s + self.end.time_s) / 2

    def at(self, event: str, opens: str) -> OrderedMark | None:
        """The mark of an event in this slot, its opening included."""
        return self.start if event == opens else self.inner.get(event)

    def overlaps(self, from_s: float, to_s: float) -> bool:
        """Does the open interval of this slot share time with from_s..to_s?"""
        if self.start is None or self.end is None:
            return False
        return from_s < self.end.time_s and to_s > self.start.time_s


@dataclass(frozen=True, slots=True)
class Breath:
    """One breath: its air, with turn and down where they are marked."""

    air: OrderedMark
    turn: OrderedMark | None
    down: OrderedMark | None
    side: Side


@dataclass(frozen=True, slots=True)
class Exhale:
    """A complete stretch from face in to next air, and the stretches in it with bubbles.

    Bubbles that go on beyond an end of the stretch are cut off there.
    """

    ends: tuple[OrderedMark, OrderedMark]
    bubbles: tuple[tuple[OrderedMark, OrderedMark], ...]

    @property
    def from_s(self) -> float:
        return self.ends[0].time_s

    @property
    def seconds(self) -> float:
        return self.ends[1].time_s - self.ends[0].time_s

    @property
    def bubbles_s(self) -> float:
        return sum(off.time_s - on.time_s for on, off in self.bubbles)


@dataclass(frozen=True)
class ResolvedMarks:
    """All marks of one clip, resolved. Sequences are in time order. placed: the marks that count.

    bubbles: closed stretches of bubbles, from and to in seconds. open_turn_s: seconds of the
    last turn of the head that has no air yet; None without one. ups: the foot at its highest.
    """

    stroke: StrokeRules
    placed: tuple[OrderedMark, ...]
    slots: tuple[Slot, ...]
    beats: tuple[OrderedMark, ...]
    leg_slots: tuple[Slot, ...]
    breaths: tuple[Breath, ...]
    exhales: tuple[Exhale, ...]
    bubbles: tuple[tuple[float, float], ...]
    walls: tuple[OrderedMark, ...]
    passes: tuple[OrderedMark, ...]
    problems: tuple[Problem, ...]
    open_turn_s: float | None = None
    ups: tuple[OrderedMark, ...] = ()

    @property
    def count(self) -> int:
        return len(self.placed)

    @cached_property
    def cycles(self) -> tuple[Slot, ...]:
        """Whole cycles of all arms, by their start."""
        whole = [s for s in self.slots if s.kind == "cycle"]
        return tuple(sorted(whole, key=lambda s: s.start.order if s.start else -1))

    @cached_property
    def gaps(self) -> tuple[Slot, ...]:
        return tuple(s for s in self.slots if s.kind == "gap")

    @cached_property
    def mean_cycle_s(self) -> float | None:
        cycles = self.cycles
        return sum(c.seconds for c in cycles) / len(cycles) if cycles else None

    def slot_of(self, key: int) -> Slot | None:
        """The slot that a mark opens or lies in, by the mark's key."""
        for slot in self.slots:
            inside = (slot.start, *slot.inner.values(), *slot.loose)
            if any(p is not None and p.mark.key == key for p in inside):
                return slot
        return None

    def openings(self, side: Side | None = None) -> list[OrderedMark]:
        """Kept entries (breaststroke: outs) of one arm or of all, in time order."""
        return self._openings[side or ""]

    @cached_property
    def _openings(self) -> dict[str, list[OrderedMark]]:
        found: dict[str, list[OrderedMark]] = {side: [] for side in ("", *self.stroke.arms)}
        for slot in self.slots:
            if slot.start:
                found[slot.side].append(slot.start)
                found[""].append(slot.start)
        found[""].sort(key=lambda p: p.order)
        return found

    def marks_of(self, event: str, side: Side) -> list[OrderedMark]:
        """Kept marks of an inner arm event in time order, partial cycles and gaps included."""
        return self._marks_of.get((event, side), [])

    @cached_property
    def _marks_of(self) -> dict[tuple[str, str], list[OrderedMark]]:
        found: dict[tuple[str, str], list[OrderedMark]] = {}
        for slot in self.slots:
            for p in (*slot.inner.values(), *slot.loose):
                found.setdefault((p.mark.event, slot.side), []).append(p)
        return found

    def gap_between(self, from_s: float, to_s: float, side: Side | None = None) -> bool:
        """Does a missing entry of an arm (or of any) fall in this stretch of time?"""
        gaps = self.gaps
        if not gaps:
            return False
        return any(g.overlaps(from_s, to_s) for g in gaps if side in (None, g.side))
