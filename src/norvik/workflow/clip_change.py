"""A clip against an earlier one of the same swimmer: what really changed since."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.change import Changed, Known, compare
from norvik.core.errors import NotFoundError
from norvik.core.on_frame import Rule
from norvik.core.quantities import QUANTITIES
from norvik.core.tables import Band, Catalogue, Fault
from norvik.store import clips, reviews, swimmers
from norvik.store.clips import Clip
from norvik.workflow.clip_on_frame import on_frame_of
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.own_catalogue import tables_of


@dataclass(frozen=True)
class ClipChange:
    """worked_on: what the points chosen at the earlier clip are shown by."""

    before: ClipTiming
    after: ClipTiming
    changes: tuple[Changed, ...]
    worked_on: frozenset[str]

    def count(self, verdict: str) -> int:
        return sum(c.verdict == verdict for c in self.changes)


def shown_by(fault: Fault, catalogue: Catalogue, schools: dict[str, str]) -> set[str]:
    """Ids of the quantities, measures and choices that show a fault; empty for the eye alone."""
    found = {catalogue.band(b, schools).quantity for b in fault.bands}
    return found | {Rule.read(text).what for text in fault.shown_by}


def others_of(connection: sqlite3.Connection, clip: Clip) -> list[Clip]:
    """Other clips of the same swimmer and stroke that can be compared, newest first."""
    if clip.swimmer_id is None:
        return []
    found = [
        c
        for c in clips.newest_first(connection, clip.swimmer_id)
        if c.id != clip.id and c.stroke == clip.stroke and c.watchable and c.marks
    ]
    return sorted(found, key=lambda c: (c.filmed_on, c.id), reverse=True)


def change_between(connection: sqlite3.Connection, clip: Clip, other: Clip) -> ClipChange:
    """The earlier of the two by its day is "before". Raises NotFoundError for another swimmer's."""
    if other.swimmer_id != clip.swimmer_id or other.stroke != clip.stroke:
        raise NotFoundError("Compare clips of one swimmer and one stroke.")
    first, last = sorted((clip, other), key=lambda c: (c.filmed_on, c.id))
    before, after = time_clip(connection, first), time_clip(connection, last)
    assert clip.swimmer_id is not None  # a clip without a swimmer has no others
    swimmer = swimmers.by_id(connection, clip.swimmer_id)
    catalogue = tables_of(connection, clip.stroke).for_level(swimmer.level)
    schools = swimmer.schools
    found = compare(
        known_of(connection, before, catalogue, schools),
        known_of(connection, after, catalogue, schools),
    )
    worked = set()
    for focus in reviews.of_clip(connection, first.id).focuses:
        fault = catalogue.faults.get(focus.fault)
        if fault is not None:
            worked |= shown_by(fault, catalogue, schools)
    return ClipChange(before, after, tuple(found), frozenset(worked))


def known_of(
    connection: sqlite3.Connection,
    timed: ClipTiming,
    catalogue: Catalogue,
    schools: dict[str, str],
) -> list[Known]:
    """Every value of a clip that can be compared with another clip's."""
    timing = timed.timing
    found = []
    if timing.rate.cycles_per_min is not None:
        singles = tuple(60 / c.seconds for c in timing.settled.cycles if c.seconds)
        u = timing.uncertainty.get("rate.cycles_per_min")
        found.append(
            Known(
                "rate", "", "Stroke rate", "cycles/min", 1, timing.rate.cycles_per_min, u, singles
            )
        )
    for q in QUANTITIES.values():
        reading = q.read(timing)
        if reading is not None:
            singles = tuple(o.value for o in reading.occurrences)
            band = _band_of(q.id, catalogue, schools)
            found.append(
                Known(q.id, "", q.name, q.unit, q.digits, reading.value, reading.u, singles, band)
            )
    taken, _ = on_frame_of(connection, timed)
    found += [
        Known(t.what, t.side, t.name, t.unit, t.digits, t.mean, t.u,
              tuple(o.value for o in t.found), t.band)
        for t in taken
        if not t.chosen
    ]  # fmt: skip
    return found


def _band_of(quantity: str, catalogue: Catalogue, schools: dict[str, str]) -> Band | None:
    ids = [b.id for b in catalogue.bands if b.quantity == quantity]
    return catalogue.band(ids[0], schools) if ids else None
