"""What the numbers of a clip mean: how each is measured, and what is normal for this swimmer."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.judging.coaching_model import Band
from norvik.core.time.quantities import QUANTITIES, TOPICS, Quantity
from norvik.core.time.quantities.quantity import Reading
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.criteria import criteria_of
from norvik.workflow.own_catalogue import tables_of


@dataclass(frozen=True, slots=True)
class Normal:
    """The range that holds for this swimmer at this rate. whose: school and level, or empty."""

    band: Band
    whose: str


@dataclass(frozen=True, slots=True)
class About:
    """One quantity: reading of this clip, None where its marks do not tell it."""

    quantity: Quantity
    reading: Reading | None
    normal: tuple[Normal, ...]


def about_topic(connection: sqlite3.Connection, timed: ClipTiming, topic: str) -> list[About]:
    """All quantities of a topic that the clip's stroke has, in the order of the bench."""
    stroke, timing = timed.timing.stroke, timed.timing
    criteria = criteria_of(connection, timed.clip)
    tables = tables_of(connection, stroke).for_level(criteria.level)

    def normal(quantity: Quantity) -> tuple[Normal, ...]:
        ids = dict.fromkeys(b.id for b in tables.bands if b.quantity == quantity.id)
        bands = [tables.band(b, criteria.schools, timing.resolved.mean_cycle_s) for b in ids]
        fitting = [b for b in bands if not b.strokes or stroke in b.strokes]
        return tuple(Normal(b, criteria.whose(b)) for b in fitting)

    return [
        About(q, q.of(timing), normal(q))
        for q in QUANTITIES.values()
        if topic in TOPICS and q.topic == topic and stroke in q.strokes
    ]
