"""What is drawn and measured on a clip: values, verdicts, warnings, and what there is to paint."""

from __future__ import annotations

import math
import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from norvik.core.errors import MeasureError
from norvik.core.frame.body import in_plane
from norvik.core.frame.choices import CHOICES, OBSTACLES, Choice, Option, offered_choices
from norvik.core.frame.clock import oclock
from norvik.core.frame.drawings import says
from norvik.core.frame.geometry import Point, distance
from norvik.core.frame.lens import RIM
from norvik.core.frame.measures import MEASURES, Measure, Measured, mean_u, offered, take
from norvik.core.frame.references import References, warnings
from norvik.core.frame.shapes import Shape, Stroke, Word, arc, shapes
from norvik.core.judging.coaching_model import Band
from norvik.core.judging.margin import margin_of
from norvik.core.judging.verdicts import verdict_of_takings
from norvik.core.statistics import mean, sd
from norvik.core.strokes.names import Side
from norvik.core.time.own_spread import of_values
from norvik.core.time.plus_minus import Certainty
from norvik.core.time.quantities import Reading
from norvik.store import drawings, references
from norvik.store.clips import Clip
from norvik.store.drawings import StoredDrawing
from norvik.store.recordings import Recording
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.criteria import criteria_of
from norvik.workflow.ghost import ghost

#: Own choice: farther from its event than this, a measure is pointed out, in seconds.
FAR_S = 0.1
#: The kind of drawing that says nothing but where shoulder and hip are.
TRUNK = "trunk"


@dataclass(frozen=True, slots=True)
class EventOffset:
    """The mark nearest to a measure, where it is farther away than FAR_S; later is positive."""

    event: str
    frame: int
    seconds: float


@dataclass(frozen=True, slots=True)
class Measurement:
    """One measure as it was taken. value: None where its points cannot give it; why says so.

    verdict: "good", "watch", "fault", "unsure", or "" without a band. foreshortened: segments that
    appear too short for an angle at them to be trusted, with their share of the longest. at_rim:
    it reaches where a lens that nobody has checked may bend it.
    """

    stored: StoredDrawing
    value: Measured | None
    why: str = ""
    verdict: str = ""
    off: EventOffset | None = None
    foreshortened: tuple[tuple[str, float], ...] = ()
    at_rim: bool = False


@dataclass(frozen=True, slots=True)
class SideSummary:
    """All takings of one measure on one side. mean, sd: in its unit; sd None under two."""

    side: Side
    mean: float
    sd: float | None
    n: int
    verdict: str


@dataclass(frozen=True, slots=True)
class MeasureRow:
    """One measure that this clip offers, or that was taken all the same (seen_here False).

    typical_error: of taking it again blind, in its unit; repeats: how many pairs it rests on.
    obstacles: why it cannot be judged here, with their drawings' ids.
    """

    measure: Measure
    band: Band | None
    school: str
    seen_here: bool
    taken: tuple[Measurement, ...]
    groups: tuple[SideSummary, ...]
    typical_error: float | None
    repeats: int
    obstacles: tuple[tuple[int, str], ...]


@dataclass(frozen=True, slots=True)
class ChoiceRow:
    choice: Choice
    taken: tuple[tuple[StoredDrawing, Option], ...]
    obstacles: tuple[tuple[int, str], ...]


@dataclass(frozen=True, slots=True)
class Painted:
    """A drawing with its shapes and the words beside it."""

    stored: StoredDrawing
    shapes: tuple[Shape, ...]
    said: str


@dataclass(frozen=True)
class ClipDrawings:
    """Everything on the picture of a clip."""

    rows: tuple[MeasureRow, ...]
    choices: tuple[ChoiceRow, ...]
    painted: tuple[Painted, ...]
    references: References
    warnings: tuple[str, ...]
    click_error_px: float

    def on_frame(self, frame: int) -> list[Painted]:
        """What a picture of the frame shows; where the trunk is, is for laying films alone."""
        return [p for p in self.painted if p.stored.kind != TRUNK and p.stored.shown_on(frame)]


