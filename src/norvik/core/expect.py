"""What the coach will mark next: after an entry comes a catch."""

from __future__ import annotations

from collections.abc import Iterable

from norvik.core.events import Mark
from norvik.core.strokes import StrokeRules

#: The order of a breath; bubbles are marked on their own.
BREATH_ORDER = ("turn", "air", "down")
#: Arm events that a coach marks only when asked for: not expected by themselves.
OPTIONAL = ("shoulder",)


def expected_arm(marks: Iterable[Mark], stroke: StrokeRules, side: str, time_s: float) -> str:
    """The next event of an arm at time_s, from the last mark of that arm before or at it."""
    last = _last_event(marks, "arm", side, time_s)
    order = stroke.arm_events
    if last not in order:
        return stroke.opens
    following = [e for e in order[order.index(last) + 1 :] if e not in OPTIONAL]
    return following[0] if following else stroke.opens


def expected_breath(marks: Iterable[Mark], time_s: float) -> str:
    """The next event of a breath at time_s."""
    breath = (m for m in marks if m.event in BREATH_ORDER)
    last = _last_event(breath, "breath", None, time_s)
    if last not in BREATH_ORDER:
        return BREATH_ORDER[0]
    return BREATH_ORDER[(BREATH_ORDER.index(last) + 1) % len(BREATH_ORDER)]


def _last_event(marks: Iterable[Mark], lane: str, side: str | None, time_s: float) -> str | None:
    before = [
        m for m in marks if m.lane == lane and side in (None, m.side) and m.time_s <= time_s + 1e-9
    ]
    # Of two marks on one frame the later placed one counts: sorting keeps their order.
    return sorted(before, key=lambda m: m.time_s)[-1].event if before else None
