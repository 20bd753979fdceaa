"""Butterfly: when the kicks come beside the arms."""

from __future__ import annotations

from dataclasses import dataclass

from norvik.core.time.coordination import nearest
from norvik.core.time.mean_gaps import mean_gaps
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import OrderedMark, ResolvedMarks


@dataclass(frozen=True, slots=True)
class FlyGaps:
    """Signed mean gaps between arms and legs, in seconds and percent of the mean cycle.

    Positive: the legs come after the arms. t1: start of the first down-beat (foot highest) minus
    entry. t2: its end (foot lowest) minus the start of the pull. t3: start of the second down-beat
    minus the hands under the shoulders. t4: its end minus the hands leaving the water.
    Source: Chollet, Seifert, Boulesteix and Carter 2006 (recalled, not looked up).
    """

    t1_s: float | None = None
    t1_pct: float | None = None
    t2_s: float | None = None
    t2_pct: float | None = None
    t3_s: float | None = None
    t3_pct: float | None = None
    t4_s: float | None = None
    t4_pct: float | None = None


#: name: (event of the legs, event of the arms that it is compared with)
FLY_GAP_EVENTS = {
    "t1": ("up", "entry"),
    "t2": ("beat", "press"),
    "t3": ("up", "shoulder"),
    "t4": ("beat", "exit"),
}


def fly_gap_pairs(resolved: ResolvedMarks, name: str) -> list[tuple[OrderedMark, OrderedMark]]:
    """The marks of a gap, that of the arms first: each with the nearest of the legs.

    Not across a wall, and nearer than a quarter of the mean cycle: beyond lies the other kick.
    """
    cycle_s = resolved.mean_cycle_s
    if resolved.stroke.name != "butterfly" or cycle_s is None:
        return []
    of_legs, of_arms = FLY_GAP_EVENTS[name]
    legs = resolved.beats if of_legs == "beat" else resolved.ups
    arms = resolved.openings() if of_arms == "entry" else resolved.marks_of(of_arms, "both")
    found = []
    for arm in arms:
        leg = nearest(legs, arm.time_s)
        if leg is None or leg.length != arm.length:
            continue
        if abs(leg.time_s - arm.time_s) < cycle_s / 4:
            found.append((arm, leg))
    return found


def fly_gaps_of(resolved: ResolvedMarks, reasons: Reasons) -> FlyGaps | None:
    """T1 to T4; None in other strokes and without a mark of the feet.

    Worked: T 1.20 s, entry 0.00, up 0.06: T1 +0.06 s, +5 %.
    """
    if resolved.stroke.name != "butterfly" or not (resolved.beats or resolved.ups):
        return None
    events = {name: (arms, legs) for name, (legs, arms) in FLY_GAP_EVENTS.items()}
    return FlyGaps(**mean_gaps(resolved, events, fly_gap_pairs, "fly_gaps", reasons))
