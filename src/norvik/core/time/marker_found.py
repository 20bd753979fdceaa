"""How well a person marks, found from events that were marked twice."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from norvik.core.time.marker import FAMILY_OF, MarkError
from norvik.core.time.timebase import mark_uncertainty_s

#: Own choice: fewer pairs of a family say too little to replace a setting.
LEAST_PAIRS = 8
#: Own choice: fewer pairs of one event do not tell a habit.
LEAST_OF_EVENT = 5


@dataclass(frozen=True, slots=True)
class Pair:
    """One event, marked twice. later_s: second minus first, real seconds. own: by one person."""

    event: str
    later_s: float
    interval_s: float
    own: bool


@dataclass(frozen=True, slots=True)
class Found:
    """Of a family. pairs: by one person; others: between two. error: None with too few pairs."""

    pairs: int
    others: int
    error: MarkError | None


def found_errors(pairs: Sequence[Pair], settings: Mapping[str, MarkError]) -> dict[str, Found]:
    """By family. settings: the errors that hold where pairs do not tell.

    Two marks of one event by one person differ by both their errors: half of the mean square is the
    variance of one. The grid of frames, which a plus-minus has by itself, is taken off. Between two
    people what all marks of an event have in common is their habits' difference: half its square is
    that of one.
    """
    found = {}
    for family, error in settings.items():
        mine = [p for p in pairs if FAMILY_OF.get(p.event) == family]
        own, others = ([p for p in mine if p.own is o] for o in (True, False))
        if not mine:
            continue
        new = None
        if len(own) >= LEAST_PAIRS:
            square = math.fsum(
                p.later_s**2 / 2 - mark_uncertainty_s(p.interval_s) ** 2 for p in own
            )
            spread_s = math.sqrt(max(0.0, square) / len(own))
            new = MarkError(1000 * spread_s, 0.0, error.habit_ms, error.habit_frames)
        habit_s = _habit_s(others)
        if habit_s is not None:
            kept = new or error
            new = MarkError(kept.spread_ms, kept.spread_frames, 1000 * habit_s, 0.0)
        found[family] = Found(len(own), len(others), new)
    return found


def _habit_s(others: Sequence[Pair]) -> float | None:
    """Root mean square of what two people's marks of one event have in common, over root two."""
    means = []
    for event in {p.event for p in others}:
        here = [p.later_s for p in others if p.event == event]
        if len(here) >= LEAST_OF_EVENT:
            means.append(math.fsum(here) / len(here))
    return math.sqrt(math.fsum(m * m for m in means) / len(means) / 2) if means else None
