"""What a quantity of time is: one declaration from which everything else follows.

The bench shows it, judging holds it against limits, two clips are compared by it, speed steps and
files list it, and the documentation describes it, all from its `Quantity`. A new one is declared in
the file of what it belongs to, and nowhere else.

The simplest way to declare one is `mean_interval`: the marks between which it lies. Value,
instances, the frames that show it and its uncertainty follow from them.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from norvik.core.strokes import Phase
from norvik.core.strokes.names import STROKE_NAMES, Side, StrokeName
from norvik.core.time.coordination import nearest
from norvik.core.time.kick import kicks_in_cycles
from norvik.core.time.own_spread import of_values
from norvik.core.time.phases import phase_seconds
from norvik.core.time.plus_minus import Certainty, Own
from norvik.core.time.resolve import OrderedMark
from norvik.core.time.timing import Timing

#: Between two marks, the earlier or the one that is compared with first.
Interval = tuple[OrderedMark, OrderedMark]
#: Tabs of the bench, in their order.
Topic = Literal["rate", "phases", "coordination", "breathing", "kick", "walls", "speed"]
TOPICS: dict[Topic, str] = {
    "rate": "Rate",
    "phases": "Phases",
    "coordination": "Timing",
    "breathing": "Breath",
    "kick": "Kick",
    "walls": "Walls",
    "speed": "Speed",
}
EVERY_STROKE = STROKE_NAMES


@dataclass(frozen=True, slots=True)
class Occurrence:
    """One instance: where to look (real seconds) and its own value in the quantity's unit."""

    time_s: float
    value: float
    side: Side = ""


@dataclass(frozen=True, slots=True)
class Reading:
    """One clip's value.

    u: standard uncertainty of this clip, in the quantity's unit; None when it is not known, 0 for a
    count. certainty: what that is made of, and how well the clip tells the swimmer; None for a
    count or where nothing is known. hits: of a share of counts, (how many, of how many).
    """

    value: float
    u: float | None
    occurrences: tuple[Occurrence, ...] = ()
    certainty: Certainty | None = None
    hits: tuple[int, int] | None = None

    @property
    def own(self) -> Own | None:
        """How well the clip tells the swimmer's long-run value; None where it can't."""
        return self.certainty.swimmer if self.certainty else None


@dataclass(frozen=True, slots=True)
class Quantity:
    """A quantity of time.

    id: as limits name it, and the files; never changes. name: on screen, with `unit` and `digits`.
    read: its value from the marks; None when they do not tell, then nothing is judged.
    definition: in one sentence what is measured, for the coach; source where it was published.
    topic: where it stands on the bench; empty: not shown there. strokes: those that have it.
    path: of the same number in `norvik timing --json`, where it had a place before `quantities`.
    counted: a count or a share of counts, which has no plus-minus. signed: False shows its size,
    and `note` says which way it goes. with_speed: a swimmer's pace can change it, so that speed
    steps list it. compared: two clips are compared by it; False where another one says the same.
    intervals: the marks whose mean interval it is; of_cycle: in percent of the mean
    cycle, else in seconds.
    """

    id: str
    name: str
    unit: str
    digits: int
    read: Callable[[Timing], Reading | None]
    definition: str = ""
    topic: Topic | None = None
    strokes: tuple[StrokeName, ...] = EVERY_STROKE
    path: str = ""
    counted: bool = False
    signed: bool = True
    note: Callable[[Timing], str] | None = None
    with_speed: bool = False
    intervals: Callable[[Timing], Sequence[Interval]] | None = None
    of_cycle: bool = False
    compared: bool = True

    def of(self, timing: Timing) -> Reading | None:
        """`read`, once for each timing: a quantity stands in several limits."""
        if self.id not in timing.readings:
            timing.readings[self.id] = self.read(timing)
        found: Reading | None = timing.readings[self.id]
        return found


def mean_interval(
    id: str,
    name: str,
    intervals: Callable[[Timing], Sequence[Interval]],
    *,
    of_cycle: bool = False,
    digits: int | None = None,
    look_at: Literal["start", "end"] = "end",
    side: Callable[[Interval], Side] = lambda ends: "",
    definition: str = "",
    topic: Topic | None = None,
    strokes: tuple[StrokeName, ...] = EVERY_STROKE,
    path: str = "",
    note: Callable[[Timing], str] | None = None,
    signed: bool = True,
    with_speed: bool = False,
    compared: bool = True,
) -> Quantity:
    """A quantity that is the mean of intervals between two marks each.

    of_cycle: in percent of the mean cycle time, else in seconds. look_at: the mark that shows an
    instance. side: of an instance, where it has one.
    """

    def read(timing: Timing) -> Reading | None:
        if timing.stroke not in strokes:
            return None
        found, cycle_s = intervals(timing), timing.resolved.mean_cycle_s
        if not found or (of_cycle and not cycle_s):
            return None
        whole = 100 / cycle_s if of_cycle and cycle_s else 1.0
        shown = tuple(
            Occurrence(
                (a if look_at == "start" else b).time_s, whole * (b.time_s - a.time_s), side((a, b))
            )
            for a, b in found
        )
        value = math.fsum(o.value for o in shown) / len(shown)
        return reading_of(timing, value, path or f"quantities.{id}", shown)

    return Quantity(
        id, name, "%" if of_cycle else "s", (0 if of_cycle else 2) if digits is None else digits,
        read, definition, topic, strokes, path, False, signed, note, with_speed, intervals,
        of_cycle,
        compared,
    )  # fmt: skip


