"""The measures of a clip: what was taken, its values, and what several of them say together."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.errors import MeasureError
from norvik.core.frame.measures import MEASURES, Measure, Measured, offered, take
from norvik.core.statistics import mean, sd
from norvik.store import measures
from norvik.store.measures import StoredMeasure
from norvik.store.recordings import Recording
from norvik.workflow.clip_timing import ClipTiming

#: Own choice: farther from its event than this, a measure is pointed out, in seconds.
FAR_S = 0.1


@dataclass(frozen=True, slots=True)
class Taken:
    """One measure as it was taken. value: None where its points cannot give it; why says so.

    event, event_frame, off_s: the mark nearest to it of those that it belongs to, where it is
    farther away than FAR_S; off_s in real seconds, later positive.
    """

    stored: StoredMeasure
    value: Measured | None
    why: str = ""
    event: str = ""
    event_frame: int | None = None
    off_s: float = 0.0


@dataclass(frozen=True, slots=True)
class Group:
    """All takings of one measure on one side. mean, sd: in its unit; sd None under two."""

    side: str
    mean: float | None
    sd: float | None
    n: int


@dataclass(frozen=True, slots=True)
class Row:
    """One measure that this clip's stroke and view offer, with what was taken of it."""

    measure: Measure
    taken: tuple[Taken, ...]
    groups: tuple[Group, ...]


def picture_size(recording: Recording) -> tuple[int, int]:
    """Width and height of the upright picture at the source's resolution, in pixels.

    The review copy has the shape; the source's longer side gives the size.
    """
    width, height = recording.width or 1, recording.height or 1
    source = max(recording.source_width or 0, recording.source_height or 0)
    longer = max(width, height)
    factor = source / longer if source else 1.0
    return round(width * factor), round(height * factor)


def measures_of(connection: sqlite3.Connection, timed: ClipTiming) -> list[Row]:
    """Every measure that is offered, and every other one that was taken all the same."""
    taken: dict[str, list[Taken]] = {}
    for stored in measures.of_clip(connection, timed.clip.id):
        if timed.clip.holds(stored.frame) and stored.measure in MEASURES:
            taken.setdefault(stored.measure, []).append(_taken(timed, stored))
    kinds = offered(timed.clip.stroke, timed.clip.view)
    kinds += [MEASURES[name] for name in taken if MEASURES[name] not in kinds]
    return [
        Row(kind, tuple(taken.get(kind.id, ())), tuple(_groups(taken.get(kind.id, []))))
        for kind in kinds
    ]


def _taken(timed: ClipTiming, stored: StoredMeasure) -> Taken:
    measure = MEASURES[stored.measure]
    try:
        value = take(measure, stored.points)
    except MeasureError as error:
        return Taken(stored, None, error.sentence)
    at_s = timed.time_base.time_of(stored.frame)
    near = min(
        (
            e
            for e in timed.events
            if e.event in measure.events and stored.side in ("", e.side or stored.side)
        ),
        key=lambda e: abs(e.time_s - at_s),
        default=None,
    )
    if near is None or abs(near.time_s - at_s) <= FAR_S:
        return Taken(stored, value)
    return Taken(stored, value, "", near.event, near.frame, at_s - near.time_s)


def _groups(taken: list[Taken]) -> list[Group]:
    found = []
    for side in ("", "left", "right"):
        values = [t.value.value for t in taken if t.value and t.stored.side == side]
        if values:
            found.append(Group(side, mean(values), sd(values), len(values)))
    return found
