"""The rope: a clip's timeline as lane ropes, each phase a row of floats as long as it lasts.

Above the water line lie the breaths, below it arms, legs and walls. Only the layout is worked out
here, in pixels of the drawing; the template draws it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

from norvik.core.strokes import StrokeRules, names
from norvik.core.strokes.definitions import event_name
from norvik.core.strokes.events import Mark
from norvik.core.strokes.names import SIDES, Side
from norvik.core.time.proposals import Proposal
from norvik.core.time.resolve import OrderedMark, ResolvedMarks, Slot, resolve
from norvik.core.time.walls import Wall
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.first_answer import UNSURE

#: As wide as it is drawn where the page says nothing else, and the least and most that it may ask.
WIDTH = 1240
WIDTHS = (320, 2400)
#: Room for the names of the lanes; a drawing under NARROW has short ones.
LABEL, SHORT_LABEL, NARROW = 86, 58, 700
LANE_HEIGHT = 34
RULER_HEIGHT = 22
#: A clip longer than this is shown in windows around the playhead, seconds of a drawing WIDTH wide.
WINDOW_S = 14.0
#: Steps of the ruler in seconds; the first that gives room for its numbers is taken.
_STEPS_S = (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0)

#: Where an instant in real seconds lies in the drawing.
Place = Callable[[float], float]

#: Letters of the phases, the same everywhere.
LETTERS = {"entry": "E", "catch": "C", "pull": "P", "recovery": "R", "kick": "K"}
#: About how long a float is, in drawing pixels.
FLOAT = 9.0


class PhaseBox(NamedTuple):
    """One phase (or breath, or stretch of bubbles) on a rope. x and width in drawing pixels.

    pale: one of its ends is only proposed. landmark: what begins with it that the eye looks for:
    "catch", "opens" for a cycle, else "".
    """

    x: float
    width: float
    kind: str
    letter: str
    title: str
    pale: bool = False
    landmark: str = ""

    @property
    def drawn(self) -> float:
        """How long its row of floats is: a little apart from its neighbours."""
        return max(0.5, round(self.width - 2, 2))

    @property
    def pieces(self) -> int:
        """How many whole floats fill it."""
        return max(1, round(self.width / FLOAT))


class Tick(NamedTuple):
    """One mark. problem: why it enters no number, or None. note: written beside it."""

    x: float
    mark_id: int
    event: str
    problem: str | None
    note: str = ""


class Suggestion(NamedTuple):
    """An event that is only proposed. doubt: how wide it may be off, half, in drawing pixels."""

    x: float
    what: str
    doubt: float = 0.0
    unsure: bool = False


@dataclass(frozen=True, slots=True)
class Lane:
    """One rope. Floats and ticks are in the order in which they are drawn.

    id: breath; left, right or both for arms; legs, wall. ruler: x of the lines that mark time.
    proposals: events that are only proposed.
    """

    id: str
    name: str
    floats: tuple[PhaseBox, ...]
    ticks: tuple[Tick, ...]
    ruler: tuple[float, ...] = ()
    proposals: tuple[Suggestion, ...] = ()


@dataclass(frozen=True, slots=True)
class Rope:
    """from_s..to_s: the stretch shown, real seconds. ruler: (x, text) of the numbers below."""

    from_s: float
    to_s: float
    height: int
    lanes: tuple[Lane, ...]
    ruler: tuple[tuple[float, str], ...]
    whole_s: float
    width: int = WIDTH
    label: int = LABEL
    lane_height: int = LANE_HEIGHT

    @property
    def is_window(self) -> bool:
        return self.to_s - self.from_s < self.whole_s - 1e-6


def fitting(width: int | None) -> int:
    """The width of the drawing for a place that is `width` CSS pixels wide.

    Floats and letters keep their size on phones and big screens. Between the two the usual drawing
    is made smaller, so that the film keeps its height.
    """
    if width is None or NARROW <= width <= WIDTH:
        return WIDTH
    return min(max(width, WIDTHS[0]), WIDTHS[1])


def window_around(
    timed: ClipTiming, at_s: float, span_s: float | None, width: int = WIDTH
) -> tuple[float, float]:
    """The stretch of a clip to show: all of a short one, else span_s around an instant.

    A narrow drawing shows less, so that its floats stay as long as a finger can hit.
    """
    whole = timed.to_s - timed.from_s
    span = span_s if span_s is not None else min(whole, WINDOW_S * width / WIDTH)
    span = min(max(span, min(0.5, whole)), whole)
    if span >= whole:
        # A clip of one frame lasts no time at all: it gets that of a frame.
        least = timed.timing.frame_interval_s or LEAST_SPAN_S
        return timed.from_s, max(timed.to_s, timed.from_s + least)
    # Windows lie on a fixed raster of half their span, so that they do not crawl with the playhead.
    step = span / 2
    into = (at_s - timed.from_s) // step * step - step / 2
    start = timed.from_s + max(0.0, min(whole - span, into))
    return start, start + span


@lru_cache
def lane_rows(stroke: StrokeRules) -> dict[tuple[names.Lane, Side], int]:
    """(lane, side) of a mark to the rope it lies on, counted from the top."""
    rows: dict[tuple[names.Lane, Side], int] = {
        ("arm", arm): n for n, arm in enumerate(stroke.arms, 1)
    }
    if "both" in stroke.arms:
        rows["arm", ""] = rows["arm", "both"]
    legs = 1 + len(stroke.arms)
    others: dict[names.Lane, int] = {"breath": 0, "leg": legs, "wall": legs + 1, "course": legs + 1}
    return rows | {(lane, side): n for lane, n in others.items() for side in SIDES}


#: Shortest stretch that the rope shows, seconds.
LEAST_SPAN_S = 1 / 240


def lay_out(
    timed: ClipTiming, from_s: float, to_s: float, proposals: Sequence[Proposal] = (),
    width: int = WIDTH,
) -> Rope:  # fmt: skip
    """Work out the drawing of the stretch from_s..to_s, `width` pixels wide."""
    label = SHORT_LABEL if width < NARROW else LABEL
    scale = (width - label) / max(to_s - from_s, LEAST_SPAN_S)

    def x(time_s: float) -> float:
        return round(label + (time_s - from_s) * scale, 2)

    stroke = timed.timing.resolved.stroke
    names = {"breath": "Breath"}
    arm_word = "" if width < NARROW else " arm"
    names |= {a: f"{a.capitalize()}{arm_word}" if a != "both" else "Arms" for a in stroke.arms}
    names["legs"] = "Legs"
    # Most clips show no wall: its rope is there when something is marked on it.
    if any(m.lane in ("wall", "course") for m in timed.marks):
        names["wall"] = "Wall"
    legs = 1 + len(stroke.arms)
    floats: list[list[PhaseBox]] = [[] for _ in names]
    ticks: list[list[Tick]] = [[] for _ in names]
    resolved = _with(timed, proposals)
    for slot in resolved.slots:
        if slot.start and slot.end and not slot.overlaps(from_s, to_s):
            continue
        floats[1 + stroke.arms.index(slot.side)] += _arm_floats(slot, stroke, x)
    floats[0] += _breath_floats(resolved, x)
    for slot in resolved.leg_slots:
        floats[legs] += _leg_floats(slot, stroke, x)
    for wall in timed.timing.walls:
        floats[legs + 1] += _wall_floats(wall, x)
    problems, rows = timed.mark_problems(), lane_rows(stroke)
    for m, event in zip(timed.marks, timed.events, strict=True):
        lane, time_s = rows.get((m.lane, m.side)), event.time_s
        if lane is None:
            continue
        if from_s - 1e-9 <= time_s <= to_s + 1e-9:
            ticks[lane].append(Tick(x(time_s), m.id, m.event, problems.get(m.id), m.note))
    ruler = tuple(_ruler(from_s, to_s, scale, x))
    proposed: list[list[Suggestion]] = [[] for _ in names]
    for p in proposals:
        if from_s <= p.time_s <= to_s:
            row = rows.get((p.lane, "" if p.side == "both" else p.side))
            if row is not None and row < len(proposed):
                what = f"{event_name(p.event)}?"
                if p.sure is not None:
                    what += f" {100 * p.sure:.0f} % likely within 0.08 s"
                if p.bridged:
                    what += "; hidden here, placed from the other cycles"
                unsure = p.bridged or (p.sure is not None and p.sure < UNSURE)
                proposed[row].append(Suggestion(x(p.time_s), what, p.u95_s * scale, unsure))
    lanes = tuple(
        Lane(
            lane_id,
            name,
            tuple(f for whole in floats[n] if (f := _clip(whole, label, width)) is not None),
            tuple(ticks[n]),
            tuple(at for at, _ in ruler),
            tuple(proposed[n]),
        )
        for n, (lane_id, name) in enumerate(names.items())
    )
    height = len(lanes) * LANE_HEIGHT + RULER_HEIGHT
    return Rope(from_s, to_s, height, lanes, ruler, timed.to_s - timed.from_s, width, label)


def _with(timed: ClipTiming, proposals: Sequence[Proposal]) -> ResolvedMarks:
    """The marks of a clip, with what its film told beside them."""
    if all(p.sure is None for p in proposals):
        return timed.timing.resolved
    more = [Mark(p.time_s, p.lane, "" if p.side == "both" else p.side, p.event) for p in proposals]
    stroke = timed.timing.resolved.stroke
    return resolve(sorted((*timed.events, *more), key=lambda m: m.time_s), stroke)


def _pale(*ends: OrderedMark | None) -> bool:
    return any(end is not None and end.mark.key is None for end in ends)


def _arm_floats(slot: Slot, stroke: StrokeRules, x: Place) -> list[PhaseBox]:
    """A float for each phase whose two ends are marked, and an empty one where one is missing."""
    if slot.kind == "gap" and slot.start and slot.end:
        from_s, to_s = slot.start.time_s, slot.end.time_s
        return [
            PhaseBox(x(from_s), x(to_s) - x(from_s), "gap", "?", "an entry seems to be missing")
        ]
    floats = []
    for phase in stroke.phases:
        start = slot.at(phase.start, stroke.opens)
        end = slot.end if phase.end == stroke.opens else slot.at(phase.end, stroke.opens)
        if start and end:
            seconds = end.time_s - start.time_s
            title = f"{phase.name} {seconds:.3f} s"
            letter = LETTERS.get(phase.name, "")
            left = x(start.time_s)
            opens = "opens" if phase.start == stroke.opens else ""
            floats.append(PhaseBox(
                left, x(end.time_s) - left, phase.name, letter, title, _pale(start, end),
                "catch" if phase.name == "catch" else opens,
            ))  # fmt: skip
    if slot.kind == "cycle" and slot.start and slot.end and len(floats) < len(stroke.phases):
        floats += _unmarked(slot, stroke, x)
    return floats


def _leg_floats(slot: Slot, stroke: StrokeRules, x: Place) -> list[PhaseBox]:
    """Breaststroke: the kick as a float, the rise of the heels as a thin one."""
    floats = []
    for phase in stroke.leg_phases:
        start = slot.at(phase.start, stroke.leg_cycle[0])
        end = slot.inner.get(phase.end)
        if start and end:
            left = x(start.time_s)
            title = f"{phase.name} {end.time_s - start.time_s:.3f} s"
            kind = "kick" if phase.name == "kick" else "turn"
            pale = _pale(start, end)
            floats.append(PhaseBox(left, x(end.time_s) - left, kind, "K", title, pale))
    return floats


def _unmarked(slot: Slot, stroke: StrokeRules, x: Place) -> list[PhaseBox]:
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
            floats.append(PhaseBox(left, x(end.time_s) - left, "unmarked", "", "not marked"))
        begin, missing = end.time_s, False
    return floats


def _breath_floats(resolved: ResolvedMarks, x: Place) -> list[PhaseBox]:
    floats = []
    for b in resolved.breaths:
        pale = _pale(b.turn, b.air, b.down)
        if b.turn:
            left = x(b.turn.time_s)
            floats.append(PhaseBox(left, x(b.air.time_s) - left, "turn", "", "head turns", pale))
        if b.down:
            left = x(b.air.time_s)
            title = f"breath {b.side} {b.down.time_s - b.air.time_s:.3f} s"
            width = x(b.down.time_s) - left
            floats.append(PhaseBox(left, width, "air", b.side, title, pale))
    for on, off in resolved.bubbles:
        floats.append(PhaseBox(x(on), x(off) - x(on), "bubbles", "", f"exhaling {off - on:.3f} s"))
    return floats


def _wall_floats(wall: Wall, x: Place) -> list[PhaseBox]:
    """From touch to push, and the way under water from push to breakout."""
    floats = []
    for from_s, to_s, kind, word in (
        (wall.touch_s, wall.push_s, "turn", "turn"),
        (wall.push_s, wall.breakout_s, "under", "under water"),
    ):
        if from_s is not None and to_s is not None:
            title = f"{word} {to_s - from_s:.3f} s"
            floats.append(PhaseBox(x(from_s), x(to_s) - x(from_s), kind, word, title))
    return floats


def _clip(f: PhaseBox, label: float, right: float) -> PhaseBox | None:
    if f.x >= label and f.x + f.width <= right and f.width >= 0.5:
        return f._replace(width=round(f.width, 2))
    left = max(f.x, label)
    end = min(f.x + f.width, right)
    if end - left < 0.5:
        return None
    return f._replace(
        x=left, width=round(end - left, 2), landmark=f.landmark if f.x >= label else ""
    )


def _ruler(from_s: float, to_s: float, scale: float, x: Place) -> Iterator[tuple[float, str]]:
    step = next((s for s in _STEPS_S if s * scale >= 54), _STEPS_S[-1])
    digits = 1 if step < 1 else 0
    n = int(from_s / step + 0.999999)
    while n * step <= to_s + 1e-9:
        yield x(n * step), f"{n * step:.{digits}f}"
        n += 1