def picture_size(recording: Recording) -> tuple[int, int]:
    """Width and height of the upright picture at the source's resolution, in pixels.

    The review copy has the shape; the source's longer side gives the size.
    """
    width, height = recording.width or 1, recording.height or 1
    factor = source_factor(recording)
    return round(width * factor), round(height * factor)


def source_factor(recording: Recording) -> float:
    """Source pixels a pixel of the review copy."""
    source = max(recording.source_width or 0, recording.source_height or 0)
    longer = max(recording.width or 1, recording.height or 1)
    return source / longer if source else 1.0


def drawings_of(connection: sqlite3.Connection, timed: ClipTiming) -> ClipDrawings:
    clip = timed.clip
    stored = [d for d in drawings.of_clip(connection, clip.id) if clip.holds(d.frame)]
    to = references.of_clip(connection, clip.id)
    error = references.click_error(connection)
    criteria = criteria_of(connection, clip)
    again = drawings.repeats_of_clip(connection, clip.id)
    measured = [d for d in stored if d.kind == "measure" and d.name in MEASURES]
    longest = _longest(measured)
    obstacles = [d for d in stored if d.kind == "obstacle"]
    kinds = offered(clip.stroke, clip.view)
    here = {m.id for m in kinds}
    kinds += [MEASURES[n] for n in dict.fromkeys(d.name for d in measured) if n not in here]
    rows = []
    for kind in kinds:
        band = criteria.band(kind.id)
        taken = [_taken(timed, d, to, error, band, longest) for d in measured if d.name == kind.id]
        typical, pairs = _typical_error(kind, taken, again, to)
        rows.append(
            MeasureRow(
                kind, band, criteria.whose(band) if band else "", kind.id in here,
                tuple(taken), tuple(_groups(taken, band, kind)), typical, pairs,
                _obstacles(obstacles, kind.id),
            )
        )  # fmt: skip
    options = offered_choices(clip.stroke, clip.view)
    chosen = [d for d in stored if d.kind == "choice" and d.name in CHOICES]
    options += [CHOICES[n] for n in dict.fromkeys(d.name for d in chosen)
                if CHOICES[n] not in options]  # fmt: skip
    choice_rows = [
        ChoiceRow(
            c,
            tuple((d, o) for d in chosen if d.name == c.id and (o := c.option(d.text))),
            _obstacles(obstacles, c.id),
        )
        for c in options
    ]
    values = {t.stored.id: _words(row.measure, t) for row in rows for t in row.taken}
    painted = [
        Painted(d, tuple(paint(d, clip, to)), values.get(d.id) or said(d, to))
        for d in stored
        if d.points
    ]
    return ClipDrawings(
        tuple(rows), tuple(choice_rows), tuple(painted), to, tuple(warnings(to, clip.view)), error
    )


def paint(drawing: StoredDrawing, clip: Clip, to: References) -> list[Shape]:
    """The shapes of one drawing, in source pixels."""
    p = drawing.points
    if drawing.kind == "ghost":
        return ghost(clip.stroke, clip.view, drawing.text, p)
    if drawing.kind == "measure":
        measure = MEASURES.get(drawing.name)
        p = tuple(measure.every(p)) if measure else p
        if measure is None or len(p) != len(measure.points):
            return []
        made: list[Shape] = [Stroke((p[a], p[b])) for a, b in measure.lines]
        if len(p) == 3 and measure.unit == "°" and not measure.joined:
            made.append(arc(*p))
        return made
    made = shapes(drawing.kind, p, to, picture_size(clip.recording), clip.view.startswith("front"))
    if drawing.kind == "angle":
        made.append(arc(*p))
    if drawing.kind == "text":
        made.append(Word(p[0], drawing.text))
    return made


def said(drawing: StoredDrawing, to: References) -> str:
    """The number beside a drawing; empty where it has none or its points cannot give it."""
    try:
        return says(drawing.kind, drawing.points, to)
    except MeasureError:
        return ""


def written(measure: Measure, found: Measured) -> str:
    """A value as it is written on the picture: "104°", "0.12 arm lengths", "1.1 (1 o'clock)"."""
    number = f"{found.value:.{measure.digits}f}".replace("-", "−")
    unit = measure.unit if measure.unit == "°" else f" {measure.unit}"
    return f"{number}{unit}"


