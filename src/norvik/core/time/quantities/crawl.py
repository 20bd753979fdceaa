"""Quantities of freestyle and backstroke, and of the rhythm and the air of every stroke."""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import pairwise

from norvik.core.statistics import median
from norvik.core.strokes import Phase
from norvik.core.time.breathing import Pair, hand_return, head_lead
from norvik.core.time.coordination import hand_overs, hand_steps
from norvik.core.time.cycles import rate_fall
from norvik.core.time.kick import gaps_over, surface_beats
from norvik.core.time.phases import phase_seconds
from norvik.core.time.quantities.quantity import (
    Occurrence,
    Quantity,
    Reading,
    interval_u,
    interval_u_pct,
    mean_reading,
    mean_seconds,
    phase_share,
)
from norvik.core.time.resolve.marks import Breath, OrderedMark, ResolvedMarks
from norvik.core.time.speed import reach_ends
from norvik.core.time.timing import Timing


def _exhale_share(timing: Timing) -> Reading | None:
    share = timing.breathing.exhale_share_pct
    if share is None:
        return None
    found = tuple(
        Occurrence(e.from_s, 100 * e.bubbles_s / e.seconds) for e in timing.resolved.exhales
    )
    return Reading(share, timing.uncertainty.get("breathing.exhale_share_pct"), found)


def _breath_return(timing: Timing) -> Reading | None:
    return _at_breaths(timing, lambda b: b.down, hand_return, "breathing.return_s")


def _head_lead(timing: Timing) -> Reading | None:
    return _at_breaths(timing, lambda b: b.turn, head_lead, "breathing.head_lead_s")


def _at_breaths(
    timing: Timing,
    instant: Callable[[Breath], OrderedMark | None],
    pair_of: Callable[[ResolvedMarks, Breath], Pair | None],
    name: str,
) -> Reading | None:
    """From one instant of a breath to another of head or arm, in seconds, breath by breath."""
    if timing.stroke != "freestyle":
        return None
    resolved = timing.resolved
    found = [
        Occurrence(at.time_s, pair[1].time_s - pair[0].time_s, b.side)
        for b in resolved.breaths
        if (at := instant(b)) is not None and (pair := pair_of(resolved, b)) is not None
    ]
    return mean_reading(timing, found, name)


def _one_side(timing: Timing) -> Reading | None:
    sided = [b for b in timing.resolved.breaths if b.side in ("left", "right")]
    if len(sided) < 3:
        return None
    left = sum(b.side == "left" for b in sided)
    share = 100 * max(left, len(sided) - left) / len(sided)
    # A count of marks has no uncertainty of its own.
    return Reading(share, 0.0, tuple(Occurrence(b.air.time_s, share, b.side) for b in sided))


def _hand_rhythm(timing: Timing) -> Reading | None:
    """How uneven, without its direction. Each step shares its entries with the next."""
    if timing.rhythm_pct is None:
        return None
    by_side = hand_steps(timing.resolved)
    steps = [*by_side["left"], *by_side["right"]]
    late = "left" if timing.rhythm_pct < 0 else "right"
    usual = (timing.resolved.mean_cycle_s or 0) / 2
    found = tuple(
        Occurrence(b.time_s, 100 * abs(b.time_s - a.time_s - usual) / usual if usual else 0.0, late)
        for a, b in steps
        if b.mark.side == late
    )
    return Reading(abs(timing.rhythm_pct), timing.uncertainty.get("rhythm_pct"), found)


def _rate_fall(timing: Timing) -> Reading | None:
    fall = rate_fall(timing.resolved.cycles, timing.frame_interval_s)
    if fall is None:
        return None
    cycles = timing.resolved.cycles
    ends = [c.start for c in (cycles[0], cycles[-1]) if c.start]
    found = tuple(Occurrence(p.time_s, 100 * fall.fall) for p in ends)
    return Reading(100 * fall.fall, 100 * fall.u, found)


def _spread(timing: Timing) -> Reading | None:
    """Coefficient of variation with its sampling uncertainty, about cv / sqrt(2 (n-1))."""
    cv, n = timing.cycles.time_s.cv_pct, timing.cycles.count
    if cv is None or n < 4:
        return None
    u_frame = interval_u_pct(timing) or 0.0
    u = math.hypot(cv / math.sqrt(2 * (n - 1)), u_frame / math.sqrt(n))
    starts = [c.start for c in timing.resolved.cycles if c.start]
    return Reading(cv, u, tuple(Occurrence(p.time_s, cv) for p in starts[:1]))


