"""Horizontal, water line, scale and plane: exact figures, and every refusal to the word."""

from __future__ import annotations

import math

import numpy as np
import pytest

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point
from norvik.core.frame.lens import Lens
from norvik.core.frame.references import Plane, References, Scale, horizon_of, warnings


def refused(build) -> str:  # type: ignore[no-untyped-def]
    with pytest.raises(MeasureError) as found:
        build()
    return found.value.sentence


def test_the_horizon_climbs_to_the_right_whichever_way_it_was_set() -> None:
    a, b = Point(0, 100), Point(1000, 0)
    climb = math.degrees(math.atan2(100, 1000))
    assert horizon_of(a, b) == horizon_of(b, a) == pytest.approx(climb)
    # Something plumb leans by as much.
    assert horizon_of(Point(100, 1000), Point(0, 0), True) == pytest.approx(climb)
    assert horizon_of(Point(0, 0), Point(0, 500), True) == pytest.approx(0)


def test_a_horizon_that_cannot_be_is_refused() -> None:
    near = "Set the two points at least 40 pixels apart."
    assert refused(lambda: horizon_of(Point(0, 0), Point(39.9, 0))) == near
    assert horizon_of(Point(0, 0), Point(40, 0)) == 0
    assert refused(lambda: horizon_of(Point(0, 0), Point(100, 101))) == (
        "This line is nearer the other way than horizontal. Set it again."
    )
    assert refused(lambda: horizon_of(Point(0, 0), Point(101, 100), True)) == (
        "This line is nearer the other way than vertical. Set it again."
    )
    assert horizon_of(Point(0, 0), Point(100, 99)) == pytest.approx(-44.7, abs=0.02)


def test_a_scale_is_metres_over_pixels() -> None:
    scale = Scale.between(Point(100, 100), Point(400, 500), 2.5, 3.0)
    assert scale.metres_per_px == pytest.approx(0.005)
    # Both ends are clicked: root 2 times the error of a click, of the length.
    assert scale.u == pytest.approx(math.sqrt(2) * 3 / 500)
    for metres in (0.0, -1.0, math.nan, math.inf):
        assert refused(lambda m=metres: Scale.between(Point(0, 0), Point(99, 0), m, 3.0)) == (
            "Give the distance of the two points in metres, above 0."
        )
    assert refused(lambda: Scale.between(Point(0, 0), Point(0, 39), 1.0, 3.0)) == (
        "Set the two points at least 40 pixels apart."
    )
    assert Scale.between(Point(0, 0), Point(0, 40), 1.0, 3.0).metres_per_px == 0.025


CORNERS = (Point(100, 100), Point(900, 180), Point(860, 620), Point(140, 560))


def test_a_plane_puts_its_corners_where_they_are() -> None:
    plane = Plane.through(CORNERS, 5.0, 2.0)
    found = [plane.metres(p) for p in CORNERS]
    assert np.allclose(found, [(0, 0), (5, 0), (5, 2), (0, 2)], atol=1e-9)
    assert plane.distance_m(CORNERS[0], CORNERS[2]) == pytest.approx(math.hypot(5, 2))
    assert plane.matrix[2, 2] == 1
    # Straight lines stay straight: the diagonals meet in the middle.
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = CORNERS
    t = ((bx - ax) * (by - dy) - (by - ay) * (bx - dx)) / (
        (cx - ax) * (by - dy) - (cy - ay) * (bx - dx)
    )
    middle = Point(ax + t * (cx - ax), ay + t * (cy - ay))
    assert plane.metres(middle) == (pytest.approx(2.5), pytest.approx(1.0))


def test_a_plane_seen_square_is_a_scale() -> None:
    square = (Point(0, 0), Point(500, 0), Point(500, 200), Point(0, 200))
    plane = Plane.through(square, 2.5, 1.0)
    assert plane.metres(Point(250, 50)) == (pytest.approx(1.25), pytest.approx(0.25))
    assert plane.distance_m(Point(100, 0), Point(100, 100)) == pytest.approx(0.5)


def test_a_plane_that_cannot_be_is_refused() -> None:
    assert refused(lambda: Plane.through(CORNERS[:3], 5, 2)) == (
        "A plane needs the four corners of a rectangle."
    )
    for width, height in ((0.0, 2.0), (5.0, 0.0), (-1.0, 2.0), (math.inf, 2.0), (math.nan, 1.0)):
        assert refused(lambda w=width, h=height: Plane.through(CORNERS, w, h)) == (
            "Give both sides of the rectangle in metres, above 0."
        )
    crossed = (CORNERS[0], CORNERS[2], CORNERS[1], CORNERS[3])
    flat = (Point(0, 0), Point(500, 0), Point(1000, 0), Point(500, 300))
    for corners in (crossed, flat):
        assert refused(lambda c=corners: Plane.through(c, 5, 2)) == (
            "These four points are no rectangle seen from the side. Set them in turn: top left, "
            "top right, bottom right, bottom left."
        )
    # Set the other way round it is a rectangle all the same.
    turned = (CORNERS[1], CORNERS[0], CORNERS[3], CORNERS[2])
    assert Plane.through(turned, 5, 2).metres(CORNERS[1]) == (pytest.approx(0, abs=1e-9),) * 2


