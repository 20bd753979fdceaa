"""The rope: a clip's timeline as lane ropes, each phase a float as long as it lasts.

Only the layout is worked out here, in pixels of a drawing WIDTH wide; the template draws it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from norvik.core.settle import Slot
from norvik.core.strokes import StrokeRules
from norvik.store.marks import StoredMark
from norvik.workflow.clip_timing import ClipTiming

WIDTH = 1240
LABEL = 86
LANE_HEIGHT = 34
RULER_HEIGHT = 22
#: A clip longer than this is shown in windows around the playhead, seconds.
WINDOW_S = 14.0
#: Steps of the ruler in seconds; the first that gives room for its numbers is taken.
_STEPS_S = (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0)

#: Where an instant in real seconds lies in the drawing.
Place = Callable[[float], float]

#: Letters of the phases, the same everywhere.
LETTERS = {"entry": "E", "catch": "C", "pull": "P", "recovery": "R", "kick": "K"}


@dataclass(frozen=True, slots=True)
class Float:
    """One phase (or breath, or stretch of bubbles) on a rope. x and width in drawing pixels."""

    x: float
    width: float
    kind: str
    letter: str
    title: str


@dataclass(frozen=True, slots=True)
class Tick:
    """One mark. problem: why it enters no number, or None."""

    x: float
    mark_id: int
    event: str
    problem: str | None


@dataclass(frozen=True, slots=True)
class Lane:
    """One rope; y: its top. Floats and ticks are in the order in which they are drawn."""

    name: str
    y: int
    floats: tuple[Float, ...]
    ticks: tuple[Tick, ...]


@dataclass(frozen=True, slots=True)
class Rope:
    """from_s..to_s: the stretch shown, real seconds. ruler: (x, text) of the marks below."""

    from_s: float
    to_s: float
    height: int
    lanes: tuple[Lane, ...]
    ruler: tuple[tuple[float, str], ...]
    whole_s: float
    lane_height: int = LANE_HEIGHT

    @property
    def is_window(self) -> bool:
        return self.to_s - self.from_s < self.whole_s - 1e-6


def window_around(timed: ClipTiming, at_s: float, span_s: float | None) -> tuple[float, float]:
    """The stretch of a clip to show: all of a short one, else span_s around an instant."""
    whole = timed.time_base.duration_s
    span = span_s if span_s is not None else min(whole, WINDOW_S)
    span = min(max(span, 0.5), whole)
    # Windows lie on a fixed raster of half their span, so that they do not crawl with the playhead.
    step = span / 2
    start = max(0.0, min(whole - span, (at_s // step) * step - step / 2)) if span < whole else 0.0
    return start, start + span


def lane_of(mark: StoredMark, stroke: StrokeRules) -> int | None:
    """The rope on which a mark lies, counted from the top; None for a lane that is not drawn."""
    below = {"breath": len(stroke.arms), "leg": len(stroke.arms) + 1}
    side = mark.side or "both"
    if mark.lane == "arm" and side in stroke.arms:
        return stroke.arms.index(side)
    return below.get(mark.lane)


def lay_out(timed: ClipTiming, from_s: float, to_s: float) -> Rope:
    """Work out the drawing of the stretch from_s..to_s."""
    scale = (WIDTH - LABEL) / (to_s - from_s)

    def x(time_s: float) -> float:
        return round(LABEL + (time_s - from_s) * scale, 2)

    stroke = timed.timing.settled.stroke
    names = [f"{arm.capitalize()} arm" if arm != "both" else "Arms" for arm in stroke.arms]
    names += ["Breath", "Legs"]
    floats: list[list[Float]] = [[] for _ in names]
    ticks: list[list[Tick]] = [[] for _ in names]
    for slot in timed.timing.settled.slots:
        floats[stroke.arms.index(slot.side)] += _arm_floats(slot, stroke, x)
    floats[-2] += _breath_floats(timed, x)
    for slot in timed.timing.settled.leg_slots:
        floats[-1] += _leg_floats(slot, stroke, x)
    problems = timed.mark_problems()
    for m in timed.marks:
        lane = lane_of(m, stroke)
        if lane is None or m.frame >= timed.time_base.frames:
            continue
        time_s = timed.time_base.time_of(m.frame)
        if from_s - 1e-9 <= time_s <= to_s + 1e-9:
            ticks[lane].append(Tick(x(time_s), m.id, m.event, problems.get(m.id)))
    lanes = tuple(
        Lane(
            name,
            n * LANE_HEIGHT,
            tuple(f for whole in floats[n] if (f := _clip(whole, WIDTH)) is not None),
            tuple(ticks[n]),
        )
        for n, name in enumerate(names)
    )
    height = len(lanes) * LANE_HEIGHT + RULER_HEIGHT
    ruler = tuple(_ruler(from_s, to_s, scale, x))
    return Rope(from_s, to_s, height, lanes, ruler, timed.time_base.duration_s)


def _arm_floats(slot: Slot, stroke: StrokeRules, x: Place) -> list[Float]:
    """A float for each phase whose two ends are marked, and an empty one where one is missing."""
    if slot.kind == "gap" and slot.start and slot.end:
        from_s, to_s = slot.start.time_s, slot.end.time_s
        return [Float(x(from_s), x(to_s) - x(from_s), "gap", "?", "an entry seems to be missing")]
    floats = []
    for phase in stroke.phases:
        start = slot.at(phase.start, stroke.opens)
        end = slot.end if phase.end == stroke.opens else slot.at(phase.end, stroke.opens)
        if start and end:
            seconds = end.time_s - start.time_s
            title = f"{phase.name} {seconds:.3f} s"
            letter = LETTERS.get(phase.name, "")
            left = x(start.time_s)
            floats.append(Float(left, x(end.time_s) - left, phase.name, letter, title))
    if slot.kind == "cycle" and slot.start and slot.end and len(floats) < len(stroke.phases):
        floats += _unmarked(slot, stroke, x)
    return floats


def _leg_floats(slot: Slot, stroke: StrokeRules, x: Place) -> list[Float]:
    """Breaststroke: the kick as a float, the rise of the heels as a thin one."""
    floats = []
    for phase in stroke.leg_phases:
        start = slot.at(phase.start, stroke.leg_cycle[0])
        end = slot.inner.get(phase.end)
        if start and end:
            left = x(start.time_s)
            title = f"{phase.name} {end.time_s - start.time_s:.3f} s"
            kind = "kick" if phase.name == "kick" else "turn"
            floats.append(Float(left, x(end.time_s) - left, kind, "K", title))
    return floats


def _unmarked(slot: Slot, stroke: StrokeRules, x: Place) -> list[Float]:
    """Stretches of a whole cycle in which an inner event is not marked."""
    assert slot.start is not None and slot.end is not None  # noqa: PT018 - whole by definition
    known = {stroke.opens, *slot.inner}
    floats = []
    begin, missing = slot.start.time_s, False
    for phase in stroke.phases:
        last = phase.end == stroke.opens
        if not last and phase.end not in known:
            missing = True
            continue
        end = slot.end if last else slot.inner[phase.end]
        if missing:
            left = x(begin)
            floats.append(Float(left, x(end.time_s) - left, "unmarked", "", "not marked"))
        begin, missing = end.time_s, False
    return floats


def _breath_floats(timed: ClipTiming, x: Place) -> list[Float]:
    floats = []
    for b in timed.timing.settled.breaths:
        if b.turn:
            left = x(b.turn.time_s)
            floats.append(Float(left, x(b.air.time_s) - left, "turn", "", "head turns"))
        if b.down:
            left = x(b.air.time_s)
            title = f"breath {b.side} {b.down.time_s - b.air.time_s:.3f} s"
            floats.append(Float(left, x(b.down.time_s) - left, "air", b.side, title))
    for on, off in timed.timing.settled.bubbles:
        floats.append(Float(x(on), x(off) - x(on), "bubbles", "", f"bubbles {off - on:.3f} s"))
    return floats


def _clip(f: Float, right: float) -> Float | None:
    left = max(f.x, float(LABEL))
    end = min(f.x + f.width, right)
    if end - left < 0.5:
        return None
    return Float(left, round(end - left, 2), f.kind, f.letter, f.title)


def _ruler(from_s: float, to_s: float, scale: float, x: Place) -> Iterator[tuple[float, str]]:
    step = next((s for s in _STEPS_S if s * scale >= 54), _STEPS_S[-1])
    digits = 1 if step < 1 else 0
    n = int(from_s / step + 0.999999)
    while n * step <= to_s + 1e-9:
        yield x(n * step), f"{n * step:.{digits}f}"
        n += 1
