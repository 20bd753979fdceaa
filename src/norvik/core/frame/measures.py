"""The named measures: which points they need, where and when they are taken, what they compute."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from norvik.core.errors import MeasureError
from norvik.core.frame.certainty import CLICK_ERROR_PX, uncertainty
from norvik.core.frame.geometry import (
    Point,
    above,
    best_line_spread,
    between_lines,
    distance,
    inner_angle,
    off_line,
    rise,
    steepness,
)

ALL = ("freestyle", "backstroke", "breaststroke", "butterfly")
ALTERNATING = ("freestyle", "backstroke")
SIDE_UNDER, FRONT_UNDER, SIDE_ABOVE = "side-under", "front-under", "side-above"
FRONT_ABOVE, OVERHEAD, BEHIND = "front-above", "overhead", "behind"

#: Clicks in the order of the measure's points, and the degrees by which the true horizontal climbs.
Compute = Callable[[Sequence[Point], float], float]


@dataclass(frozen=True, slots=True)
class Measure:
    """One named measure.

    instant: the event it is taken at, or words for a moment between events; empty where any frame
    will do. events: events of the arm or leg lane by which the tool finds the instant. points: what
    is clicked, in this order. unit and digits: as it is written. sided: it belongs to one side of
    the body. joined: pairs of points that a line joins; each with the next where nothing is said.
    """

    id: str
    name: str
    strokes: tuple[str, ...]
    views: tuple[str, ...]
    instant: str
    events: tuple[str, ...]
    points: tuple[str, ...]
    unit: str
    digits: int
    compute: Compute
    sided: bool = True
    joined: tuple[tuple[int, int], ...] = ()

    @property
    def lines(self) -> tuple[tuple[int, int], ...]:
        """Pairs of points that are joined by a line, by their places in `points`."""
        return self.joined or tuple((n, n + 1) for n in range(len(self.points) - 1))

    def needs(self, clicked: int) -> str | None:
        """The point that is clicked next; None when all are there."""
        return self.points[clicked] if clicked < len(self.points) else None


@dataclass(frozen=True, slots=True)
class Measured:
    """A value with its standard uncertainty, both in the measure's unit."""

    value: float
    u: float


def take(
    measure: Measure,
    clicks: Sequence[Point],
    horizon_deg: float = 0.0,
    error_px: float = CLICK_ERROR_PX,
) -> Measured:
    """The value of a measure from its clicks.

    Raises MeasureError when their number is wrong or they cannot give the measure.
    """
    if len(clicks) != len(measure.points):
        raise MeasureError(
            f"{measure.name} needs {len(measure.points)} points: {', '.join(measure.points)}."
        )

    def value(points: Sequence[Point]) -> float:
        return measure.compute(points, horizon_deg)

    return Measured(value(clicks), uncertainty(value, clicks, error_px))


def offered(stroke: str, view: str) -> list[Measure]:
    """The measures of a stroke that a view can show, in the order in which they are listed."""
    return [m for m in MEASURES.values() if stroke in m.strokes and view in m.views]


# ---- what the table is made of ----


def _angle(p: Sequence[Point], _horizon: float) -> float:
    return inner_angle(p[0], p[1], p[2])


def _steepness(p: Sequence[Point], horizon: float) -> float:
    return steepness(p[0], p[1], horizon)


def _to_vertical(p: Sequence[Point], horizon: float) -> float:
    return 90 - steepness(p[0], p[1], horizon)


def _high_elbow(p: Sequence[Point], _horizon: float) -> float:
    """Elbow above the line from shoulder to fingertips, in percent of that line."""
    shoulder, elbow, fingertips = p
    return 100 * off_line(elbow, shoulder, fingertips) / distance(shoulder, fingertips)


def _below(p: Sequence[Point], horizon: float) -> float:
    """Degrees by which a line from its first point on sinks below the horizontal."""
    return 90 - abs(rise(p[0], p[1], horizon) + 90)


