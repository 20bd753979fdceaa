"""Walls divide a clip into lengths; nothing that repeats is counted across one."""

from __future__ import annotations

from norvik.core.strokes.definitions import event_name
from norvik.core.strokes.events import Mark, Problem
from norvik.core.time.resolve.marks import OrderedMark


def place(marks: list[Mark], problems: list[Problem]) -> list[OrderedMark]:
    """Put the marks in time order and number the lengths they lie in.

    A touch or a push ends what went before. A second one of the same kind with no other wall mark
    between is left out: nobody can touch twice without having left.
    """
    ordered = sorted(marks, key=lambda m: m.time_s)
    placed: list[OrderedMark] = []
    length = 0
    last_wall = ""
    for mark in ordered:
        if mark.lane == "wall":
            if mark.event == last_wall and mark.event in ("touch", "push"):
                reason = f"a second {event_name(mark.event)} with no other wall mark between"
                problems.append(Problem(mark, reason))
                continue
            last_wall = mark.event
            if mark.event in ("touch", "push"):
                length += 1
        placed.append(OrderedMark(mark, len(placed), length, mark.time_s))
    return placed
