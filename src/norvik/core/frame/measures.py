"""The named measures: which points they need, where and when they are taken, what they compute."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from norvik.core.errors import MeasureError
from norvik.core.frame import formulas as f
from norvik.core.frame.geometry import Point
from norvik.core.frame.lens import NO_CAMERA, Lens
from norvik.core.frame.references import References
from norvik.core.frame.turned import TURN_DEG, turn_uncertainty
from norvik.core.frame.uncertainty import CLICK_ERROR_PX, checked_error, slopes
from norvik.core.strokes.names import StrokeName

ALL = ("freestyle", "backstroke", "breaststroke", "butterfly")
FACE_DOWN = ("freestyle", "breaststroke", "butterfly")
ALTERNATING = ("freestyle", "backstroke")
SIDE_UNDER, FRONT_UNDER, SIDE_ABOVE = "side-under", "front-under", "side-above"
FRONT_ABOVE, OVERHEAD, BEHIND = "front-above", "overhead", "behind"
BEHIND_UNDER = "behind-under"
ANY = (SIDE_UNDER, FRONT_UNDER, SIDE_ABOVE, FRONT_ABOVE, OVERHEAD, BEHIND, BEHIND_UNDER)

#: Clicks in the order of the measure's points, and what they are measured against.
Compute = Callable[[Sequence[Point], References], float]
#: Pairs of points that are a segment of the body: out of the plane it looks shorter.
_SEGMENTS = {
    ("shoulder", "elbow"): "upper arm",
    ("elbow", "wrist"): "forearm",
    ("hip", "knee"): "thigh",
    ("knee", "ankle"): "shank",
}


@dataclass(frozen=True, slots=True)
class Measure:
    """One named measure.

    instant: the event it is taken at, or words for a moment between events; empty where any frame
    will do. events: events of the arm or leg lane by which the tool finds the instant. points: what
    is clicked, in this order. unit and digits: as it is written. sided: it belongs to one side of
    the body. joined: pairs of points that a line joins; each with the next where nothing is said.
    least: takings from which on it can show a fault; fewer show at most "watch". doubled: the last
    point may be left out, and then stands for the one before it, too. hidden: pairs of a stroke and
    a view of `views` that does not show it there.
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
    least: int = 1
    doubled: bool = False
    hidden: tuple[tuple[str, str], ...] = ()

    @property
    def lines(self) -> tuple[tuple[int, int], ...]:
        """Pairs of points that are joined by a line, by their places in `points`."""
        return self.joined or tuple((n, n + 1) for n in range(len(self.points) - 1))

    def shown(self, stroke: StrokeName, view: str) -> bool:
        """Can this view show it in this stroke?"""
        return stroke in self.strokes and view in self.views and (stroke, view) not in self.hidden

    def every(self, clicks: Sequence[Point]) -> Sequence[Point]:
        """The clicks with a last point that was left out and stands for the one before it."""
        if self.doubled and len(clicks) == len(self.points) - 1:
            return (*clicks, clicks[-1])
        return clicks

    @property
    def segments(self) -> dict[str, tuple[int, int]]:
        """Segments of the body that its lines draw, with the places of their ends in `points`."""
        named = {(self.points[a], self.points[b]): (a, b) for a, b in self.lines}
        return {_SEGMENTS[pair]: at for pair, at in named.items() if pair in _SEGMENTS}


NOTHING_SET = References()


@dataclass(frozen=True, slots=True)
class Measured:
    """A value with its standard uncertainty, both in the measure's unit.

    Of u, own: of its own clicks. shared: of each coordinate of the references' clicks, which all
    measures of a clip share. common: of the lens and of how square the swimmer lies to the camera,
    which do not average out either.
    """

    value: float
    u: float
    own: float = 0.0
    shared: tuple[float, ...] = ()
    common: float = 0.0


