"""Kicks at the surface: how many, how fast, and where they pause."""

from __future__ import annotations

import math
from itertools import pairwise

from norvik.core.statistics import median
from norvik.core.strokes.names import StrokeName
from norvik.core.time.kick import gaps_over, surface_beats, surface_gaps
from norvik.core.time.own_spread import of_values
from norvik.core.time.plus_minus import Certainty
from norvik.core.time.quantities.quantity import (
    Occurrence,
    Quantity,
    Reading,
    counted_each,
    counts_of_rhythm,
    of_path,
    starts_of_cycles,
)
from norvik.core.time.resolve import OrderedMark
from norvik.core.time.timing import Timing

_BEATS = {2: "two-beat kick", 4: "four-beat kick", 6: "six-beat kick"}


def _beats(timing: Timing) -> list[OrderedMark]:
    gaps = surface_gaps(timing.resolved)
    return [gaps[0][0], *(b for _, b in gaps)] if gaps else []


def _pattern(timing: Timing) -> str:
    per_cycle = timing.kick.beats_per_cycle if timing.kick else None
    if not per_cycle or abs(per_cycle % 1 - 0.5) <= 0.3:
        return ""
    return _BEATS.get(round(per_cycle), "")


def _freestyle_kicks(timing: Timing) -> Reading | None:
    """Kicks in a whole cycle of freestyle."""
    per_cycle = timing.kick.beats_per_cycle if timing.kick else None
    if timing.stroke != "freestyle" or per_cycle is None:
        return None
    found = tuple(Occurrence(p.time_s, per_cycle) for p in starts_of_cycles(timing))
    return counted_each(per_cycle, found, counts_of_rhythm(timing))


def _longest(timing: Timing) -> list[OrderedMark]:
    gaps = surface_gaps(timing.resolved)
    if not gaps:
        return []
    before, after = max(gaps, key=lambda g: g[1].time_s - g[0].time_s)
    return [before, after]


def _kick_gap(timing: Timing) -> Reading | None:
    """Longest gap between kicks over a breath, against the usual gap; mean over the breaths."""
    resolved = timing.resolved
    if timing.kick is None:
        return None
    gaps = [(a, b) for a, b in pairwise(surface_beats(resolved)) if a.length == b.length]
    usual = median([b.time_s - a.time_s for a, b in gaps])
    if not usual or len(gaps) < 4:
        return None
    found = []
    for breath in resolved.breaths:
        to_s = breath.down.time_s if breath.down else breath.air.time_s
        over = gaps_over(gaps, breath.air.time_s, to_s)
        if over:
            a, b = max(over, key=lambda g: g[1].time_s - g[0].time_s)
            found.append(Occurrence(a.time_s, (b.time_s - a.time_s) / usual, breath.side))
    if not found:
        return None
    value = math.fsum(o.value for o in found) / len(found)
    u_beat = timing.marking.spread_s("beat")
    if u_beat is None:
        return Reading(value, None, tuple(found))
    u = u_beat * math.sqrt(2 / len(found)) / usual
    certainty = Certainty(u, own=of_values([o.value for o in found]))
    return Reading(value, certainty.clip, tuple(found), certainty)


_BEATING: tuple[StrokeName, ...] = ("freestyle", "backstroke", "butterfly")
KICK = (
    Quantity(
        "kicks-per-cycle", "Kicks per cycle", "", 1, of_path("kick.beats_per_cycle", _beats, True),
        "Down-kicks of both legs in one cycle of the arms.",
        "kick", _BEATING, "kick.beats_per_cycle", counted=True, note=_pattern, with_speed=True,
        compared=False,
    ),
    Quantity(
        "kicks-per-pull", "Kicks per arm pull", "", 1, of_path("kick.beats_per_pull", _beats, True),
        "Down-kicks of both legs in one arm stroke.",
        "kick", ("freestyle", "backstroke"), "kick.beats_per_pull", counted=True, compared=False,
    ),
    Quantity(
        "kicks-per-min", "Kicks per minute", "kicks/min", 0, of_path("kick.beats_per_min", _beats),
        "Down-kicks of both legs per minute.",
        "kick", _BEATING, "kick.beats_per_min", with_speed=True,
    ),
    Quantity(
        "kick-longest-gap", "Longest gap between kicks", "s", 2,
        of_path("kick.longest_gap_s", _longest), "The longest time from one down-kick to the next.",
        "kick", _BEATING, "kick.longest_gap_s",
    ),
    Quantity(
        "kick-beats", "Kicks per cycle", "", 1, _freestyle_kicks,
        "Down-kicks of both legs in one cycle of the arms.", strokes=("freestyle",), counted=True,
    ),
    Quantity(
        "kick-gap", "Longest kick gap on a breath", "× usual", 1, _kick_gap,
        "The longest gap between kicks during a breath, against the usual gap.",
        strokes=_BEATING,
    ),
)  # fmt: skip
