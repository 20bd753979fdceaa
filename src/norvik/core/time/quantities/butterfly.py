"""Quantities of butterfly: breath, head, landing and kicks against the arms."""

from __future__ import annotations

from norvik.core.strokes import Phase
from norvik.core.time.quantities.quantity import (
    Occurrence,
    Quantity,
    Reading,
    air_after,
    mean_of_pairs,
    phase_share,
)
from norvik.core.time.timing import Timing

#: Above 0 the hands have left already.
_breath = air_after("exit", "butterfly")


def _head_return(timing: Timing) -> Reading | None:
    """Hands landing minus face in, of the mean cycle; below 0 the head is later than the hands."""
    resolved, cycle_s = timing.resolved, timing.resolved.mean_cycle_s
    if timing.stroke != "butterfly" or not cycle_s:
        return None
    found = []
    for b in resolved.breaths:
        landing = next(
            (p for p in resolved.openings() if p.order > b.air.order and p.length == b.air.length),
            None,
        )
        if b.down is not None and landing is not None:
            early = landing.time_s - b.down.time_s
            if abs(early) < cycle_s / 2:
                found.append(Occurrence(b.down.time_s, 100 * early / cycle_s))
    return mean_of_pairs(timing, found)


def _breaths(timing: Timing) -> Reading | None:
    per_cycle = timing.breathing.breaths_per_cycle
    if timing.stroke != "butterfly" or per_cycle is None or timing.cycles.count < 3:
        return None
    airs = tuple(Occurrence(b.air.time_s, per_cycle) for b in timing.resolved.breaths)
    return Reading(per_cycle, 0.0, airs)


#: Entry to catch: the wait at the landing.
_reach_share = phase_share(
    Phase("entry", "entry", "catch"), "catch", "phases.both.entry.share_pct", ("butterfly",)
)


def _beats(timing: Timing) -> Reading | None:
    per_cycle = timing.kick.beats_per_cycle if timing.kick else None
    if timing.stroke != "butterfly" or per_cycle is None:
        return None
    starts = tuple(Occurrence(c.start.time_s, per_cycle) for c in timing.resolved.cycles if c.start)
    return Reading(per_cycle, 0.0, starts)


#: Own choice: a kick that far from the hands leaving, in shares of the cycle, is not theirs.
_WITH_THE_EXIT = 0.15


def _out_kick(timing: Timing) -> Reading | None:
    """Share of cycles with a kick as the hands finish, among those that the marked kicks cover."""
    resolved, cycle_s = timing.resolved, timing.resolved.mean_cycle_s
    if timing.stroke != "butterfly" or not cycle_s or len(resolved.beats) < 3:
        return None
    beats = resolved.beats
    found = []
    for cycle in resolved.cycles:
        leaves = cycle.inner.get("exit")
        if leaves is None or not cycle.start or not cycle.end:
            continue
        here = [b for b in beats if b.length == leaves.length]
        if not here or here[0].time_s > cycle.end.time_s or here[-1].time_s < cycle.start.time_s:
            continue
        near = min(abs(b.time_s - leaves.time_s) for b in here)
        found.append(Occurrence(leaves.time_s, float(near <= _WITH_THE_EXIT * cycle_s)))
    if len(found) < 3:
        return None
    return Reading(sum(o.value for o in found) / len(found), 0.0, tuple(found))


BUTTERFLY = (
    Quantity("fly-breath", "Mouth clear after the hands left, of the cycle", "%", 0, _breath),
    Quantity("fly-head-return", "Face in before the hands land, of the cycle", "%", 0,
             _head_return),
    Quantity("fly-breaths", "Breaths a stroke", "", 1, _breaths),
    Quantity("fly-reach-share", "Landing until the catch, of the cycle", "%", 0, _reach_share),
    Quantity("fly-out-kick", "Strokes with a kick at the finish", "", 2, _out_kick),
    Quantity("fly-beats", "Kicks a stroke", "", 1, _beats),
)  # fmt: skip