def mean_u(takings: Sequence[Measured]) -> float:
    """Standard uncertainty of the mean of several takings of one measure in one clip.

    Own clicks average out. What they share does not: one horizon that was clicked a degree off is
    off for all of them.
    """
    n = len(takings)
    own = math.sqrt(math.fsum(t.own**2 for t in takings)) / n
    shared = [math.fsum(each) / n for each in zip(*(t.shared for t in takings), strict=True)]
    common = math.fsum(t.common for t in takings) / n
    return math.hypot(own, *shared, common)


def take(
    measure: Measure,
    clicks: Sequence[Point],
    references: References = NOTHING_SET,
    error_px: float = CLICK_ERROR_PX,
    turn_deg: float = TURN_DEG,
) -> Measured:
    """The value of a measure from its clicks, each put where a straight lens would show it.

    The points of the references were clicked, too: their error is part of the uncertainty, and so
    is what is not known of the lens and, by turn_deg, of how square the swimmer lies to the camera.
    Raises MeasureError when the number of clicks is wrong or they cannot give the measure.
    """
    if len(measure.every(clicks)) != len(measure.points):
        raise MeasureError(
            f"{measure.name} needs {len(measure.points)} points: {', '.join(measure.points)}."
        )
    checked_error(error_px)
    n, lens = len(clicks), references.lens

    def value(points: Sequence[Point], by: Lens | None = lens) -> float:
        # A click that stands for two points is one click: its error counts once.
        seen = points[:n] if by is None else [by.correct(p) for p in points[:n]]
        return measure.compute(measure.every(seen), references.moved(points[n:]).corrected(by))

    every = (*clicks, *references.clicks)
    found = [error_px * s for s in slopes(value, every)]
    own, shared = math.hypot(*found[: 2 * n]), tuple(found[2 * n :])
    turn = turn_uncertainty(
        lambda points: value(points, None),
        [lens.correct(p) for p in every] if lens else every,
        lens or NO_CAMERA,
        turn_deg,
        n,
    )
    bent = 0.0
    if lens is not None and lens.u_k:
        ends = (value(every, replace(lens, k=lens.k + s * lens.u_k)) for s in (1, -1))
        bent = abs(next(ends) - next(ends)) / 2
    common = math.hypot(turn, bent)
    return Measured(value(every), math.hypot(own, *shared, common), own, shared, common)


def offered(stroke: StrokeName, view: str) -> list[Measure]:
    """The measures of a stroke that a view can show, in the order in which they are listed."""
    return [m for m in MEASURES.values() if m.shown(stroke, view)]


_ARM = ("shoulder", "elbow", "wrist")
_LEG = ("hip", "knee", "ankle")

