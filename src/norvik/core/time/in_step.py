"""Two films in step: which instant of the one belongs to an instant of the other.

By phase each phase of a cycle is stretched on the other's; by event all events of one kind line up
and real time runs between them; by clock real seconds run from one common instant on. By hand is
by clock with an instant that the coach sets. Times are real seconds of each film's own clock.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace

from norvik.core.errors import MarkError
from norvik.core.strokes.definitions import event_name
from norvik.core.strokes.names import Side
from norvik.core.time.resolve import ResolvedMarks
from norvik.core.time.two_clocks import TwoClocks

WAYS = ("phase", "event", "clock", "hand")
#: Two events are one where they lie nearer than this, in seconds.
_SAME_S = 1e-6
#: Longer than any film, in seconds.
_FOR_EVER_S = 1e5


@dataclass(frozen=True, slots=True)
class Anchor:
    """An instant that both films have. event: its name, or empty."""

    one_s: float
    other_s: float
    event: str = ""


@dataclass(frozen=True)
class InStep:
    """How the time of one film runs on that of another.

    anchors: in time order, both ways. stretched: between two anchors the one film's time is
    stretched on the other's; else the other runs in real time from the last anchor, and no further
    than to its next one. Before the first and after the last anchor both run in real time.
    """

    anchors: tuple[Anchor, ...]
    stretched: bool = True

    def other(self, one_s: float) -> float:
        """The instant of the other film that belongs to one of the first."""
        return _mapped(one_s, [(a.one_s, a.other_s) for a in self.anchors], self.stretched)

    def one(self, other_s: float) -> float:
        """The instant of the first film that belongs to one of the other."""
        return _mapped(other_s, [(a.other_s, a.one_s) for a in self.anchors], self.stretched)

    @property
    def turned(self) -> InStep:
        """The same with the films changed round."""
        return replace(
            self, anchors=tuple(Anchor(a.other_s, a.one_s, a.event) for a in self.anchors)
        )


def _mapped(at_s: float, anchors: Sequence[tuple[float, float]], stretched: bool) -> float:
    n = bisect_right([a for a, _ in anchors], at_s) - 1
    if n < 0:
        first = anchors[0]
        return first[1] + (at_s - first[0])
    begin, there = anchors[n]
    if n + 1 == len(anchors):
        return there + (at_s - begin)
    end, there_too = anchors[n + 1]
    if stretched:
        return there + (there_too - there) * (at_s - begin) / (end - begin)
    return min(there + (at_s - begin), there_too)


@dataclass(frozen=True, slots=True)
class CycleEvents:
    """A whole cycle of one arm: (event, seconds) from its opening on, and its end."""

    side: Side
    events: tuple[tuple[str, float], ...]
    end_s: float

    @property
    def begin_s(self) -> float:
        return self.events[0][1]


def cycles_of_arm(resolved: ResolvedMarks, side: Side) -> list[CycleEvents]:
    """The whole cycles of an arm in time order."""
    arms = resolved.stroke.arms
    wanted = side if side in arms else arms[-1]
    found = []
    for slot in resolved.cycles:
        if slot.side != wanted or slot.start is None or slot.end is None:
            continue
        inner = sorted((m.time_s, event) for event, m in slot.inner.items())
        events = ((slot.start.mark.event, slot.start.time_s), *((e, t) for t, e in inner))
        found.append(CycleEvents(wanted, events, slot.end.time_s))
    return found


def by_phase(
    one: Sequence[CycleEvents], other: Sequence[CycleEvents], n: int = 0, m: int = 0
) -> InStep:
    """Cycle n of the one film lies on cycle m of the other, and those around them on each other.

    Events that only one of the two cycles has are passed over: what lies between the events that
    both have is stretched as a whole. Raises MarkError where a film has no whole cycle.
    """
    for which, cycles in (("first", one), ("second", other)):
        if not cycles:
            raise MarkError(
                f"The {which} film has no whole cycle of this arm: mark it from one hand entry to "
                "the next, or step by event or by clock."
            )
    if not (0 <= n < len(one) and 0 <= m < len(other)):
        raise MarkError("This cycle is no longer marked. Reload the page.")
    back = min(n, m)
    pairs = zip(one[n - back :], other[m - back :], strict=False)
    anchors: list[Anchor] = []
    for mine, theirs in pairs:
        there = dict(theirs.events)
        for event, at in mine.events:
            if event in there:
                anchors.append(Anchor(at, there[event], event))
        anchors.append(Anchor(mine.end_s, theirs.end_s, mine.events[0][0]))
    return InStep(_in_order(anchors))


def by_event(
    one: Sequence[float], other: Sequence[float], event: str, n: int = 0, m: int = 0
) -> InStep:
    """Event n of the one film lies on event m of the other, the next on the next, and so on.

    one, other: the instants of that event in time order. Raises MarkError where a film has none.
    """
    for which, instants in (("first", one), ("second", other)):
        if not instants:
            raise MarkError(
                f"The {which} film has no “{event_name(event)}”: mark one, or step by clock."
            )
    if not (0 <= n < len(one) and 0 <= m < len(other)):
        raise MarkError("This event is no longer marked. Reload the page.")
    back = min(n, m)
    pairs = zip(one[n - back :], other[m - back :], strict=False)
    return InStep(_in_order([Anchor(a, b, event) for a, b in pairs]), stretched=False)


def by_two_clocks(clocks: TwoClocks) -> InStep:
    """Two cameras on one swim: by the clock of the one told by the clock of the other."""
    # Wide enough for every film: between two instants that far apart lies everything.
    ends = (-_FOR_EVER_S, _FOR_EVER_S)
    return InStep(tuple(Anchor(at, clocks.other(at)) for at in ends))


def laid_end_to_end(cycle: CycleEvents, count: int) -> list[CycleEvents]:
    """One cycle so many times over, each from where the one before it ends."""
    long = cycle.end_s - cycle.begin_s
    return [
        CycleEvents(
            cycle.side,
            tuple((event, at + n * long) for event, at in cycle.events),
            cycle.end_s + n * long,
        )
        for n in range(count)
    ]


def by_clock(one_s: float, other_s: float) -> InStep:
    """From a common instant on, in real seconds both ways."""
    return InStep((Anchor(one_s, other_s),))


def _in_order(anchors: Sequence[Anchor]) -> tuple[Anchor, ...]:
    """Those that go forward in both films: the end of a cycle is the beginning of the next."""
    kept: list[Anchor] = []
    for anchor in anchors:
        if kept and (
            anchor.one_s <= kept[-1].one_s + _SAME_S or anchor.other_s <= kept[-1].other_s + _SAME_S
        ):
            continue
        kept.append(anchor)
    return tuple(kept)
