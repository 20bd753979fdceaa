"""Measures on the frame that a clip's film proposes: which are still to be looked at."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point
from norvik.core.frame.measures import MEASURES, Measure, offered, take
from norvik.core.frame.references import References
from norvik.core.judging.on_frame import OnFrame
from norvik.core.reading.trust import Off, Trust, trust_of
from norvik.core.strokes.names import Side, is_side
from norvik.core.time.quantities import Occurrence
from norvik.store import drawings, readings, references
from norvik.store.drawings import StoredDrawing
from norvik.store.readings import Reading, StoredMeasure
from norvik.workflow.clip_drawings import FAR_S
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.criteria import criteria_of
from norvik.workflow.reading import reading_of

#: Own choice: so many takings of a measure on one side tell of the swimmer; no more are asked for.
MOST = 3
#: Own choice: a measure that was taken nearer than this is of the same stroke, seconds.
_SAME_S = 0.3


@dataclass(frozen=True, slots=True)
class ProposedMeasure:
    """A measure as the film proposes it. points: source pixels. value, u95: in the measure's unit,
    u95 the half width of its 95 % interval.
    """

    measure: Measure
    side: Side
    frame: int
    points: tuple[Point, ...]
    value: float
    u95: float

    @property
    def key(self) -> str:
        return f"{self.frame} {self.side} {self.measure.id}"


def proposed_measures(
    connection: sqlite3.Connection, timed: ClipTiming, reading: Reading | None = None
) -> list[ProposedMeasure]:
    """What is still to be looked at, measure by measure in the order in which they are listed.

    reading: the clip's, where it is at hand. Left out are measures that were taken or passed over
    in that stroke or often enough, those that cannot be judged here, and those whose event the
    coach moved away.
    """
    reading = reading_of(connection, timed) if reading is None else reading
    if reading is None or not reading.measures:
        return []
    clip = timed.clip
    stored = [d for d in drawings.of_clip(connection, clip.id) if clip.holds(d.frame)]
    to = references.of_clip(connection, clip.id)
    order = {m.id: n for n, m in enumerate(offered(clip.stroke, clip.view))}
    cannot = {d.name for d in stored if d.kind == "obstacle"}
    passed = readings.passed_over(connection, clip.id)
    found: list[ProposedMeasure] = []
    mine = [m for m in reading.measures if m.measure in order and m.measure not in cannot]
    for (name, side), group in groupby(
        sorted(mine, key=lambda m: (order[m.measure], m.side, m.frame)),
        key=lambda m: (m.measure, m.side),
    ):
        done = [d.frame for d in stored if (d.kind, d.name, d.side) == ("measure", name, side)]
        done += [frame for *which, frame in passed if which == [name, side]]
        left = [m for m in group if clip.holds(m.frame) and _still(timed, m, done)]
        made = [p for m in left if (p := _made(m, to)) is not None]
        found += _spread(made, MOST - len(done))
    return found


def pass_over(
    connection: sqlite3.Connection, timed: ClipTiming, measure: str, side: str, frame: int
) -> None:
    """Pass over a measure that is proposed. Raises MeasureError for what is not."""
    known = {(p.measure.id, p.side, p.frame) for p in proposed_measures(connection, timed)}
    if not is_side(side) or (measure, side, frame) not in known:
        raise MeasureError("This measure is not proposed any more. Reload the page.")
    readings.pass_over(connection, timed.clip.id, measure, side, frame)


def on_frame_proposed(
    connection: sqlite3.Connection, timed: ClipTiming, proposed: Sequence[ProposedMeasure]
) -> list[OnFrame]:
    """What is proposed as judging takes it. All takings of a measure are off together."""
    criteria = criteria_of(connection, timed.clip)
    made = []
    for (m, side), group in groupby(proposed, key=lambda p: (p.measure, p.side)):
        own = list(group)
        found = tuple(Occurrence(timed.time_base.time_of(p.frame), p.value, side) for p in own)
        u = max(p.u95 for p in own) / 1.96
        made.append(
            OnFrame(m.id, m.name, m.unit, m.digits, side, found, u, criteria.band(m.id),
                    least=m.least)
        )  # fmt: skip
    return made


def trust_in_measures(connection: sqlite3.Connection) -> dict[tuple[str, str], Trust]:
    """(view, measure) to how far proposals were off in the club, in the measure's unit.

    Every measure that a coach took on the very frame of a proposal tells: it was confirmed as it
    was, or moved.
    """
    offs = []
    for clip_id, read in readings.of_measured(connection).items():
        by_key = {(m.measure, m.side, m.frame): m for m in read.measures}
        to = references.of_clip(connection, clip_id)
        for d in drawings.of_clip(connection, clip_id):
            m = by_key.get((d.name, d.side, d.frame)) if d.kind == "measure" else None
            if m is not None and (off := _off(m, d, to)) is not None:
                offs.append(Off(read.read_as.view, m.measure, off, 1.96 * m.u))
    return trust_of(offs)


def _off(read: StoredMeasure, drawn: StoredDrawing, to: References) -> float | None:
    measure = MEASURES[read.measure]
    try:
        was = measure.compute([Point(*p) for p in read.points], to)
        return measure.compute(measure.every(drawn.points), to) - was
    except MeasureError:
        return None


def _still(timed: ClipTiming, read: StoredMeasure, done: Sequence[int]) -> bool:
    """False where this stroke was looked at on one of these frames, or its event lies elsewhere."""
    at = timed.time_base.time_of
    if any(abs(at(frame) - at(read.frame)) <= _SAME_S for frame in done):
        return False
    off = [
        abs(e.time_s - at(read.frame)) for e in timed.events
        if e.event in MEASURES[read.measure].events and read.side in ("", e.side or read.side)
    ]  # fmt: skip
    near = min((o for o in off if o <= _SAME_S), default=None)
    return near is None or near <= FAR_S


def _made(read: StoredMeasure, to: References) -> ProposedMeasure | None:
    measure = MEASURES[read.measure]
    points = tuple(Point(*p) for p in read.points)
    try:
        value = take(measure, points, to).value
    except MeasureError:
        return None
    return ProposedMeasure(measure, read.side, read.frame, points, value, 1.96 * read.u)


def _spread(found: Sequence[ProposedMeasure], most: int) -> list[ProposedMeasure]:
    """So many at most, from all over the clip."""
    if most <= 0:
        return []
    if len(found) <= most:
        return list(found)
    step = (len(found) - 1) / max(1, most - 1)
    return [found[round(n * step)] for n in range(most)]
