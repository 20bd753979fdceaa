"""Where the next events of an arm probably lie, from the rhythm of the cycles that are marked.

A proposal is no mark: it enters no number until the coach has looked at its frame and confirmed it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.settle import Placed, Settled, Slot
from norvik.core.statistics import mean

#: Cycles of an arm that have to be marked before its rhythm is trusted without being asked.
LEAST_CYCLES = 2
#: The last so many cycles count: rhythm drifts.
_RECENT = 4
#: Nobody looks further ahead than this many cycles.
_MOST_CYCLES = 40


@dataclass(frozen=True, slots=True)
class Proposal:
    """One event at the instant (real seconds) at which it is expected; of an arm, mostly."""

    time_s: float
    side: str
    event: str
    lane: str = "arm"


def propose(settled: Settled, until_s: float, least_cycles: int = LEAST_CYCLES) -> list[Proposal]:
    """Events that follow the last mark of each arm, in time order, up to until_s.

    Each is the last mark of its arm plus the usual time between the two events; what is marked
    or moved thereby shifts all that follow. Nothing is proposed beyond a wall that is marked.
    least_cycles: 1 copies the one cycle that is marked.
    """
    found: list[Proposal] = []
    for arm in settled.stroke.arms:
        found += _of_arm(settled, arm, until_s, least_cycles)
    return sorted(found, key=lambda p: p.time_s)


#: Two proposals of one event that lie nearer than this are one, in seconds.
_SAME_S = 0.2


def merged(usual: Sequence[Proposal], seen: Sequence[Proposal]) -> list[Proposal]:
    """Proposals from the rhythm and from followed points, in time order.

    What was seen on the film counts more than what is usual: a usual one near a seen one goes.
    """
    kept = [
        p
        for p in usual
        if not any(
            (s.lane, s.side, s.event) == (p.lane, p.side, p.event)
            and abs(s.time_s - p.time_s) < _SAME_S
            for s in seen
        )
    ]
    return sorted([*kept, *seen], key=lambda p: p.time_s)


def _of_arm(settled: Settled, arm: str, until_s: float, least_cycles: int) -> list[Proposal]:
    cycles = [c for c in settled.cycles if c.side == arm][-_RECENT:]
    last = _last_mark(settled, arm)
    if len(cycles) < max(1, least_cycles) or last is None:
        return []
    opens = settled.stroke.opens
    offsets = _offsets(cycles, settled.stroke.arm_events[1:])
    cycle_s = mean([c.seconds for c in cycles])
    if cycle_s is None or last.mark.event not in {opens, *offsets}:
        return []
    walls = (w.time_s for w in settled.walls if w.time_s > last.time_s)
    until_s = min([until_s, *walls])
    # Seconds after the opening of the cycle in which the last mark lies.
    since_s = offsets.get(last.mark.event, 0.0)
    begin_s = last.time_s - since_s
    proposals = []
    for n in range(_MOST_CYCLES):
        for event, offset_s in ((opens, 0.0), *offsets.items()):
            time_s = begin_s + n * cycle_s + offset_s
            if time_s > last.time_s + 1e-9 and time_s <= until_s:
                proposals.append(Proposal(time_s, arm, event))
    return proposals


def _last_mark(settled: Settled, arm: str) -> Placed | None:
    slots = [s for s in settled.slots if s.side == arm]
    marks = [p for s in slots for p in (s.start, s.end, *s.inner.values(), *s.loose) if p]
    return max(marks, key=lambda p: p.order, default=None)


def _offsets(cycles: list[Slot], events: tuple[str, ...]) -> dict[str, float]:
    """Mean seconds from the opening to each inner event that the cycles have, in their order."""
    found: dict[str, float] = {}
    for event in events:
        after = mean(
            [
                c.inner[event].time_s - c.start.time_s
                for c in cycles
                if c.start is not None and event in c.inner
            ]
        )
        if after is not None:
            found[event] = after
    return found
