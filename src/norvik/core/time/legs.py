"""Breaststroke: phases of the legs and the time gaps between arms and legs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.strokes import Phase
from norvik.core.strokes.definitions import event_name
from norvik.core.time.marker import Marking
from norvik.core.time.mean_gaps import mean_gaps
from norvik.core.time.phases import PhaseTime, phase_ends, summarise
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import OrderedMark, ResolvedMarks


@dataclass(frozen=True, slots=True)
class Gaps:
    """Signed mean gaps in seconds and percent of the mean arm cycle.

    t1: out minus close, published as T1b (glide; negative when the arms start before the legs are
    done). T1a starts at the end of the leg drive and T4 at bent joints: events that nobody marks.
    t2: heels minus shoot. t3: set minus long.
    Source: Chollet, Seifert, Leblanc, Boulesteix and Carter 2004 (recalled, not looked up).
    """

    t1_s: float | None = None
    t1_pct: float | None = None
    t2_s: float | None = None
    t2_pct: float | None = None
    t3_s: float | None = None
    t3_pct: float | None = None


#: name: (the event whose time counts positive, the event it is compared with)
GAP_EVENTS = {"t1": ("out", "close"), "t2": ("heels", "shoot"), "t3": ("set", "long")}


def legs_of(
    resolved: ResolvedMarks, marking: Marking, reasons: Reasons
) -> dict[str, PhaseTime | None] | None:
    """Leg phases; shares are of the mean arm cycle. None in strokes whose legs beat."""
    stroke = resolved.stroke
    if not stroke.leg_cycle:
        return None
    cycle_s = resolved.mean_cycle_s
    table: dict[str, PhaseTime | None] = {}
    for phase in stroke.leg_phases:
        seconds = [b.time_s - a.time_s for a, b in leg_pairs(resolved, phase)]
        shares = [100 * s / cycle_s for s in seconds] if cycle_s else []
        table[phase.name] = summarise(seconds, shares, phase, marking)
        if not seconds:
            why = f"needs {event_name(phase.start)} and {event_name(phase.end)}"
            reasons.missing(f"legs.{phase.name}", why)
    return table


def leg_pairs(resolved: ResolvedMarks, phase: Phase) -> list[tuple[OrderedMark, OrderedMark]]:
    """The marks between which a leg phase lies, in the last, open leg cycle too."""
    opens = resolved.stroke.leg_cycle[0]
    return [
        ends
        for slot in resolved.leg_slots
        if slot.start is not None and (ends := phase_ends(slot, phase, opens)) is not None
    ]


def gap_pairs(resolved: ResolvedMarks, name: str) -> list[tuple[OrderedMark, OrderedMark]]:
    """The marks of a gap t1, t2 or t3, the one that counts negative first."""
    plus, minus = GAP_EVENTS[name]
    return _paired(_marks(resolved, plus), _marks(resolved, minus), resolved.mean_cycle_s)


def gaps_of(resolved: ResolvedMarks, reasons: Reasons) -> Gaps | None:
    """T1, T2, T3: each event with the nearest of the other kind within half the mean cycle."""
    if not resolved.stroke.leg_cycle:
        return None
    return Gaps(**mean_gaps(resolved, GAP_EVENTS, gap_pairs, "gaps", reasons))


def _marks(resolved: ResolvedMarks, event: str) -> list[OrderedMark]:
    if event == resolved.stroke.opens:
        return resolved.openings()
    if event in resolved.stroke.leg_cycle:
        opens = resolved.stroke.leg_cycle[0]
        return [p for s in resolved.leg_slots if (p := s.at(event, opens)) is not None]
    return list(resolved.marks_of(event, "both"))


def _paired(
    plus: Sequence[OrderedMark], minus: Sequence[OrderedMark], cycle_s: float | None
) -> list[tuple[OrderedMark, OrderedMark]]:
    if cycle_s is None:
        return []
    found = []
    for p in plus:
        near = [
            m for m in minus if m.length == p.length and abs(p.time_s - m.time_s) <= cycle_s / 2
        ]
        if near:
            found.append((min(near, key=lambda m: abs(p.time_s - m.time_s)), p))
    return found