def test_what_lies_on_the_planes_horizon_has_no_distance() -> None:
    plane = Plane(np.array([[1.0, 0, 0], [0, 1, 0], [0.001, 0, -1]]))
    assert refused(lambda: plane.metres(Point(1000, 5))) == (
        "This point lies on the plane's own horizon and has no distance."
    )


def test_the_water_says_depth_and_the_horizon_where_no_line_does() -> None:
    to = References(water=(Point(0, 200), Point(1000, 100)))
    tilt = math.atan2(100, 1000)
    assert to.horizon_deg == pytest.approx(math.degrees(tilt))
    assert to.below_water(Point(500, 150)) == pytest.approx(0)
    assert to.below_water(Point(0, 300)) == pytest.approx(100 * math.cos(tilt))
    assert to.below_water(Point(1000, 200)) == pytest.approx(100 * math.cos(tilt))
    assert to.below_water(Point(0, 150)) == pytest.approx(-50 * math.cos(tilt))
    # A line that was set level stands above the surface.
    level = References(level=(Point(0, 0), Point(100, 0)), water=to.water)
    assert level.horizon_deg == 0
    plumb = References(level=(Point(0, 0), Point(10, 100)), level_plumb=True)
    assert plumb.horizon_deg == pytest.approx(math.degrees(math.atan2(10, 100)))
    assert References().horizon_deg == 0
    assert refused(lambda: References().below_water(Point(1, 1))) == (
        "Set the water line first: two points on the surface."
    )
    assert to.height(Point(0, 0), Point(0, 100)) == pytest.approx(100 * math.cos(tilt))


def test_metres_by_plane_before_scale() -> None:
    scale = References(scale=(Point(0, 0), Point(100, 0)), scale_m=2.0)
    assert scale.metres(Point(0, 0), Point(30, 40)) == pytest.approx(1.0)
    both = References(scale=scale.scale, scale_m=2.0, plane=CORNERS, plane_m=(5.0, 2.0))
    assert both.metres(CORNERS[0], CORNERS[1]) == pytest.approx(5.0)
    assert refused(lambda: References().metres(Point(0, 0), Point(1, 1))) == (
        "No scale is set in this clip. Set two points of known distance in the plane of the "
        "movement, or measure in forearms instead."
    )


def test_references_through_other_points_keep_what_they_are() -> None:
    to = References(
        level=(Point(0, 0), Point(100, 0)), water=(Point(0, 50), Point(100, 50)),
        scale=(Point(0, 90), Point(100, 90)), scale_m=2.0, plane=CORNERS, plane_m=(5.0, 2.0),
    )  # fmt: skip
    assert len(to.clicks) == 10
    moved = to.moved([Point(p.x + 1, p.y + 2) for p in to.clicks])
    assert moved.level == (Point(1, 2), Point(101, 2))
    assert moved.scale == (Point(1, 92), Point(101, 92))
    assert moved.plane[3] == Point(141, 562)
    assert (moved.scale_m, moved.plane_m) == (2.0, (5.0, 2.0))


def test_references_are_seen_through_a_straight_lens() -> None:
    lens = Lens(1280, 720, -0.1)
    to = References(water=(Point(0, 50), Point(1280, 50)), lens=lens)
    straight = to.corrected(lens)
    assert straight.lens is None
    assert straight.water == tuple(lens.correct(p) for p in to.water)
    assert to.corrected(None) is to
    nothing = References(lens=lens)
    assert nothing.corrected(lens) is nothing


def test_what_has_to_be_said_beside_measures() -> None:
    scale = References(scale=(Point(0, 0), Point(100, 0)), scale_m=2.0)
    (said,) = warnings(scale, "side-under")
    assert said == (
        "The scale holds in the plane it was set in. Half a metre behind the swimmer it makes "
        "lengths 25 % too long at 2 m from the camera, 17 % at 3 m and 10 % at 5 m; half a metre "
        "in front as much too short."
    )
    plane = References(plane=CORNERS, plane_m=(5, 2))
    assert warnings(plane, "side-above") == [
        "The rectangle gives metres on its own plane (the wall, the floor) alone."
    ]
    for to in (scale, plane):
        air = References(scale=to.scale, scale_m=2.0, plane=to.plane, plane_m=(5, 2), in_air=True)
        assert warnings(air, "side-under")[-1] == (
            "The scale was set in air, but this clip is filmed under water, where everything looks "
            "about 1.33 times larger: lengths come out too long. Set it under water."
        )
        assert len(warnings(air, "side-above")) == 1
    assert warnings(References(in_air=True), "side-under") == []
