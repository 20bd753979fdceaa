"""From marks as placed to marks that count: who is left out, why, and what belongs together.

Every rule here only leaves marks out and says so; none moves or invents one.
"""

from __future__ import annotations

from collections.abc import Iterable

from norvik.core.events import Mark, Problem
from norvik.core.settle.arms import settle_arms
from norvik.core.settle.breaths import settle_breaths
from norvik.core.settle.course import settle_course
from norvik.core.settle.legs import settle_legs
from norvik.core.settle.lengths import place
from norvik.core.settle.placed import Breath, Placed, Settled, Slot
from norvik.core.strokes import StrokeRules

__all__ = ["Breath", "Placed", "Settled", "Slot", "settle"]


def settle(marks: Iterable[Mark], stroke: StrokeRules) -> Settled:
    """Sort out the marks of one clip. Marks of lanes or events unknown to the stroke are problems.

    Equal times keep the order in which the marks are given.
    """
    problems: list[Problem] = []
    known = []
    for mark in marks:
        if mark.event in stroke.events_of(mark.lane):
            known.append(mark)
        else:
            reason = f"“{mark.event}” is not an event of the {mark.lane} lane in {stroke.name}"
            problems.append(Problem(mark, reason))
    placed = place(known, problems)
    slots = settle_arms(placed, stroke, problems)
    breaths, stretches, bubbles = settle_breaths(placed, problems)
    return Settled(
        stroke=stroke,
        slots=tuple(slots),
        beats=tuple(p for p in placed if p.mark.lane == "leg" and p.mark.event == "beat"),
        leg_slots=tuple(settle_legs(placed, stroke, problems)),
        breaths=tuple(breaths),
        exhales=tuple(stretches),
        bubbles=tuple(bubbles),
        walls=tuple(p for p in placed if p.mark.lane == "wall"),
        passes=tuple(settle_course(placed, problems)),
        problems=tuple(sorted(problems, key=lambda p: (p.mark.time_s, p.mark.key or 0))),
    )