def _words(measure: Measure, taken: Measurement) -> str:
    if taken.value is None:
        return ""
    words = written(measure, taken.value)
    if measure.id == "entry-line" and taken.stored.side:
        words += f", {oclock(taken.value.value, taken.stored.side)}"
    return words


def _taken(
    timed: ClipTiming,
    stored: StoredDrawing,
    to: References,
    error: float,
    band: Band | None,
    longest: dict[tuple[str, str], float],
) -> Measurement:
    measure = MEASURES[stored.name]
    try:
        value = take(measure, stored.points, to, error)
    except MeasureError as problem:
        return Measurement(stored, None, problem.sentence)
    short = tuple(
        (name, length / longest[name, stored.side])
        for name, (a, b) in measure.segments.items()
        if not in_plane(
            length := distance(stored.points[a], stored.points[b]), [longest[name, stored.side]]
        )
    )
    verdict = ""
    if band:
        margin = _margin(measure, [value.value], value.u)
        verdict = verdict_of_takings(band, value.value, margin, 1, measure.least)
    lens = to.lens
    rim = lens is not None and lens.straight and not lens.u_k
    at_rim = rim and any(lens.beyond(p) > RIM for p in stored.points) if lens else False
    return Measurement(stored, value, "", verdict, _off(timed, measure, stored), short, at_rim)


def _off(timed: ClipTiming, measure: Measure, stored: StoredDrawing) -> EventOffset | None:
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
    if near is None or near.frame is None or abs(near.time_s - at_s) <= FAR_S:
        return None
    return EventOffset(near.event, near.frame, at_s - near.time_s)


def _longest(measured: Iterable[StoredDrawing]) -> dict[tuple[str, str], float]:
    """The longest appearance of every segment in the clip, pixels, by its name and side."""
    found: dict[tuple[str, str], float] = {}
    for d in measured:
        measure = MEASURES[d.name]
        points = measure.every(d.points)
        if len(points) != len(measure.points):
            continue
        for name, (a, b) in measure.segments.items():
            length = distance(points[a], points[b])
            found[name, d.side] = max(length, found.get((name, d.side), 0.0))
    return found


def _groups(taken: Sequence[Measurement], band: Band | None, measure: Measure) -> list[SideSummary]:
    found = []
    for side in ("", "left", "right"):
        mine = [t.value for t in taken if t.value and t.stored.side == side]
        if not mine:
            continue
        middle, spread = mean([v.value for v in mine]), sd([v.value for v in mine])
        assert middle is not None  # there is a value
        u = mean_u(mine)
        verdict = ""
        if band:
            margin = _margin(measure, [v.value for v in mine], u)
            verdict = verdict_of_takings(band, middle, margin, len(mine), measure.least)
        found.append(SideSummary(side, middle, spread, len(mine), verdict))
    return found


def _margin(measure: Measure, values: Sequence[float], u: float) -> float:
    """How far the swimmer's own value may be off the mean of these takings. u: of clicking."""
    certainty = Certainty(u, own=of_values(values))
    reading = Reading(math.fsum(values) / len(values), u, (), certainty)
    return margin_of(measure.id, measure.unit, reading)


def _typical_error(
    measure: Measure,
    taken: Sequence[Measurement],
    again: dict[int, list[tuple[Point, ...]]],
    to: References,
) -> tuple[float | None, int]:
    """Standard deviation of the differences between first and second taking, over root two.

    Hopkins 2000, Measures of reliability in sports medicine and science (recalled).
    """
    differences = []
    for t in taken:
        for points in again.get(t.stored.id, ()):
            try:
                second = measure.compute(measure.every(points), to)
            except MeasureError:
                continue
            if t.value:
                differences.append(second - t.value.value)
    spread = sd(differences)
    return (spread / math.sqrt(2) if spread is not None else None), len(differences)


def _obstacles(stored: Iterable[StoredDrawing], name: str) -> tuple[tuple[int, str], ...]:
    return tuple(
        (d.id, OBSTACLES[d.text]) for d in stored if d.name == name and d.text in OBSTACLES
    )
