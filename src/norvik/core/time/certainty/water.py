"""Breaths, kicks, walls and speed: what is told by marks that belong to no arm."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from norvik.core.time.certainty.gradients import (
    Gradient,
    Gradients,
    Interval,
    Term,
    mean_s,
    seconds_of,
)
from norvik.core.time.kick import surface_gaps
from norvik.core.time.own_spread import of_arms, of_values
from norvik.core.time.plus_minus import Own, joint
from norvik.core.time.resolve import OrderedMark
from norvik.core.time.speed import pass_ends, reach_ends
from norvik.core.time.walls import wall_marks

#: The error function of every number of an array.
_erf = np.vectorize(math.erf, otypes=[float])


def breathing(g: Gradients) -> dict[str, Term]:
    share = g.timing.breathing.exhale_share_pct
    exhales = g.resolved.exhales
    if share is None:
        return {}
    bubbles = [b for e in exhales for b in e.bubbles]
    total = math.fsum(e.seconds for e in exhales)
    gradient = (100 * g.sum(bubbles) - share * g.sum([e.ends for e in exhales])) / total
    # A ratio of sums: what each breath adds to it beyond its share.
    beyond = of_values([100 * e.bubbles_s - share * e.seconds for e in exhales])
    own = beyond.times(len(exhales) / total) if beyond else None
    return {"breathing.exhale_share_pct": Term(gradient, own)}


def kick(g: Gradients, u_mark_s: float) -> dict[str, Term]:
    """u_mark_s: standard uncertainty of the mark of one kick."""
    found_kick, gaps = g.timing.kick, surface_gaps(g.resolved)
    if found_kick is None or not gaps:
        return {}
    lengths = [seconds_of(x) for x in gaps]
    longest = max(range(len(gaps)), key=lambda n: lengths[n])
    found = {
        "kick.longest_gap_s": Term(
            g.sum([gaps[longest]]), None, excess_of_longest(lengths, u_mark_s * math.sqrt(2))
        )
    }
    if found_kick.beats_per_min is not None:
        slope = -found_kick.beats_per_min / math.fsum(lengths)
        blocks = of_values(_cycles_of_kicks(lengths, found_kick.beats_per_cycle))
        each = len(lengths) / _per_block(found_kick.beats_per_cycle)
        own = blocks.times(slope * each) if blocks else None
        found["kick.beats_per_min"] = Term(slope * g.sum(gaps), own)
    return found


def _per_block(per_cycle: float | None) -> int:
    return max(1, round(per_cycle or 1))


def _cycles_of_kicks(lengths: Sequence[float], per_cycle: float | None) -> list[float]:
    """Seconds of one arm cycle's kicks after the other: within a cycle they share its rhythm."""
    size = _per_block(per_cycle)
    whole = len(lengths) // size * size
    return [math.fsum(lengths[n : n + size]) for n in range(0, whole, size)]


def excess_of_longest(lengths: Sequence[float], u: float) -> float:
    """How much marking alone is thought to lengthen the longest of several intervals.

    lengths: seconds, as marked. u: standard uncertainty of one of them, seconds. The longest of
    many is the one that marking made longest: mean of the largest of normal values around the
    lengths, drawn together by what marking has spread them, minus the largest of those.
    """
    n = len(lengths)
    if n < 2 or u <= 0:
        return 0.0
    x = np.array(lengths)
    variance = float(x.var(ddof=1))
    shrunk = math.sqrt(max(0.0, variance - u * u) / variance) if variance > 0 else 0.0
    centres = x.mean() + shrunk * (x - x.mean())
    top = float(centres.max())
    # What is far shorter than the longest is never the longest.
    centres = centres[centres > top - 8 * u]
    at = np.linspace(top - 5 * u, top + 6 * u, 120)
    z = (at[:, None] - centres[None, :]) / (u * math.sqrt(2))
    below = np.prod(0.5 * (1 + _erf(z)), axis=1)
    expected = at[-1] - float(np.sum((below[1:] + below[:-1]) / 2) * (at[1] - at[0]))
    return max(0.0, expected - top)


def walls(g: Gradients) -> dict[str, Term]:
    """Of each wall by itself: one wall has no spread."""
    found: dict[str, Term] = {}
    marks_of_walls = wall_marks(g.resolved, g.timing.pool_m)
    for n, (wall, marks) in enumerate(zip(g.timing.walls, marks_of_walls, strict=True)):
        for name, mark in marks.instants.items():
            one = np.zeros(g.n)
            one[mark.order] = 1
            found[f"walls.{n}.{name}"] = Term(one)
        for name, ends in marks.intervals.items():
            found[f"walls.{n}.{name}"] = Term(g.sum([ends]))
        if marks.breakout is not None and wall.breakout_m is not None:
            found[f"walls.{n}.breakout_m"] = Term(_breakout(g, marks.breakout))
    return found


def _breakout(
    g: Gradients, around: tuple[OrderedMark, float, OrderedMark, float, OrderedMark]
) -> Gradient:
    """Of the metres at the breakout, linear in time between the two places around it."""
    before, m0, after, m1, breakout = around
    span = after.time_s - before.time_s
    share = (breakout.time_s - before.time_s) / span
    speed = (m1 - m0) / span
    gradient = np.zeros(g.n)
    gradient[breakout.order] += speed
    gradient[before.order] -= speed * (1 - share)
    gradient[after.order] -= speed * share
    return gradient


def speed(g: Gradients) -> dict[str, Term]:
    of_clip, lengths = g.timing.speed, pass_ends(g.resolved)
    if of_clip.m_per_s is None:
        return {}
    v_s = of_clip.m_per_s
    v = -v_s / math.fsum(map(seconds_of, lengths)) * g.sum(lengths)
    own_v = of_values([_m_per_s(ends) for ends in lengths if seconds_of(ends) > 0])
    found = {"speed.m_per_s": Term(v, own_v)}
    cycle_s, own_cycle = g.cycle_s, g.own_cycle
    if g.cycle is not None and cycle_s and of_clip.stroke_index is not None:
        dpc = index = None
        if own_v is not None and own_cycle is not None:
            dpc = joint([own_v.times(cycle_s), own_cycle.times(v_s)])
            index = joint([own_v.times(2 * v_s * cycle_s), own_cycle.times(v_s**2)])
        found["speed.distance_per_cycle_m"] = Term(cycle_s * v + v_s * g.cycle, dpc)
        found["speed.stroke_index"] = Term(2 * v_s * cycle_s * v + v_s**2 * g.cycle, index)
    reaches = reach_ends(g.resolved)
    reach = g.mean(reaches)
    if reach is not None and g.timing.hold_distance_m is not None:
        own, own_reach = None, _own_of(reaches)
        if own_v is not None and own_reach is not None:
            own = joint([own_v.times(mean_s(reaches)), own_reach.times(v_s)])
        found["hold_distance_m"] = Term(v_s * reach + mean_s(reaches) * v, own)
    return found


def _m_per_s(ends: Interval) -> float:
    metres = (ends[1].mark.metres or 0.0) - (ends[0].mark.metres or 0.0)
    return metres / seconds_of(ends)


def _own_of(intervals: Sequence[Interval]) -> Own | None:
    """Of the mean of intervals of the arms."""
    by_arm: dict[str, list[tuple[float, float]]] = {}
    for ends in intervals:
        by_arm.setdefault(ends[0].mark.side, []).append((ends[0].time_s, seconds_of(ends)))
    return of_arms(by_arm)