MEASURES: dict[str, Measure] = {
    m.id: m
    for m in (
        Measure("elbow-angle", "Elbow angle in the pull",
                ("freestyle", "backstroke", "butterfly"), (FRONT_UNDER,),
                "hand under the shoulder", ("shoulder",), _ARM, "°", 0, f.angle),
        Measure("high-elbow", "Elbow above the line of the arm", FACE_DOWN, (SIDE_UNDER,),
                "catch to pull", ("catch", "press", "in"), ("shoulder", "elbow", "fingertips"),
                "%", 1, f.high_elbow),
        Measure("forearm-vertical", "Forearm from the vertical", ("freestyle", "butterfly"),
                (SIDE_UNDER,), "press", ("press",), ("elbow", "fingertips"), "°", 0, f.to_vertical),
        Measure("reach-depth", "Reach, fingertips below the shoulder", ("freestyle", "butterfly"),
                (SIDE_UNDER,), "catch", ("catch",), ("shoulder", "wrist", "fingertips"),
                "arm lengths", 2, f.reach_depth),
        Measure("reach-order", "Reach, highest step upwards", ("freestyle", "butterfly"),
                (SIDE_UNDER,), "full reach", ("catch",),
                ("shoulder", "elbow", "wrist", "fingertips"), "% of the arm", 1, f.reach_order),
        Measure("body-line", "Body line from the horizontal", ALTERNATING, (SIDE_UNDER,), "", (),
                ("shoulder", "one ankle", "other ankle"), "°", 1, f.body_line, sided=False,
                joined=((0, 1), (0, 2)), least=2, doubled=True),
        Measure("stretch-line", "Body line at full stretch", ("breaststroke", "butterfly"),
                (SIDE_UNDER,), "full reach", ("catch", "long"),
                ("shoulder", "one ankle", "other ankle"), "°", 1, f.body_line, sided=False,
                joined=((0, 1), (0, 2)), doubled=True),
        Measure("head-trunk", "Head from the line of the trunk", ALL, (SIDE_UNDER, SIDE_ABOVE), "",
                (), ("crown", "neck", "shoulder", "hip"), "°", 0, f.head_to_trunk,
                sided=False, joined=((0, 1), (2, 3))),
        Measure("back-arch", "Shoulder, hip, knee", FACE_DOWN, (SIDE_UNDER,), "", (),
                ("shoulder", "hip", "knee"), "°", 0, f.belly_angle, sided=False),
        Measure("back-arch-up", "Shoulder, hip, knee", ("backstroke",), (SIDE_UNDER,), "", (),
                ("shoulder", "hip", "knee"), "°", 0, f.belly_angle_face_up, sided=False),
        Measure("streamline", "Streamline, farthest from its line", ALL, (SIDE_UNDER,),
                "glide", (), ("wrist", "shoulder", "hip", "ankle"), "% of the length", 1,
                f.streamline, sided=False),
        Measure("kick-amplitude", "Kick, top to bottom", ALTERNATING,
                (SIDE_UNDER,), "", (), ("ankle at its top", "ankle at its bottom", "back", "belly"),
                "trunk depths", 1, f.amplitude, joined=((0, 1), (2, 3))),
        Measure("knee-bend", "Knee at its most bent", ("freestyle", "backstroke", "butterfly"),
                (SIDE_UNDER,), "", (), _LEG, "°", 0, f.angle),
        Measure("dolphin-knee", "Knee at its most bent, dolphin kick", ALL, (SIDE_UNDER,),
                "", (), _LEG, "°", 0, f.angle),
        Measure("dolphin-amplitude", "Dolphin kick, top to bottom", ALL, (SIDE_UNDER,),
                "", (), ("ankle at its top", "ankle at its bottom", "back", "belly"),
                "trunk depths", 1, f.amplitude, sided=False, joined=((0, 1), (2, 3))),
        Measure("foot-depth", "Toes below the surface at the top of the kick", ("backstroke",),
                (SIDE_UNDER,), "", (), ("toes", "knee", "ankle"), "shanks", 2, f.foot_depth,
                joined=((1, 2),)),
        Measure("ankle", "Ankle at the end of the beat", ALL, (SIDE_UNDER,), "end of the beat",
                ("beat", "close"), ("knee", "ankle", "toes"), "°", 0, f.angle),
        Measure("chest-hips", "Chest against hips at landing", ("breaststroke", "butterfly"),
                (SIDE_UNDER, SIDE_ABOVE), "entry", ("entry", "long"), ("shoulder", "hip"),
                "% of the trunk", 0, f.chest_to_hips, sided=False),
        Measure("arm-dive", "Arms below the horizontal", ("breaststroke", "butterfly"),
                (SIDE_UNDER,), "full reach", ("catch", "long"), ("shoulder", "fingertips"),
                "°", 0, f.below_horizontal, sided=False),
        Measure("body-roll", "Body roll", ALTERNATING, (FRONT_UNDER, FRONT_ABOVE, BEHIND),
                "largest roll", (), ("one shoulder", "other shoulder"), "°", 0, f.to_horizontal),
        Measure("entry-line", "Hand from the midline at entry", ALTERNATING,
                (FRONT_UNDER, FRONT_ABOVE, OVERHEAD), "entry", ("entry",),
                ("shoulder of this hand", "other shoulder", "hand"), "half shoulders", 1,
                # On the back the entering shoulder lies deep below its hand: the rolled line of
                # the shoulders, seen from in front, would put the hand past the middle.
                f.from_midline, joined=((0, 1),), hidden=(("backstroke", FRONT_UNDER),)),
        Measure("pull-width", "Hand from the midline in the pull", ALL, (FRONT_UNDER,),
                "hand under the shoulder", ("shoulder", "in"),
                ("shoulder of this hand", "other shoulder", "hand"), "half shoulders", 1,
                f.from_midline, joined=((0, 1),)),
        Measure("elbow-out", "Elbow wider than the hand", ("freestyle", "butterfly"),
                (FRONT_UNDER,), "press", ("press",),
                ("shoulder of this arm", "other shoulder", "elbow", "hand"), "half shoulders", 1,
                f.elbow_out, joined=((0, 1), (2, 3))),
        Measure("hand-depth", "Left hand above the right", ALL,
                (FRONT_UNDER,), "the same phase", (),
                ("left hand", "right hand", "elbow", "wrist"), "forearms", 1, f.higher,
                sided=False, joined=((0, 1), (2, 3))),
        Measure("forearm-catch", "Forearm from the horizontal", ("breaststroke",), (FRONT_UNDER,),
                "in", ("in",), ("elbow", "fingertips"), "°", 0, f.to_horizontal),
        Measure("knees-hips", "Knees against hips", ("breaststroke",),
                (FRONT_UNDER, BEHIND, BEHIND_UNDER), "set", ("set",),
                ("left knee", "right knee", "left hip", "right hip"),
                "hip widths", 1, f.widths,
                sided=False, joined=((0, 1), (2, 3))),
        Measure("leg-spread", "Feet apart at their widest", ALTERNATING,
                (FRONT_UNDER, OVERHEAD, BEHIND, BEHIND_UNDER), "", (),
                ("left foot", "right foot", "left hip", "right hip"), "hip widths", 1, f.widths,
                sided=False, joined=((0, 1), (2, 3))),
        Measure("recovery-elbow", "Elbow above the hand", ("freestyle", "butterfly"),
                (SIDE_ABOVE, FRONT_ABOVE), "recovery", (), ("elbow", "hand", "elbow", "wrist"),
                "forearms", 1, f.higher, joined=((0, 1), (2, 3))),
        Measure("recovery-width", "Hand beside the body in recovery", ("freestyle", "butterfly"),
                (FRONT_ABOVE, OVERHEAD), "recovery", (),
                ("shoulder of this hand", "other shoulder", "hand"), "half shoulders", 1,
                f.beside_body, joined=((0, 1),)),
        Measure("elbow-behind", "Elbow behind the shoulders as the hand leaves",
                ("freestyle", "butterfly"), (FRONT_ABOVE,), "exit", ("exit",),
                ("shoulder of this arm", "other shoulder", "elbow"), "half shoulders", 1,
                f.behind_shoulders, joined=((0, 1), (0, 2))),
        Measure("entry-ahead", "Hand entry ahead of the shoulder", ("freestyle",),
                (SIDE_ABOVE, SIDE_UNDER), "entry", ("entry",),
                ("shoulder", "hand", "shoulder of the stretched arm",
                 "fingertips of the stretched arm"),
                "reaches", 2, f.entry_ahead, joined=((0, 1), (2, 3))),
        # No longer offered: where on the head it was clicked changed its value by half.
        Measure("entry-reach", "Entry from the head", ("freestyle",), (), "entry", ("entry",),
                ("head", "hand", "shoulder", "fingertips of the stretched arm"),
                "reaches", 2, f.entry_reach, joined=((0, 1), (2, 3))),
        Measure("distance", "Distance by the scale", ALL, ANY, "", (), ("one end", "other end"),
                "m", 2, f.metres, sided=False),
        Measure("distance-forearms", "Distance in forearms", ALL, ANY, "", (),
                ("one end", "other end", "elbow", "wrist"), "forearms", 2, f.widths,
                sided=False, joined=((0, 1), (2, 3))),
        Measure("free-angle", "Any angle", ALL, ANY, "", (), ("one leg", "corner", "other leg"),
                "°", 0, f.angle, sided=False),
        Measure("free-line", "Any line from the horizontal", ALL, ANY, "", (),
                ("one end", "other end"), "°", 1, f.to_horizontal, sided=False),
    )
}  # fmt: skip