def _breath_regular(timing: Timing) -> Reading | None:
    regular = timing.breathing.regular
    if regular is None:
        return None
    airs = [Occurrence(b.air.time_s, float(regular), b.side) for b in timing.resolved.breaths]
    return Reading(float(regular), 0.0, tuple(airs))


#: Entry to catch. The end of the reach is the instant to look at.
_entry_share = phase_share(
    Phase("entry", "entry", "catch"), "catch", "phases.both.entry.share_pct",
    ("freestyle", "backstroke"),
)  # fmt: skip


def _hand_over(timing: Timing) -> Reading | None:
    index = timing.coordination.index_pct if timing.coordination else None
    cycle_s = timing.resolved.mean_cycle_s
    if index is None or not cycle_s:
        return None
    found = [
        Occurrence(h.release.time_s, 100 * h.seconds / cycle_s, h.release.mark.side)
        for a, b in (("left", "right"), ("right", "left"))
        for h in hand_overs(timing.resolved, a, b)
    ]
    return Reading(index, timing.uncertainty.get("coordination.index_pct"), tuple(found))


def _hold_distance(timing: Timing) -> Reading | None:
    metres = timing.hold_distance_m
    if metres is None or timing.speed.m_per_s is None:
        return None
    v, opens = timing.speed.m_per_s, timing.resolved.stroke.opens
    phase = Phase("reach", opens, "press")
    found = [
        Occurrence(c.start.time_s, v * seconds, c.side)
        for c in timing.resolved.cycles
        if c.start and (seconds := phase_seconds(c, phase, opens)) is not None
    ]
    return mean_reading(timing, found, "hold_distance_m")


def _hold_time(timing: Timing) -> Reading | None:
    """Seconds from entry to press: what the hold costs at any speed, also without passes."""
    if not timing.resolved.stroke.alternating:
        return None
    found = [
        Occurrence(a.time_s, b.time_s - a.time_s, a.mark.side)
        for a, b in reach_ends(timing.resolved)
    ]
    return mean_seconds(timing, found)


def _kick_beats(timing: Timing) -> Reading | None:
    """Kicks in a whole cycle of freestyle."""
    per_cycle = timing.kick.beats_per_cycle if timing.kick else None
    if timing.stroke != "freestyle" or per_cycle is None:
        return None
    starts = tuple(Occurrence(c.start.time_s, per_cycle) for c in timing.resolved.cycles if c.start)
    return Reading(per_cycle, 0.0, starts)


def _kick_gap(timing: Timing) -> Reading | None:
    """Longest gap between beats over a breath, against the usual gap; mean over the breaths."""
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
    u = interval_u(timing)
    return Reading(value, None if u is None else u / usual / math.sqrt(len(found)), tuple(found))


def _front_quadrant(timing: Timing) -> Reading | None:
    share = timing.front_quadrant.share_pct if timing.front_quadrant else None
    if share is None:
        return None
    entries = timing.resolved.openings()
    return Reading(share, 0.0, tuple(Occurrence(p.time_s, share, p.mark.side) for p in entries[:1]))


CRAWL = (
    Quantity("exhale-share", "Breathing out under water", "%", 0, _exhale_share),
    Quantity("breath-return", "Face in before the hand", "s", 2, _breath_return),
    Quantity("head-lead", "Head ahead of the arm", "s", 2, _head_lead),
    Quantity("breath-one-side", "Breaths to the same side", "%", 0, _one_side),
    Quantity("hand-rhythm", "Left against right, off even", "%", 1, _hand_rhythm),
    Quantity("rate-fall", "Rhythm lost over the clip", "%", 1, _rate_fall),
    Quantity("spread", "Spread of the cycle times", "%", 1, _spread),
    Quantity("breath-regular", "Regular breathing", "", 0, _breath_regular),
    Quantity("entry-share", "Entry and glide, of the cycle", "%", 0, _entry_share),
    Quantity("hand-over", "Hand-over (coordination index)", "%", 1, _hand_over),
    Quantity("hold-distance", "Metres until the hold", "m", 2, _hold_distance),
    Quantity("hold-time", "Hand entry until the pull", "s", 2, _hold_time),
    Quantity("kick-beats", "Kicks per cycle", "", 1, _kick_beats),
    Quantity("kick-gap", "Longest kick gap on a breath", "× usual", 1, _kick_gap),
    Quantity("front-quadrant", "Front-quadrant timing", "%", 0, _front_quadrant),
)
