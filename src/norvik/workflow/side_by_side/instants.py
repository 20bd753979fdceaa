"""The instant of a clip that shows a number: where to look for it in a picture."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from norvik.core.strokes.names import Side
from norvik.core.time.quantities import QUANTITIES, Occurrence, Reading
from norvik.core.time.quantities.rate import rate_unit, stroke_rate
from norvik.workflow.clip_on_frame import on_frame_of
from norvik.workflow.clip_timing import ClipTiming


@dataclass(frozen=True, slots=True)
class Shown:
    """One number of a clip with the frame that shows it best. frame: None where none does."""

    what: str
    side: Side
    name: str
    unit: str
    digits: int
    reading: Reading
    frame: int | None


def readings_of(connection: sqlite3.Connection, timed: ClipTiming) -> list[Shown]:
    """Every number of a clip, of its marks and of its frames."""
    timing = timed.timing
    found: list[Shown] = []

    def add(what: str, name: str, unit: str, digits: int, reading: Reading | None) -> None:
        if reading is not None:
            frame = frame_of(timed, reading.occurrences, reading.value)
            found.append(Shown(what, "", name, unit, digits, reading, frame))

    add("rate", "Stroke rate", rate_unit(timing), 1, stroke_rate(timing))
    for q in QUANTITIES.values():
        if q.compared and timing.stroke in q.strokes:
            add(q.id, q.name, q.unit, q.digits, q.of(timing))
    for taken in on_frame_of(connection, timed)[0]:
        if not taken.chosen:
            reading = taken.reading
            frame = frame_of(timed, taken.found, reading.value)
            found.append(
                Shown(taken.what, taken.side, taken.name, taken.unit, taken.digits, reading, frame)
            )
    return found


def frame_of(timed: ClipTiming, occurrences: Iterable[Occurrence], value: float) -> int | None:
    """The frame of the instance whose own value is nearest to the clip's.

    It shows what the number says, not the best or the worst of them.
    """
    inside = [o for o in occurrences if timed.from_s <= o.time_s <= timed.to_s]
    nearest = min(inside, key=lambda o: (round(abs(o.value - value), 9), o.time_s), default=None)
    return timed.clamped(timed.frame_of(nearest.time_s)) if nearest else None


def frames_by_number(
    connection: sqlite3.Connection, timed: ClipTiming
) -> dict[tuple[str, str], int]:
    """(what, side) of every number that a frame shows, to that frame."""
    return {
        (s.what, s.side): s.frame for s in readings_of(connection, timed) if s.frame is not None
    }


def of_number(shown: Sequence[Shown], what: str, side: Side) -> Shown | None:
    return next((s for s in shown if (s.what, s.side) == (what, side)), None)
