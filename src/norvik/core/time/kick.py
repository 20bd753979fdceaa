"""Beats of the legs at the surface. Beats between push and breakout belong to the wall."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from norvik.core.statistics import mean, median
from norvik.core.strokes.names import Side
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import OrderedMark, ResolvedMarks

#: Own choice: the legs pause on a breath when a gap there is this many times the usual gap.
PAUSE = 1.5


@dataclass(frozen=True, slots=True)
class Kick:
    """Counts and seconds of beats; pause_on_breath is None without breaths."""

    beats_per_cycle: float | None = None
    beats_per_pull: float | None = None
    beats_per_min: float | None = None
    longest_gap_s: float | None = None
    pause_on_breath: bool | None = None


def surface_beats(resolved: ResolvedMarks) -> list[OrderedMark]:
    """Beats outside the under-water part after a wall.

    That part runs from the push to the breakout or, without one, to the first entry.
    """
    under: list[tuple[int, int]] = []
    for push in (w for w in resolved.walls if w.mark.event == "push"):
        ends = [
            w.order
            for w in resolved.walls
            if w.mark.event == "breakout" and w.length == push.length and w.order > push.order
        ] or [p.order for p in resolved.openings() if p.length == push.length]
        after = [b.order for b in resolved.beats if b.length == push.length]
        under.append((push.order, ends[0] if ends else max(after, default=push.order) + 1))
    if not under:
        return list(resolved.beats)
    return [b for b in resolved.beats if not any(a < b.order < z for a, z in under)]


def surface_gaps(
    resolved: ResolvedMarks, beats: list[OrderedMark] | None = None
) -> list[tuple[OrderedMark, OrderedMark]]:
    """Neighbouring beats at the surface with no wall between. beats: surface_beats(), if known."""
    if beats is None:
        beats = surface_beats(resolved)
    return [(a, b) for a, b in pairwise(beats) if a.length == b.length]


def kick_of(resolved: ResolvedMarks, reasons: Reasons) -> Kick | None:
    """Kick quantities; None in breaststroke, whose legs have phases instead of beats."""
    if resolved.stroke.leg_cycle:
        return None
    beats = surface_beats(resolved)
    gaps = surface_gaps(resolved, beats)
    if not gaps:
        paths = [f"kick.{name}" for name in Kick.__slots__]
        reasons.missing(paths, "needs two kicks at the surface")
        return Kick()
    seconds = [b.time_s - a.time_s for a, b in gaps]
    usual = median(seconds) or 0.0
    per_cycle = mean([count for _, count in _beats_in_cycles(resolved, beats, usual)])
    if per_cycle is None:
        why = "no whole cycle lies within the marked kicks"
        reasons.missing(("kick.beats_per_cycle", "kick.beats_per_pull"), why)
    total_s = sum(seconds)
    per_pull = None if per_cycle is None else per_cycle / resolved.stroke.strokes_per_cycle
    return Kick(
        beats_per_cycle=per_cycle,
        beats_per_pull=per_pull,
        beats_per_min=60 * len(seconds) / total_s if total_s else None,
        longest_gap_s=max(seconds),
        pause_on_breath=_pause_on_breath(resolved, gaps, usual, reasons),
    )


def kicks_in_cycles(resolved: ResolvedMarks) -> list[tuple[Side, int]]:
    """Side of the arm and kicks in each cycle that the marked kicks cover."""
    beats = surface_beats(resolved)
    usual = median([b.time_s - a.time_s for a, b in surface_gaps(resolved, beats)])
    return [] if usual is None else _beats_in_cycles(resolved, beats, usual)


def _beats_in_cycles(
    resolved: ResolvedMarks, beats: list[OrderedMark], usual_gap_s: float
) -> list[tuple[Side, int]]:
    """Side and beats of each cycle that the marked beats of its length cover."""
    counts = []
    times: dict[int, list[float]] = {}
    for beat in beats:
        times.setdefault(beat.length, []).append(beat.time_s)
    for cycle in resolved.cycles:
        assert cycle.start is not None
        assert cycle.end is not None
        here = times.get(cycle.length)
        if not here:
            continue
        begins = cycle.start.time_s >= here[0] - usual_gap_s
        ends = cycle.end.time_s <= here[-1] + usual_gap_s
        if begins and ends:
            first, last = cycle.start.time_s, cycle.end.time_s
            counts.append((cycle.side, bisect_left(here, last) - bisect_left(here, first)))
    return counts


def gaps_over(
    gaps: Sequence[tuple[OrderedMark, OrderedMark]], from_s: float, to_s: float
) -> Sequence[tuple[OrderedMark, OrderedMark]]:
    """The gaps between beats that share time with from_s..to_s. gaps: in time order."""
    first = bisect_left(gaps, from_s, key=lambda gap: gap[1].time_s)
    last = bisect_right(gaps, to_s, key=lambda gap: gap[0].time_s)
    return gaps[first:last]


def _pause_on_breath(
    resolved: ResolvedMarks,
    gaps: list[tuple[OrderedMark, OrderedMark]],
    usual_s: float,
    reasons: Reasons,
) -> bool | None:
    """Is the longest gap over a breath much longer than usual, in at least half of the breaths?"""
    pauses: list[bool] = []
    for breath in resolved.breaths:
        from_s = breath.air.time_s
        to_s = breath.down.time_s if breath.down else from_s
        over = gaps_over(gaps, from_s, to_s)
        if over:
            pauses.append(max(b.time_s - a.time_s for a, b in over) > PAUSE * usual_s)
    if not pauses:
        reasons.missing("kick.pause_on_breath", "no breath lies within the marked kicks")
        return None
    return sum(pauses) >= len(pauses) / 2
