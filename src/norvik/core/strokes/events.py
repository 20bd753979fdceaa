"""Marks: an event in a lane at an instant, as the coach placed it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import NamedTuple

from norvik.core.strokes.names import Lane, Side

#: Events of the lanes that are alike in every stroke. The arm lane's come from the stroke.
LEG_EVENTS = ("beat", "up", "heels", "set", "close")
BREATH_EVENTS = ("turn", "air", "down", "bubbles-on", "bubbles-off")
#: Start: signal, feet leave the block, hands reach the water. Turn: the head goes down into the
#: tumble, touch (hands, or the feet of a tumble), feet planted after a hand touch, push, breakout.
WALL_EVENTS = (
    "signal", "block", "water", "head-down", "touch", "planted", "push", "breakout",
)  # fmt: skip
COURSE_EVENTS = ("pass",)


_METRES = re.compile(r"(\d+(?:\.\d+)?)\s*m?", re.IGNORECASE)


def metres_in(note: str) -> float | None:
    """The metres of a pass from its note: 15, 15m or 15 m; None when it says none."""
    found = _METRES.fullmatch(note.strip()) if len(note) <= 30 else None
    return float(found.group(1)) if found else None


class Mark(NamedTuple):
    """One event.

    time_s: real seconds, may be negative. side: one of SIDES. metres: course marks only, the
    distance from the start of the length. key: the caller's own name for the mark (the row in a
    file, the id in the database), handed back with any problem.
    """

    time_s: float
    lane: Lane
    side: Side
    event: str
    frame: int | None = None
    metres: float | None = None
    note: str = ""
    key: int | None = None


@dataclass(frozen=True, slots=True)
class Problem:
    """A mark that enters no number, or a place where one seems to be missing, and why.

    left_out is False where the mark itself stays (an entry before which another is missing).
    """

    mark: Mark
    reason: str
    left_out: bool = True
