"""The events of an arm: each is its last mark plus the usual time between the two events."""

from __future__ import annotations

from norvik.core.statistics import mean
from norvik.core.strokes.names import Lane, Side
from norvik.core.time.proposals.proposal import MOST_CYCLES, RECENT, Proposal, before_wall
from norvik.core.time.resolve import OrderedMark, ResolvedMarks, Slot

#: Cycles of an arm that have to be marked before its rhythm is trusted without being asked.
LEAST_CYCLES = 2


def arm_proposals(resolved: ResolvedMarks, until_s: float, least_cycles: int) -> list[Proposal]:
    """Events that follow the last mark of each arm, up to until_s (seconds), arm by arm.

    What is marked or moved shifts all that follow.
    """
    found: list[Proposal] = []
    for arm in resolved.stroke.arms:
        slots = [s for s in resolved.slots if s.side == arm]
        events = resolved.stroke.arm_events
        found += of_slots(resolved, slots, events, until_s, max(1, least_cycles), arm, "arm")
    return found


def of_slots(
    resolved: ResolvedMarks,
    slots: list[Slot],
    events: tuple[str, ...],
    until_s: float,
    least_cycles: int,
    side: Side,
    lane: Lane,
) -> list[Proposal]:
    """What follows the last mark in these slots, when enough of them are whole cycles.

    events: of the lane, the one that opens a cycle first.
    """
    cycles = [s for s in slots if s.kind == "cycle"][-RECENT:]
    marks = [p for s in slots for p in (s.start, s.end, *s.inner.values(), *s.loose) if p]
    last = max(marks, key=lambda p: p.order, default=None)
    if len(cycles) < least_cycles or last is None:
        return []
    opens, *inner = events
    offsets = _offsets(cycles, inner)
    cycle_s = mean([c.seconds for c in cycles])
    if cycle_s is None or last.mark.event not in {opens, *offsets}:
        return []
    until_s = before_wall(resolved, last.time_s, until_s)
    # Seconds after the opening of the cycle in which the last mark lies.
    begin_s = last.time_s - offsets.get(last.mark.event, 0.0)
    return [
        Proposal(time_s, side, event, lane)
        for n in range(MOST_CYCLES)
        for event, offset_s in ((opens, 0.0), *offsets.items())
        if last.time_s + 1e-9 < (time_s := begin_s + n * cycle_s + offset_s) <= until_s
    ]


def _offsets(cycles: list[Slot], events: list[str]) -> dict[str, float]:
    """Mean seconds from the opening to each inner event that the cycles have, in their order."""
    found: dict[str, float] = {}
    for event in events:
        inner: list[tuple[OrderedMark, OrderedMark]] = [
            (c.start, c.inner[event]) for c in cycles if c.start is not None and event in c.inner
        ]
        after = mean([at.time_s - start.time_s for start, at in inner])
        if after is not None:
            found[event] = after
    return found
