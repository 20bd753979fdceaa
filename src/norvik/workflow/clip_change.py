"""A clip against an earlier one of the same swimmer: what really changed since."""

from __future__ import annotations

import sqlite3
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass, replace

from norvik.core.errors import NotFoundError
from norvik.core.followup.change import ComparableValue, Comparison, compare
from norvik.core.judging.coaching_model import Band, Catalogue, Fault
from norvik.core.judging.on_frame import OnFrame, Rule
from norvik.core.time.quantities import QUANTITIES
from norvik.core.time.quantities.rate import rate_unit, stroke_rate
from norvik.store import clips, focus_answers, reviews, swimmers
from norvik.store.clips import Clip
from norvik.workflow.clip_on_frame import on_frame_of
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.own_catalogue import tables_of


@dataclass(frozen=True)
class ClipChange:
    """worked_on: what the points chosen at the earlier clip are shown by. seen: each of those

    points, and what the coach said of it on the later clip; empty while nothing was said.
    """

    before: ClipTiming
    after: ClipTiming
    changes: tuple[Comparison, ...]
    worked_on: frozenset[str]
    seen: tuple[tuple[Fault, str], ...] = ()

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
    chosen = [
        catalogue.faults[focus.fault]
        for focus in reviews.of_clip(connection, first.id).focuses
        if focus.fault in catalogue.faults
    ]
    found = compare(
        *(
            known_of(timed, catalogue, schools, on_frame_of(connection, timed)[0], chosen)
            for timed in (before, after)
        )
    )
    worked = {what for fault in chosen for what in shown_by(fault, catalogue, schools)}
    said = focus_answers.of_clip(connection, last.id)
    seen = tuple((fault, said.get(fault.id, "")) for fault in chosen)
    return ClipChange(before, after, tuple(found), frozenset(worked), seen)


def known_of(
    timed: ClipTiming,
    catalogue: Catalogue,
    schools: dict[str, str],
    on_frame: Iterable[OnFrame],
    worked_on: Iterable[Fault] = (),
    only: Collection[str] | None = None,
) -> list[ComparableValue]:
    """Every value of a clip that can be compared with another clip's; of these ids alone, if given.

    on_frame: what was taken on its frames. worked_on: faults whose own limits say what is better;
    a quantity may have several, for too much and for too little.
    """
    own = {catalogue.band(b, schools).quantity: b for f in worked_on for b in f.bands}
    timing = timed.timing
    found = []
    rate = stroke_rate(timing) if only is None or "rate" in only else None
    if rate is not None:
        singles = tuple(o.value for o in rate.occurrences)
        unit = rate_unit(timing)
        found.append(
            ComparableValue("rate", "", "Stroke rate", unit, 1, rate.value, rate.u, singles)
        )
    for q in QUANTITIES.values():
        if (
            not q.compared
            or timing.stroke not in q.strokes
            or (only is not None and q.id not in only)
        ):
            continue
        reading = q.read(timing)
        if reading is not None:
            singles = tuple(o.value for o in reading.occurrences)
            band = _band_of(q.id, catalogue, schools, own.get(q.id))
            found.append(
                ComparableValue(
                    q.id, "", q.name, q.unit, q.digits, reading.value, reading.u, singles, band
                )
            )
    found += [
        ComparableValue(t.what, t.side, t.name, t.unit, t.digits, t.mean, t.u,
              tuple(o.value for o in t.found), t.band)
        for t in on_frame
        if not t.chosen and (only is None or t.what in only)
    ]  # fmt: skip
    return found


def _band_of(
    quantity: str, catalogue: Catalogue, schools: dict[str, str], own: str | None
) -> Band | None:
    """The band of the fault that was worked on, else of all that the quantity has: what is good by

    each of them is good.
    """
    ids = list(dict.fromkeys(b.id for b in catalogue.bands if b.quantity == quantity))
    if not ids:
        return None
    if own is not None:
        return catalogue.band(own, schools)
    bands = [catalogue.band(i, schools) for i in ids]
    return bands[0] if len(bands) == 1 else _both(bands)


def _both(bands: Sequence[Band]) -> Band:
    """One band with the narrowest good range of several."""
    lows = [b.good_from for b in bands if b.good_from is not None]
    highs = [b.good_to for b in bands if b.good_to is not None]
    return replace(bands[0], good_from=max(lows, default=None), good_to=min(highs, default=None))
