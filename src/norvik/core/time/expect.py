"""What the coach will mark next: after an entry comes a catch."""

from __future__ import annotations

import math
from collections.abc import Iterable

from norvik.core.strokes import StrokeRules
from norvik.core.strokes.events import Mark
from norvik.core.strokes.names import Lane, Side

#: The order of a breath; bubbles are marked on their own.
BREATH_ORDER = ("turn", "air", "down")
_AFTER_WALL = {
    "signal": "block", "block": "water", "water": "breakout", "head-down": "touch",
    "touch": "push", "planted": "push", "push": "breakout", "breakout": "touch",
}  # fmt: skip
#: Arm events that a coach marks only when asked for: not expected by themselves.
OPTIONAL = ("shoulder", "push-end")


def expected_arm(marks: Iterable[Mark], stroke: StrokeRules, side: Side, time_s: float) -> str:
    """The next event of an arm at time_s, from the last mark of that arm before or at it."""
    return _at(arm_expectations(marks, stroke, side), time_s)


def expected_breath(marks: Iterable[Mark], time_s: float) -> str:
    """The next event of a breath at time_s."""
    return _at(breath_expectations(marks), time_s)


def expected_wall(marks: Iterable[Mark], time_s: float) -> str:
    """The next event at the wall at time_s."""
    return _at(wall_expectations(marks), time_s)


def arm_expectations(
    marks: Iterable[Mark], stroke: StrokeRules, side: Side
) -> list[tuple[float, str]]:
    """(seconds, event): from that instant on that event of the arm is expected.

    The first entry holds from minus infinity. Of two marks at one instant the later given counts.
    An event that is marked only when asked for is expected, too, once either arm has one.
    """
    marks = list(marks)
    asked = {m.event for m in marks if m.lane == "arm"}
    follows: dict[str, str] = {}
    following = stroke.opens
    for event in reversed(stroke.arm_events):
        follows[event] = following
        if event not in OPTIONAL or event in asked:
            following = event
    steps = [(-math.inf, stroke.opens)]
    steps += [(m.time_s, follows[m.event]) for m in _sorted(marks, "arm", side)]
    return steps


def breath_expectations(marks: Iterable[Mark]) -> list[tuple[float, str]]:
    """(seconds, event): from that instant on that event of a breath is expected."""
    steps = [(-math.inf, BREATH_ORDER[0])]
    for m in _sorted(marks, "breath", None):
        if m.event in BREATH_ORDER:
            place = BREATH_ORDER.index(m.event) + 1
            steps.append((m.time_s, BREATH_ORDER[place % len(BREATH_ORDER)]))
    return steps


def wall_expectations(marks: Iterable[Mark]) -> list[tuple[float, str]]:
    """(seconds, event): from that instant on that event at the wall is expected.

    A clip may begin with a push; once an arm is marked, the wall is met with a touch.
    """
    marks = list(marks)
    steps = [(-math.inf, "push")]
    strokes = _sorted(marks, "arm", None)
    walls = _sorted(marks, "wall", None)
    if strokes and (not walls or strokes[0].time_s < walls[0].time_s):
        steps.append((strokes[0].time_s, "touch"))
    steps += [(m.time_s, _AFTER_WALL[m.event]) for m in walls if m.event in _AFTER_WALL]
    return steps


def _sorted(marks: Iterable[Mark], lane: Lane, side: Side | None) -> list[Mark]:
    return sorted(
        (m for m in marks if m.lane == lane and side in (None, m.side)), key=lambda m: m.time_s
    )


def _at(steps: list[tuple[float, str]], time_s: float) -> str:
    return [event for since_s, event in steps if since_s <= time_s + 1e-9][-1]
