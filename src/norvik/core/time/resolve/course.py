"""Passes of known distances: metres must grow within a length."""

from __future__ import annotations

from norvik.core.strokes.events import Problem
from norvik.core.time.resolve.marks import OrderedMark


def settle_course(placed: list[OrderedMark], problems: list[Problem]) -> list[OrderedMark]:
    """Course passes that count, in time order. placed: the marks of the course lane."""
    kept: list[OrderedMark] = []
    for p in placed:
        if p.mark.metres is None:
            problems.append(Problem(p.mark, "a pass needs its metres in the note, such as 15 m"))
        elif kept and kept[-1].length == p.length and p.mark.metres <= (kept[-1].mark.metres or 0):
            reason = f"{p.mark.metres:g} m after {kept[-1].mark.metres:g} m: metres must grow"
            problems.append(Problem(p.mark, reason))
        else:
            kept.append(p)
    return kept