def _reach_depth(p: Sequence[Point], horizon: float) -> float:
    """Fingertips below the shoulder, in lengths of the stretched arm (shoulder to wrist)."""
    shoulder, wrist, fingertips = p
    return above(shoulder, fingertips, horizon) / _length(shoulder, wrist)


def _streamline(p: Sequence[Point], _horizon: float) -> float:
    return 100 * best_line_spread(p) / _length(p[0], p[-1])


def _amplitude(p: Sequence[Point], horizon: float) -> float:
    """Travel of the ankle from top to bottom, in depths of the trunk."""
    top, bottom, back, belly = p
    return abs(above(top, bottom, horizon)) / _length(back, belly)


def _from_midline(p: Sequence[Point], horizon: float) -> float:
    """A hand's place across the swimmer, in half widths of the shoulders from their middle.

    Positive on the side of its own shoulder, the first point.
    """
    own, other, hand = p
    half = distance(own, other) / 2
    if half == 0:
        raise MeasureError("The two shoulders lie on each other. Move one of them.")
    mx, my = (own.x + other.x) / 2, (own.y + other.y) / 2
    # Along the line of the shoulders: a swimmer who rolls takes the midline along.
    return ((hand.x - mx) * (own.x - mx) + (hand.y - my) * (own.y - my)) / half**2


def _wider(p: Sequence[Point], _horizon: float) -> float:
    """A distance in widths of the hips."""
    return distance(p[0], p[1]) / _length(p[2], p[3])


def _difference(p: Sequence[Point], horizon: float) -> float:
    """How much higher the first point is than the second, in lengths of the forearm."""
    return above(p[0], p[1], horizon) / _length(p[2], p[3])


def _chest_to_hips(p: Sequence[Point], horizon: float) -> float:
    """Shoulder above hip, in percent of the trunk's length."""
    return 100 * above(p[0], p[1], horizon) / _length(p[0], p[1])


def _entry_reach(p: Sequence[Point], _horizon: float) -> float:
    """From head to the place of entry, in lengths of the full reach (shoulder to fingertips)."""
    head, entry, shoulder, fingertips = p
    return distance(head, entry) / _length(shoulder, fingertips)


def _head_to_trunk(p: Sequence[Point], _horizon: float) -> float:
    crown, neck, shoulder, hip = p
    return between_lines(neck, crown, hip, shoulder)


def _length(a: Point, b: Point) -> float:
    found = distance(a, b)
    if found == 0:
        raise MeasureError("Two points that give a length lie on each other. Move one of them.")
    return found


_ARM = ("shoulder", "elbow", "wrist")
_LEG = ("hip", "knee", "ankle")

