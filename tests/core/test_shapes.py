"""What drawings are made of, against NumPy, SciPy and worked examples."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import CubicHermiteSpline

from norvik.core.errors import MeasureError
from norvik.core.frame.choices import CHOICES, offered_choices
from norvik.core.frame.clock import oclock
from norvik.core.frame.drawings import KINDS, check, says, thinned
from norvik.core.frame.geometry import Point, distance, inner_angle
from norvik.core.frame.references import References
from norvik.core.frame.shapes import Ring, Stroke, Word, arc, curve, shapes
from norvik.core.judging.coaching_model import Band
from norvik.core.judging.verdicts import verdict_of
from norvik.workflow.ghost import ghost, moments

SIZE = (1280, 720)
spots = st.builds(Point, st.floats(0, 1280), st.floats(0, 720))


@settings(max_examples=60, deadline=None)
@given(st.lists(spots, min_size=2, max_size=80, unique=True), st.floats(0.5, 20))
def test_a_thinned_line_stays_where_it_was(drawn: list[Point], off: float) -> None:
    kept = thinned(drawn, off)
    assert kept[0] == drawn[0]
    assert kept[-1] == drawn[-1]
    corners = [drawn.index(p) for p in kept]
    for a, b in pairwise(corners):
        for p in drawn[min(a, b) : max(a, b)]:
            u, v = np.subtract(drawn[b], drawn[a]), np.subtract(p, drawn[a])
            along = np.clip(u @ v / (u @ u), 0, 1) if (u @ u) > 0 else 0
            assert np.linalg.norm(v - along * u) <= off + 1e-6


def test_a_curve_is_that_of_scipy() -> None:
    """Catmull and Rom: the slope at each point is half the step between its neighbours."""
    given_points = [Point(0, 0), Point(100, 50), Point(180, 20), Point(300, 90)]
    at = np.array(given_points, float)
    slopes = np.array([(at[1] - at[0]) / 2, (at[2] - at[0]) / 2, (at[3] - at[1]) / 2,
                       (at[3] - at[2]) / 2])  # fmt: skip
    spline = CubicHermiteSpline(np.arange(4), at, slopes)
    found = np.array(curve(given_points))
    assert found == pytest.approx(spline(np.linspace(0, 3, len(found))), abs=1e-9)


def test_lines_across_the_picture() -> None:
    (plumb,) = shapes("plumb", [Point(300, 100)], References(), SIZE)
    assert isinstance(plumb, Stroke)
    assert plumb.points == (Point(300, 0), Point(300, 720))
    leaning = References(level=(Point(0, 100), Point(1000, 0)))
    (plumb,) = shapes("plumb", [Point(300, 100)], leaning, SIZE)
    (level,) = shapes("level", [Point(300, 100)], leaning, SIZE)
    assert isinstance(plumb, Stroke)
    assert isinstance(level, Stroke)
    # Both lean with the camera, and stand upright on each other.
    assert inner_angle(plumb.points[0], Point(300, 100), level.points[0]) == pytest.approx(90)
    climb = np.subtract(level.points[1], level.points[0])
    assert -climb[1] / climb[0] == pytest.approx(0.1)
    for end in (*plumb.points, *level.points):
        assert -1e-6 <= end.x <= 1280 + 1e-6
        assert -1e-6 <= end.y <= 720 + 1e-6


def test_the_clock_of_the_swimmer() -> None:
    centre, twelve = Point(400, 400), Point(400, 300)

    def hours(mirrored: bool) -> dict[str, Point]:
        made = shapes("clock", [centre, twelve], References(), SIZE, mirrored)
        assert isinstance(made[0], Ring)
        assert made[0].radius == 100
        return {w.text: w.at for w in made if isinstance(w, Word)}

    assert hours(False)["3"].x > 400 > hours(True)["3"].x
    assert hours(False)["1"].x > 400 > hours(False)["11"].x
    assert hours(True)["12"].y < 400 < hours(True)["6"].y
    assert [oclock(v, "right") for v in (1.0, 0.0, -1.0, 0.5)] == [
        "1 o'clock", "12 o'clock", "11 o'clock", "half past 12"
    ]  # fmt: skip
    assert oclock(1.0, "left") == "11 o'clock"


def test_the_bow_of_an_angle_lies_between_its_legs() -> None:
    a, corner, b = Point(200, 0), Point(0, 0), Point(0, 100)
    bow = arc(a, corner, b)
    assert all(distance(p, corner) == pytest.approx(30) for p in bow.points)
    assert all(p.x >= -1e-9 and p.y >= -1e-9 for p in bow.points)
    assert inner_angle(bow.points[0], corner, bow.points[-1]) == pytest.approx(90)


def test_what_drawings_say() -> None:
    scaled = References(scale=(Point(0, 0), Point(200, 0)), scale_m=1.0)
    line = [Point(0, 100), Point(100, 0)]
    assert says("line", line, References()) == "45°"
    assert says("line", line, scaled) == "45° · 0.71 m"
    assert says("polyline", [Point(0, 0), Point(100, 0), Point(100, 100)], scaled) == "1.00 m"
    assert says("angle", [Point(0, 100), Point(0, 0), Point(100, 0)], scaled) == "90°"
    assert says("circle", line, scaled) == ""
    with pytest.raises(MeasureError, match="60 at most"):
        check("polyline", [Point(n, n) for n in range(61)], "good", "")
    for kind in KINDS.values():
        made = shapes(kind.id, [Point(100 + 9 * n, 50 + n * n) for n in range(kind.least)],
                      References(), SIZE)  # fmt: skip
        assert bool(made) == (kind.id not in ("text", "ghost"))


def test_the_model_figure_lies_between_neck_and_hips() -> None:
    for stroke in ("freestyle", "breaststroke"):
        assert moments(stroke)
        for neck, hips in ((Point(800, 300), Point(500, 320)), (Point(300, 300), Point(600, 280))):
            made = ghost(stroke, "side-under", moments(stroke)[0], (neck, hips))
            ends = [p for s in made if isinstance(s, Stroke) for p in s.points]
            assert min(distance(p, neck) for p in ends) < 0.15 * distance(neck, hips)
            assert min(distance(p, hips) for p in ends) < 0.15 * distance(neck, hips)
            # Its arms reach on ahead of the neck, whichever way it swims.
            ahead = np.sign(neck.x - hips.x)
            assert max(ahead * (p.x - neck.x) for p in ends) > 0.5 * distance(neck, hips)
    assert ghost("freestyle", "behind", "catch", (Point(1, 1), Point(1, 1))) == []


def test_verdicts_and_their_doubt() -> None:
    band = Band("b", "q", "own", good_from=90, good_to=130, fault_above=150, full=20)
    for value, u, verdict in (
        (100, 1, "good"), (129, 1, "good"), (131, 1, "good"), (140, 1, "watch"), (149, 1, "unsure"),
        (153, 1, "fault"), (80, 1, "watch"), (151, None, "fault"),
    ):  # fmt: skip
        assert verdict_of(band, value, 2 * (u or 0))[0] == verdict, value
    assert verdict_of(Band("b", "q", "own", good_to=5), 9, 1) == ("watch", -math.inf)
    assert verdict_of(Band("b", "q", "own"), 9, 1)[0] == "good"


def test_choices_name_what_there_is() -> None:
    for choice in CHOICES.values():
        assert any(o.verdict == "good" for o in choice.options), choice.id
        assert all(o.verdict in ("good", "watch", "fault") for o in choice.options)
    assert [c.id for c in offered_choices("freestyle", "overhead")] == ["feet-cross"]
    assert "first-contact-back" in {c.id for c in offered_choices("backstroke", "side-above")}


# ---- to the pixel and to the word ----


def test_an_arrow_has_a_head_of_two_hundredths_of_the_picture() -> None:
    shaft, head = shapes("arrow", [Point(100, 200), Point(300, 200)], References(), SIZE)
    assert shaft == Stroke((Point(100, 200), Point(300, 200)))
    assert isinstance(head, Stroke)
    assert (head.thin, head.solid) == (False, True)
    left, tip, right = head.points
    assert tip == Point(300, 200)
    # 25.6 px at 0.45 rad on either side, back from the tip.
    across, along = 25.6 * math.sin(0.45), 25.6 * math.cos(0.45)
    assert {round(p.y, 6) for p in (left, right)} == {
        round(200 - across, 6),
        round(200 + across, 6),
    }
    assert left.x == right.x == pytest.approx(300 - along)


def test_a_short_arrow_has_a_head_half_as_long() -> None:
    _, head = shapes("arrow", [Point(100, 200), Point(100, 220)], References(), SIZE)
    assert isinstance(head, Stroke)
    assert distance(head.points[0], head.points[1]) == pytest.approx(10)


def test_circles_lines_and_words() -> None:
    assert shapes("circle", [Point(10, 20), Point(13, 24)], References(), SIZE) == [
        Ring(Point(10, 20), 5.0)
    ]
    assert shapes("text", [Point(1, 2)], References(), SIZE) == []
    assert shapes("ghost", [Point(1, 2), Point(3, 4)], References(), SIZE) == []
    for kind in ("line", "polyline", "angle", "freehand", "trunk"):
        points = (Point(1, 2), Point(3, 4), Point(9, 5))
        assert shapes(kind, points, References(), SIZE) == [Stroke(points)]


def test_a_midline_goes_on_thin_to_the_edges() -> None:
    far, own = shapes("midline", [Point(320, 100), Point(320, 200)], References(), SIZE)
    assert own == Stroke((Point(320, 100), Point(320, 200)))
    assert isinstance(far, Stroke)
    assert far.thin
    assert far.points == (Point(320, 0), Point(320, 720))
    slanted, _ = shapes("midline", [Point(0, 0), Point(30, 40)], References(), SIZE)
    assert isinstance(slanted, Stroke)
    assert slanted.points[1] == (pytest.approx(540), pytest.approx(720))
    # Two clicks on one place have no direction: nothing is divided by nothing.
    assert len(shapes("midline", [Point(5, 5), Point(5, 5)], References(), SIZE)) == 2


@pytest.mark.parametrize(("mirrored", "three_x"), [(False, 280), (True, 120)])
def test_the_face_of_the_clock(mirrored: bool, three_x: float) -> None:
    ring, *rest = shapes("clock", [Point(200, 200), Point(200, 120)], References(), SIZE, mirrored)
    assert ring == Ring(Point(200, 200), 80.0)
    ticks = [s for s in rest if isinstance(s, Stroke)]
    words = {s.text: s for s in rest if isinstance(s, Word)}
    assert len(ticks) == 12
    assert list(words) == ["1", "3", "6", "9", "11", "12"]
    three = ticks[2]
    assert three.thin
    inner, outer = three.points
    assert outer == (pytest.approx(three_x), pytest.approx(200))
    assert distance(inner, Point(200, 200)) == pytest.approx(72)
    word = words["12"]
    assert word.at == (pytest.approx(200), pytest.approx(200 - 0.76 * 80))
    assert (word.centred, word.size) == (True, pytest.approx(16))
    # One o'clock is 30 degrees on from twelve.
    one = words["1"].at
    assert one.x == pytest.approx(200 + (-1 if mirrored else 1) * 0.76 * 80 * 0.5)


def test_the_bow_of_a_right_angle() -> None:
    bow = arc(Point(200, 100), Point(100, 100), Point(100, 300))
    assert bow.thin
    assert len(bow.points) == 17
    # 0.3 of the shorter leg, from the one to the other.
    assert bow.points[0] == (pytest.approx(130), pytest.approx(100))
    assert bow.points[8] == (
        pytest.approx(100 + 30 / math.sqrt(2)), pytest.approx(100 + 30 / math.sqrt(2))
    )  # fmt: skip
    assert bow.points[16] == (pytest.approx(100), pytest.approx(130))
    # The short way round, across the line to the left as well.
    back = arc(Point(0, 110), Point(100, 100), Point(0, 90))
    assert back.points[8] == (pytest.approx(100 - 0.3 * math.hypot(100, 10)), pytest.approx(100))


def test_a_level_line_leans_with_the_horizon() -> None:
    leaning = References(level=(Point(0, 100), Point(1000, 0)))
    (level,) = shapes("level", [Point(640, 360)], leaning, SIZE)
    assert isinstance(level, Stroke)
    assert level.points[0] == (pytest.approx(0), pytest.approx(360 + 64))
    assert level.points[1] == (pytest.approx(1280), pytest.approx(360 - 64))


@pytest.mark.parametrize(
    ("kind", "count", "style", "text", "sentence"),
    [
        ("moon", 2, "neutral", "", "This drawing is not known. Reload the page."),
        ("line", 1, "neutral", "", "Line needs 2 points at least and 2 at most."),
        ("line", 3, "neutral", "", "Line needs 2 points at least and 2 at most."),
        ("plumb", 0, "neutral", "", "Vertical line needs 1 point at least and 1 at most."),
        ("polyline", 61, "neutral", "", "Chain of joints needs 2 points at least and 60 at most."),
        ("line", 2, "bold", "", "A drawing is neutral, good, watch or fault."),
        ("line", 2, "good", "x" * 201, "Keep the text under 200 letters."),
        ("text", 1, "good", "  ", "Enter the text."),
    ],
)
def test_a_drawing_that_cannot_be_is_refused_in_words(
    kind: str, count: int, style: str, text: str, sentence: str
) -> None:
    with pytest.raises(MeasureError) as refused:
        check(kind, [Point(n, n) for n in range(count)], style, text)
    assert refused.value.sentence == sentence


def test_a_drawing_at_its_limits_is_taken() -> None:
    for kind in KINDS.values():
        for count in (kind.least, kind.most):
            check(kind.id, [Point(n, n) for n in range(count)], "watch", "x" * 200)


def test_what_is_thinned_away_lies_nearer_than_asked() -> None:
    line = [Point(0, 0), Point(5, 0.9), Point(10, 0)]
    assert thinned(line) == [line[0], line[2]]
    assert thinned(line, 0.8) == line
    # Beyond the ends of a piece it is the distance to its end that counts.
    hook = [Point(0, 0), Point(-3, 0), Point(10, 0)]
    assert thinned(hook, 2.9) == hook
    assert thinned(hook, 3.1) == [hook[0], hook[2]]
    loop = [Point(0, 0), Point(3, 4), Point(0, 0)]
    assert thinned(loop, 4.9) == loop
    assert thinned(loop, 5.1) == [loop[0], loop[2]]
    two = [Point(0, 0), Point(1, 1)]
    made = thinned(two)
    assert made == two
    assert made is not two


def test_what_a_line_says_with_and_without_a_scale() -> None:
    points = [Point(100, 300), Point(500, 0)]
    assert says("line", points, References()) == "37°"
    scale = References(scale=(Point(0, 0), Point(1000, 0)), scale_m=2.0)
    assert says("line", points, scale) == "37° · 1.00 m"
    assert says("arrow", points, scale) == "1.00 m"
    assert says("arrow", points, References()) == ""
    assert says("polyline", [*points, Point(500, 500)], scale) == "2.00 m"
    assert says("angle", [Point(0, 0), Point(10, 0), Point(10, 5)], scale) == "90°"
    assert says("circle", points, scale) == ""
