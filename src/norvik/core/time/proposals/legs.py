"""The kick: once one cycle of it is marked, every further beat is the same beat a cycle later."""

from __future__ import annotations

from norvik.core.statistics import mean
from norvik.core.strokes.names import Side
from norvik.core.time.proposals.arms import of_slots
from norvik.core.time.proposals.proposal import MOST_CYCLES, Proposal, before_wall
from norvik.core.time.resolve import OrderedMark, ResolvedMarks

#: Without a marked cycle of an arm the legs' own rhythm counts, from this many beats on.
_LEAST_BEATS_ALONE = 4
_OTHER: dict[Side, Side] = {"left": "right", "right": "left"}


def leg_proposals(resolved: ResolvedMarks, until_s: float) -> list[Proposal]:
    """Beats (or the events of a leg cycle) that follow the last one marked, up to until_s seconds.

    A kick is not even: within a cycle of the arms some beats lie nearer to each other. So a beat
    is proposed one cycle after the beat that stood in its place, not after a mean interval.
    """
    if resolved.stroke.leg_cycle:
        slots, events = list(resolved.leg_slots), resolved.stroke.leg_cycle
        return of_slots(resolved, slots, events, until_s, 1, "", "leg")
    return _beats(resolved, until_s)


def _beats(resolved: ResolvedMarks, until_s: float) -> list[Proposal]:
    if not resolved.beats:
        return []
    last = resolved.beats[-1]
    beats = [p for p in resolved.beats if p.length == last.length]
    rhythm = _rhythm(resolved, beats)
    if rhythm is None:
        return []
    each, cycle_s = rhythm
    until_s = before_wall(resolved, last.time_s, until_s)
    times = [p.time_s for p in beats]
    side, found = last.mark.side, []
    for _ in range(each * MOST_CYCLES):
        times.append(times[-each] + cycle_s)
        side = _OTHER.get(side, side)
        if times[-1] > until_s or times[-1] <= times[-2]:
            break
        found.append(Proposal(times[-1], side, "beat", "leg"))
    return found


def _rhythm(resolved: ResolvedMarks, beats: list[OrderedMark]) -> tuple[int, float] | None:
    """(beats in a cycle, seconds of a cycle), or None while less than one cycle is marked."""
    if len(beats) < 2:
        return None
    interval_s = (beats[-1].time_s - beats[0].time_s) / (len(beats) - 1)
    if interval_s <= 0:
        return None
    near = [
        c.seconds
        for c in resolved.cycles
        if c.overlaps(beats[0].time_s - c.seconds, beats[-1].time_s + c.seconds)
    ]
    cycle_s = mean(near)
    if cycle_s is None:
        if len(beats) < _LEAST_BEATS_ALONE:
            return None
        return 2, 2 * interval_s
    each = max(1, round(cycle_s / interval_s))
    return (each, cycle_s) if len(beats) >= max(2, each) else None