def from_timing(timing: Timing, path: str) -> float | None:
    """The number under a dotted path of a Timing; None where it is not known."""
    value: object = timing
    for name in path.split("."):
        value = value.get(name) if isinstance(value, dict) else getattr(value, name, None)
    return float(value) if isinstance(value, (int, float)) else None


def of_path(
    path: str, instants: Callable[[Timing], Sequence[OrderedMark]], counted: bool = False
) -> Callable[[Timing], Reading | None]:
    """Reads a number that a Timing holds under a dotted path; instants: the marks that show it."""

    def read(timing: Timing) -> Reading | None:
        value = from_timing(timing, path)
        if value is None:
            return None
        shown = tuple(Occurrence(p.time_s, value, p.mark.side) for p in instants(timing))
        return Reading(value, 0.0, shown) if counted else reading_of(timing, value, path, shown)

    return read


def starts_of_cycles(timing: Timing) -> list[OrderedMark]:
    return [c.start for c in timing.resolved.cycles if c.start]


def mean_reading(timing: Timing, found: list[Occurrence], path: str) -> Reading | None:
    """Mean of the instances, with the uncertainty of the quantity under that dotted path."""
    if not found:
        return None
    return reading_of(timing, math.fsum(o.value for o in found) / len(found), path, found)


def reading_of(timing: Timing, value: float, path: str, found: Sequence[Occurrence]) -> Reading:
    """A value with what is known of it under a dotted path."""
    certainty = timing.certainty.get(path)
    u = None if certainty is None else certainty.clip
    return Reading(value, u, tuple(found), certainty)


def counted_each(value: float, found: Sequence[Occurrence], counts: Sequence[float]) -> Reading:
    """A mean of counts. counts: the single ones, which tell how much the swimmer's differ.

    One more or less at an end is no difference: half a count over their number is the least.
    """
    own = of_values(counts)
    if own is not None:
        own = Own(max(own.u, 0.5 / len(counts)), own.dof)
    return Reading(value, 0.0, tuple(found), Certainty(0.0, own=own))


def counts_of_rhythm(timing: Timing) -> list[int]:
    """Kicks in each cycle of the arm that has most of them: both arms swim one rhythm."""
    by_arm: dict[str, list[int]] = {}
    for side, count in kicks_in_cycles(timing.resolved):
        by_arm.setdefault(side, []).append(count)
    return max(by_arm.values(), key=len, default=[])


def share_of_counts(hits: int, n: int, found: Sequence[Occurrence], whole: float = 100) -> Reading:
    """A share of counts: hits of n, as a part of `whole`."""
    return Reading(whole * hits / n, 0.0, tuple(found), None, (hits, n))


def phase_share(
    phase: Phase, at: str, path: str, strokes: tuple[StrokeName, ...]
) -> Callable[[Timing], Reading | None]:
    """Reads a phase of the arm in percent of its own cycle, in these strokes.

    at: the inner event that shows it, or the one that opens the cycle. path: of its uncertainty.
    """

    def read(timing: Timing) -> Reading | None:
        if timing.stroke not in strokes:
            return None
        opens = timing.resolved.stroke.opens
        found = [
            Occurrence(shows.time_s, 100 * seconds / c.seconds, c.side)
            for c in timing.resolved.cycles
            if (seconds := phase_seconds(c, phase, opens)) is not None
            and (shows := c.at(at, opens)) is not None
        ]
        return mean_reading(timing, found, path)

    return read


def near_arm_event(event: str) -> Callable[[Timing], list[Interval]]:
    """Each breath's mouth out with the nearest of an arm event, that of the arms first.

    Both lie on the same side of a wall and less than half a cycle apart.
    """

    def pairs(timing: Timing) -> list[Interval]:
        resolved, cycle_s = timing.resolved, timing.resolved.mean_cycle_s
        if not cycle_s:
            return []
        found = []
        for air in (b.air for b in resolved.breaths):
            here = [p for p in resolved.marks_of(event, "both") if p.length == air.length]
            mark = nearest(here, air.time_s)
            if mark is not None and abs(air.time_s - mark.time_s) < cycle_s / 2:
                found.append((mark, air))
        return found

    return pairs
