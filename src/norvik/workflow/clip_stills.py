"""Stills: a frame with what is drawn on it, in words and at the source's size."""

from __future__ import annotations

from dataclasses import dataclass

from norvik.core.errors import MeasureError
from norvik.core.strokes.names import Side
from norvik.store.clips import Clip
from norvik.workflow.clip_drawings import ClipDrawings, Measurement, MeasureRow, written
from norvik.workflow.clip_timing import ClipTiming


@dataclass(frozen=True, slots=True)
class SheetFrame:
    """One picture of a series. share: of the cycle, 0 to 1."""

    frame: int
    event: str
    seconds: float
    share: float


def caption_of(timed: ClipTiming, drawn: ClipDrawings, frame: int, own: str = "") -> str:
    """The coach's own words, else what is measured on the frame."""
    if own:
        return own
    said = [
        _measured(row, taken)
        for row in drawn.rows
        for taken in row.taken
        if taken.stored.frame == frame and taken.value
    ]
    said += [
        f"{d.side} {row.choice.name}: {option.name}".strip().capitalize()
        for row in drawn.choices
        for d, option in row.taken
        if d.frame == frame
    ]
    return "; ".join(said)


def _measured(row: MeasureRow, taken: Measurement) -> str:
    assert taken.value is not None  # only measures with a value are told
    words = f"{taken.stored.side} {row.measure.name}".strip().capitalize()
    margin = f"{max(2 * taken.value.u, 10**-row.measure.digits):.{row.measure.digits}f}"
    said = f"{words}: {written(row.measure, taken.value)} ± {margin}"
    return f"{said} ({taken.verdict})" if taken.verdict in ("good", "watch", "fault") else said


def where_of(timed: ClipTiming, clip: Clip, frame: int) -> str:
    """Whose frame it is: swimmer, stroke, day, and real time in the clip."""
    at = timed.time_base.time_of(frame) - timed.from_s
    return f"{clip.swimmer_name or 'Unassigned'}, {clip.stroke}, {clip.filmed_on}, {at:.2f} s"


def series(timed: ClipTiming, frame: int, side: Side) -> list[SheetFrame]:
    """The events of the cycle that a frame lies in (else of the next one, else of the last).

    Raises MeasureError where no whole cycle of that arm is marked.
    """
    resolved = timed.timing.resolved
    arm = side if side in resolved.stroke.arms else resolved.stroke.arms[0]
    cycles = [c for c in resolved.cycles if c.side == arm and c.start and c.end]
    if not cycles:
        raise MeasureError("A series needs a whole cycle: mark an arm from entry to entry first.")
    at = timed.time_base.time_of(timed.clamped(frame))
    cycle = next((c for c in cycles if c.end and c.end.time_s > at), cycles[-1])
    assert cycle.start is not None
    assert cycle.end is not None
    begin, length = cycle.start.time_s, cycle.end.time_s - cycle.start.time_s
    found = [cycle.start, *sorted(cycle.inner.values(), key=lambda p: p.time_s)]
    return [
        SheetFrame(
            timed.frame_of(p.time_s), p.mark.event, p.time_s - begin, (p.time_s - begin) / length
        )
        for p in found
    ]
