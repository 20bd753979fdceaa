"""From marks as placed to marks that count: who is left out, why, and what belongs together.

Every rule here only leaves marks out and says so; none moves or invents one.
"""

from __future__ import annotations

from collections.abc import Iterable

from norvik.core.strokes import StrokeRules
from norvik.core.strokes.definitions import event_name
from norvik.core.strokes.events import Mark, Problem
from norvik.core.strokes.names import LANES
from norvik.core.time.resolve.arms import settle_arms
from norvik.core.time.resolve.breaths import settle_breaths
from norvik.core.time.resolve.course import settle_course
from norvik.core.time.resolve.legs import settle_legs
from norvik.core.time.resolve.lengths import place
from norvik.core.time.resolve.marks import Breath, OrderedMark, ResolvedMarks, Slot

__all__ = ["Breath", "OrderedMark", "ResolvedMarks", "Slot", "resolve"]


def resolve(marks: Iterable[Mark], stroke: StrokeRules) -> ResolvedMarks:
    """Sort out the marks of one clip. Marks of lanes or events unknown to the stroke are problems.

    Equal times keep the order in which the marks are given.
    """
    problems: list[Problem] = []
    known = []
    events = {lane: frozenset(stroke.events_of(lane)) for lane in LANES}
    for mark in marks:
        if mark.event in events.get(mark.lane, ()):
            known.append(mark)
        else:
            reason = f"“{event_name(mark.event)}” is not an event of {stroke.name}"
            problems.append(Problem(mark, reason))
    placed = place(known, problems)
    lanes: dict[str, list[OrderedMark]] = {lane: [] for lane in LANES}
    for p in placed:
        lanes[p.mark.lane].append(p)
    slots = settle_arms(lanes["arm"], stroke, problems)
    breaths, stretches, bubbles, turn = settle_breaths(lanes["breath"], problems)
    return ResolvedMarks(
        stroke=stroke,
        placed=tuple(placed),
        slots=tuple(slots),
        beats=tuple(p for p in lanes["leg"] if p.mark.event == "beat"),
        leg_slots=tuple(settle_legs(lanes["leg"], stroke, problems)),
        breaths=tuple(breaths),
        exhales=tuple(stretches),
        bubbles=tuple((on.time_s, off.time_s) for on, off in bubbles),
        walls=tuple(lanes["wall"]),
        passes=tuple(settle_course(lanes["course"], problems)),
        problems=tuple(sorted(problems, key=lambda p: (p.mark.time_s, p.mark.key or 0))),
        ups=tuple(p for p in lanes["leg"] if p.mark.event == "up"),
        open_turn_s=turn.time_s if turn else None,
    )
