"""When, how often and how long the swimmer breathes."""

from __future__ import annotations

import math
from bisect import bisect_right
from dataclasses import dataclass
from itertools import pairwise

from norvik.core.statistics import mean
from norvik.core.time.coordination import nearest
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import Breath, OrderedMark, ResolvedMarks, Slot


@dataclass(frozen=True, slots=True)
class Breathing:
    """How the swimmer breathes.

    pattern: hand entries from one breath to the next. head_lead_s: positive when the head goes
    before the arm presses. return_s: positive when the face is back in before the hand lands.
    exhale_share_pct: share of the time face down in which bubbles are seen.
    """

    pattern: list[int] | None = None
    regular: bool | None = None
    sides: dict[str, int] | None = None
    breaths_per_cycle: float | None = None
    duration_s: float | None = None
    share_of_cycle_pct: float | None = None
    head_lead_s: float | None = None
    return_s: float | None = None
    in_push_share_pct: float | None = None
    exhale_share_pct: float | None = None


def breathing_of(resolved: ResolvedMarks, reasons: Reasons) -> Breathing:
    """All breathing quantities; without any breath mark every value is missing."""
    breaths = resolved.breaths
    if not breaths:
        names = Breathing.__slots__
        reasons.missing([f"breathing.{name}" for name in names], "no breath is marked")
        return Breathing()
    freestyle = resolved.stroke.name == "freestyle"
    alternating = resolved.stroke.alternating
    pattern = _pattern(resolved, reasons) if alternating else None
    regular = None
    if pattern is not None and len(pattern) > 1:
        regular = len(set(pattern)) == 1
    elif alternating:
        reasons.missing("breathing.regular", "needs two counts from breath to breath")
    duration = mean([b.down.time_s - b.air.time_s for b in breaths if b.down])
    if duration is None:
        reasons.missing("breathing.duration_s", "no breath has “face back in” marked")
    cycle_s = resolved.mean_cycle_s
    share = 100 * duration / cycle_s if duration is not None and cycle_s else None
    if share is None:
        why = "needs the duration of a breath and a whole cycle"
        reasons.missing("breathing.share_of_cycle_pct", why)
    return Breathing(
        pattern=pattern,
        regular=regular,
        sides={s: sum(b.side == s for b in breaths) for s in ("left", "right", "front")},
        breaths_per_cycle=None if alternating else _per_cycle(resolved, reasons),
        duration_s=duration,
        share_of_cycle_pct=share,
        head_lead_s=_head_lead(resolved, reasons) if freestyle else None,
        return_s=_return(resolved, reasons) if freestyle else None,
        in_push_share_pct=(
            _in_push(resolved, reasons) if resolved.stroke.name == "butterfly" else None
        ),
        exhale_share_pct=_exhale_share(resolved, reasons),
    )


def _time(placed: OrderedMark) -> float:
    return placed.time_s


def _pattern(resolved: ResolvedMarks, reasons: Reasons) -> list[int]:
    """Entries of either arm after one air up to and including the next, where both are marked."""
    cycle_s = resolved.mean_cycle_s
    counts: list[int] = []
    openings = resolved.openings()
    reach = _reach(resolved)
    for before, after in pairwise(resolved.breaths):
        start, end = before.air, after.air
        if cycle_s is None or start.length != end.length:
            continue
        covered = True
        for arm in resolved.stroke.arms:
            first_s, last_s = reach.get((arm, start.length), (math.inf, -math.inf))
            covered &= start.time_s >= first_s - cycle_s and end.time_s <= last_s + cycle_s
        if covered and not resolved.gap_between(start.time_s, end.time_s):
            first = bisect_right(openings, start.time_s, key=_time)
            counts.append(bisect_right(openings, end.time_s, key=_time) - first)
    if not counts:
        why = "needs two breaths with the hand entries of both arms between them"
        reasons.missing("breathing.pattern", why)
    return counts


def _reach(resolved: ResolvedMarks) -> dict[tuple[str, int], tuple[float, float]]:
    """The first and the last entry of each arm in each length, in seconds."""
    found: dict[tuple[str, int], tuple[float, float]] = {}
    for arm in resolved.stroke.arms:
        for p in resolved.openings(arm):
            first_s, _ = found.get((arm, p.length), (p.time_s, 0.0))
            found[arm, p.length] = first_s, p.time_s
    return found


