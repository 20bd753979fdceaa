"""Legs with a cycle of their own (breaststroke): slots from heels to next heels."""

from __future__ import annotations

from itertools import pairwise

from norvik.core.strokes import StrokeRules
from norvik.core.strokes.events import Problem
from norvik.core.time.resolve.marks import OrderedMark, Slot
from norvik.core.time.resolve.openings import between, settle_inner


def settle_legs(
    placed: list[OrderedMark], stroke: StrokeRules, problems: list[Problem]
) -> list[Slot]:
    """Leg slots in time order, from the marks of the leg lane; empty in strokes whose legs beat."""
    if not stroke.leg_cycle:
        return []
    opens, *inner_events = stroke.leg_cycle
    marks = [p for p in placed if p.mark.event in stroke.leg_cycle]
    slots: list[Slot] = []
    for length in sorted({p.length for p in marks}):
        here = [p for p in marks if p.length == length]
        bounds = [None, *(p for p in here if p.mark.event == opens), None]
        inner = [p for p in here if p.mark.event != opens]
        for (start, end), inside in zip(pairwise(bounds), between(bounds, inner), strict=True):
            if start is None and not inside:
                continue
            kind = "cycle" if start and end else "partial"
            slot = Slot("both", length, start, end, kind)
            slot.inner = settle_inner(inside, inner_events, problems)
            slots.append(slot)
    return slots
