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