MEASURES: dict[str, Measure] = {
    m.id: m
    for m in (
        Measure("elbow-angle", "Elbow angle in the pull", ALL, (SIDE_UNDER,),
                "hand under the shoulder", ("shoulder", "shoot"), _ARM, "°", 0, _angle),
        Measure("high-elbow", "Elbow above the line of the arm", ALL, (SIDE_UNDER,),
                "catch to press", ("catch", "press", "in"), ("shoulder", "elbow", "fingertips"),
                "%", 1, _high_elbow),
        Measure("forearm-vertical", "Forearm from the vertical", ("freestyle", "butterfly"),
                (SIDE_UNDER,), "press", ("press",), ("elbow", "fingertips"), "°", 0, _to_vertical),
        Measure("reach-depth", "Reach, fingertips below the shoulder", ("freestyle", "butterfly"),
                (SIDE_UNDER,), "catch", ("catch",), ("shoulder", "wrist", "fingertips"),
                "arm lengths", 2, _reach_depth),
        Measure("body-line", "Body from the horizontal", ALL, (SIDE_UNDER,), "", (),
                ("shoulder", "ankle"), "°", 1, _steepness, sided=False),
        Measure("head-trunk", "Head from the line of the trunk", ALL, (SIDE_UNDER, SIDE_ABOVE), "",
                (), ("crown", "neck", "shoulder", "hip"), "°", 0, _head_to_trunk,
                sided=False, joined=((0, 1), (2, 3))),
        Measure("back-arch", "Shoulder, hip, knee", ALL, (SIDE_UNDER,), "", (),
                ("shoulder", "hip", "knee"), "°", 0, _angle),
        Measure("streamline", "Streamline, farthest from its line", ALL, (SIDE_UNDER,),
                "glide", (), ("wrist", "shoulder", "hip", "ankle"), "% of the length", 1,
                _streamline, sided=False),
        Measure("kick-amplitude", "Kick, top to bottom", ("freestyle", "backstroke", "butterfly"),
                (SIDE_UNDER,), "", (), ("ankle at its top", "ankle at its bottom", "back", "belly"),
                "trunk depths", 1, _amplitude, joined=((0, 1), (2, 3))),
        Measure("knee-bend", "Knee at its most bent", ("freestyle", "backstroke", "butterfly"),
                (SIDE_UNDER,), "", (), _LEG, "°", 0, _angle),
        Measure("chest-hips", "Chest against hips at landing", ("breaststroke", "butterfly"),
                (SIDE_UNDER, SIDE_ABOVE), "entry", ("entry", "long"), ("shoulder", "hip"),
                "% of the trunk", 0, _chest_to_hips, sided=False),
        Measure("arm-dive", "Arms below the horizontal", ("breaststroke", "butterfly"),
                (SIDE_UNDER,), "full reach", ("catch", "long"), ("shoulder", "fingertips"),
                "°", 0, _below, sided=False),
        Measure("body-roll", "Body roll", ALTERNATING, (FRONT_UNDER, FRONT_ABOVE, BEHIND),
                "largest roll", (), ("one shoulder", "other shoulder"), "°", 0, _steepness),
        Measure("entry-line", "Hand from the midline at entry", ALTERNATING,
                (FRONT_UNDER, FRONT_ABOVE, OVERHEAD), "entry", ("entry",),
                ("shoulder of this hand", "other shoulder", "hand"), "half shoulders", 1,
                _from_midline, joined=((0, 1),)),
        Measure("pull-width", "Hand from the midline in the pull", ALL, (FRONT_UNDER,),
                "hand under the shoulder", ("shoulder", "in"),
                ("shoulder of this hand", "other shoulder", "hand"), "half shoulders", 1,
                _from_midline, joined=((0, 1),)),
        Measure("hand-depth", "Left hand above the right", ("breaststroke", "butterfly"),
                (FRONT_UNDER,), "the same phase", (),
                ("left hand", "right hand", "elbow", "wrist"), "forearms", 1, _difference,
                sided=False, joined=((0, 1), (2, 3))),
        Measure("forearm-catch", "Forearm from the horizontal", ("breaststroke",), (FRONT_UNDER,),
                "in", ("in",), ("elbow", "fingertips"), "°", 0, _steepness),
        Measure("knees-hips", "Knees against hips", ("breaststroke",), (FRONT_UNDER, BEHIND),
                "set", ("set",), ("left knee", "right knee", "left hip", "right hip"),
                "hip widths", 1, _wider,
                sided=False, joined=((0, 1), (2, 3))),
        Measure("leg-spread", "Feet apart at their widest", ALTERNATING,
                (FRONT_UNDER, OVERHEAD, BEHIND), "", (),
                ("left foot", "right foot", "left hip", "right hip"), "hip widths", 1, _wider,
                sided=False, joined=((0, 1), (2, 3))),
        Measure("recovery-elbow", "Elbow above the hand", ("freestyle", "butterfly"),
                (SIDE_ABOVE, FRONT_ABOVE), "recovery", (), ("elbow", "hand", "elbow", "wrist"),
                "forearms", 1, _difference, joined=((0, 1), (2, 3))),
        Measure("entry-reach", "Entry from the head", ("freestyle",), (SIDE_ABOVE, SIDE_UNDER),
                "entry", ("entry",),
                ("head", "hand", "shoulder", "fingertips of the stretched arm"),
                "reaches", 2, _entry_reach, joined=((0, 1), (2, 3))),
    )
}  # fmt: skip