def _per_cycle(resolved: ResolvedMarks, reasons: Reasons) -> float | None:
    cycles = resolved.cycles
    if not cycles:
        reasons.missing("breathing.breaths_per_cycle", "no whole cycle")
        return None
    # The cycles of one arm do not overlap: only the last that began before the air can hold it.
    arms = [[c for c in cycles if c.side == arm] for arm in resolved.stroke.arms]
    inside = sum(any(_holds(arm, b.air) for arm in arms) for b in resolved.breaths)
    return inside / len(cycles)


def _holds(cycles: list[Slot], air: OrderedMark) -> bool:
    after = bisect_right(cycles, air.order, key=lambda c: c.start.order if c.start else -1)
    end = cycles[after - 1].end if after else None
    return end is not None and air.order < end.order


Pair = tuple[OrderedMark, OrderedMark]


def head_lead(resolved: ResolvedMarks, breath: Breath) -> Pair | None:
    """The turn, and the press of the breathing-side arm nearest to it.

    A press more than half a cycle away belongs to another stroke, so that breath has none.
    """
    cycle_s = resolved.mean_cycle_s
    if breath.turn is None or breath.side not in resolved.stroke.arms:
        return None
    turn = breath.turn
    press = nearest(resolved.marks_of("press", breath.side), turn.time_s)
    if press is None or press.length != turn.length:
        return None
    lead = press.time_s - turn.time_s
    return (turn, press) if cycle_s is None or abs(lead) <= cycle_s / 2 else None


def hand_return(resolved: ResolvedMarks, breath: Breath) -> Pair | None:
    """The face-down, and the first entry of the breathing-side hand after the air."""
    if breath.down is None or breath.side not in resolved.stroke.arms:
        return None
    air = breath.air
    entries = resolved.openings(breath.side)
    place = bisect_right(entries, air.order, key=lambda p: p.order)
    landing = entries[place] if place < len(entries) else None
    if landing is None or landing.length != air.length:
        return None
    if resolved.gap_between(air.time_s, landing.time_s, breath.side):
        return None
    return breath.down, landing


def head_leads(resolved: ResolvedMarks) -> list[Pair]:
    return [pair for b in resolved.breaths if (pair := head_lead(resolved, b)) is not None]


def returns(resolved: ResolvedMarks) -> list[Pair]:
    return [pair for b in resolved.breaths if (pair := hand_return(resolved, b)) is not None]


def _mean_s(pairs: list[Pair]) -> float | None:
    return mean([b.time_s - a.time_s for a, b in pairs])


def _head_lead(resolved: ResolvedMarks, reasons: Reasons) -> float | None:
    leads = head_leads(resolved)
    if not leads:
        why = "needs head turn and pull of the arm on the breathing side"
        reasons.missing("breathing.head_lead_s", why)
    return _mean_s(leads)


def _return(resolved: ResolvedMarks, reasons: Reasons) -> float | None:
    found = returns(resolved)
    if not found:
        why = "needs face back in and the next hand entry on the breathing side"
        reasons.missing("breathing.return_s", why)
    return _mean_s(found)


def _in_push(resolved: ResolvedMarks, reasons: Reasons) -> float | None:
    """Butterfly: share of breaths whose air falls in the push, in percent."""
    hits = breaths_in_push(resolved)
    if not hits:
        why = "no breath lies in a cycle with pull and hand exit marked"
        reasons.missing("breathing.in_push_share_pct", why)
        return None
    return 100 * sum(hits) / len(hits)


def breaths_in_push(resolved: ResolvedMarks) -> list[bool]:
    """Of each breath in a cycle with pull and exit: is its air in the push, shoulder to exit?"""
    hits: list[bool] = []
    for breath in resolved.breaths:
        for c in resolved.cycles:
            if not (c.start and c.end and c.start.order < breath.air.order < c.end.order):
                continue
            press, release = c.inner.get("press"), c.inner.get("exit")
            if press and release:
                shoulder = c.inner.get("shoulder")
                from_s = shoulder.time_s if shoulder else (press.time_s + release.time_s) / 2
                hits.append(from_s <= breath.air.time_s <= release.time_s)
    return hits


def _exhale_share(resolved: ResolvedMarks, reasons: Reasons) -> float | None:
    total = sum(e.seconds for e in resolved.exhales)
    if not total:
        why = "needs exhaling marked between face back in and the next breath"
        reasons.missing("breathing.exhale_share_pct", why)
        return None
    return 100 * sum(e.bubbles_s for e in resolved.exhales) / total
