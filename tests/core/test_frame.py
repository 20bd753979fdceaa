"""Geometry on a frame against NumPy and OpenCV, uncertainty against Monte Carlo, every measure."""

from __future__ import annotations

import math
import random
from collections.abc import Sequence
from itertools import pairwise

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from norvik.core.errors import MeasureError
from norvik.core.frame.body import SEGMENTS, in_plane
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
from norvik.core.frame.measures import ALL, MEASURES, Measure, offered, take
from norvik.core.frame.references import Plane, References, Scale, horizon_of, warnings
from norvik.core.frame.uncertainty import uncertainty
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import LANES
from norvik.model.camera import camera_for
from norvik.model.truth import angle_deg
from norvik.store.clips import VIEWS

coordinates = st.floats(-4000, 4000, allow_nan=False)
points = st.builds(Point, coordinates, coordinates)
EXAMPLES = settings(max_examples=150, deadline=None)


def apart(*given_points: Point) -> bool:
    return all(
        distance(a, b) > 1 for n, a in enumerate(given_points) for b in given_points[n + 1 :]
    )


@EXAMPLES
@given(points, points, points)
def test_angles_agree_with_numpy(a: Point, corner: Point, b: Point) -> None:
    if not apart(a, corner, b):
        return
    u, v = np.subtract(a, corner), np.subtract(b, corner)
    cosine = u @ v / np.linalg.norm(u) / np.linalg.norm(v)
    expected = math.degrees(math.acos(np.clip(cosine, -1, 1)))
    assert inner_angle(a, corner, b) == pytest.approx(expected, abs=1e-4)
    assert inner_angle(a, corner, b) == inner_angle(b, corner, a)
    assert between_lines(corner, a, corner, b) == pytest.approx(expected, abs=1e-4)


@EXAMPLES
@given(points, points, points)
def test_distance_from_a_line_agrees_with_numpy(p: Point, a: Point, b: Point) -> None:
    if not apart(a, b) or abs(a.x - b.x) < 1e-3:
        return
    slope, cut = np.polyfit([a.x, b.x], [a.y, b.y], 1)
    expected = (slope * p.x + cut - p.y) / math.hypot(slope, 1)
    assert off_line(p, a, b) == pytest.approx(expected, rel=1e-4, abs=1e-4)
    assert off_line(p, a, b) == pytest.approx(off_line(p, b, a), abs=1e-6)


@EXAMPLES
@given(st.lists(points, min_size=3, max_size=8, unique=True))
def test_the_best_line_is_that_of_opencv(found: list[Point]) -> None:
    array = np.array(found, np.float64)
    values, vectors = np.linalg.eigh(np.cov(array.T))
    if values[1] - values[0] < 1e-3 * values[1]:
        return  # a round cloud has no line
    away = (array - array.mean(axis=0)) @ vectors[:, 0]
    assert best_line_spread(found) == pytest.approx(np.abs(away).max(), rel=1e-5, abs=1e-5)
    line = cv2.fitLine(array.astype(np.float32), cv2.DIST_L2, 0, 1e-6, 1e-6).ravel()
    off = np.abs((array - line[2:]) @ np.array([-line[1], line[0]])).max()
    assert best_line_spread(found) == pytest.approx(off, rel=0.02, abs=0.5)


def test_worked_lines() -> None:
    assert rise(Point(0, 100), Point(100, 0)) == pytest.approx(45)
    assert rise(Point(100, 0), Point(0, 100)) == pytest.approx(-135)
    assert steepness(Point(100, 0), Point(0, 100)) == pytest.approx(45)
    assert steepness(Point(0, 0), Point(100, 0), horizon_deg=-3) == pytest.approx(3)
    assert above(Point(0, 10), Point(0, 30)) == 20
    # A camera that leans: the true horizontal climbs 10 degrees, and both lie on it.
    b = Point(math.cos(math.radians(10)) * 50, -math.sin(math.radians(10)) * 50)
    assert above(Point(0, 0), b, 10) == pytest.approx(0, abs=1e-9)
    assert off_line(Point(5, 0), Point(0, 10), Point(10, 10)) == 10
    for call in (
        lambda: inner_angle(Point(1, 1), Point(1, 1), Point(2, 2)),
        lambda: rise(Point(1, 1), Point(1, 1)),
        lambda: off_line(Point(0, 0), Point(1, 1), Point(1, 1)),
        lambda: best_line_spread([Point(0, 0), Point(1, 1)]),
    ):
        with pytest.raises(MeasureError):
            call()


# ---- references ----


def test_the_horizontal_of_a_clip() -> None:
    assert horizon_of(Point(0, 0), Point(100, -10)) == pytest.approx(5.71, abs=0.01)
    assert horizon_of(Point(100, -10), Point(0, 0)) == pytest.approx(5.71, abs=0.01)
    # Something plumb that leans to the right by 5.71 degrees in the picture.
    assert horizon_of(Point(0, 100), Point(10, 0), vertical=True) == pytest.approx(-5.71, abs=0.01)
    with pytest.raises(MeasureError, match="at least 40 pixels"):
        horizon_of(Point(0, 0), Point(10, 0))
    with pytest.raises(MeasureError, match="Set it again"):
        horizon_of(Point(0, 0), Point(10, 100))


def test_a_scale_from_two_points() -> None:
    scale = Scale.between(Point(0, 0), Point(300, 400), 5.0, 3.0)
    assert scale.metres_per_px == pytest.approx(0.01)
    assert scale.u == pytest.approx(3 * math.sqrt(2) / 500)
    for metres in (0.0, -1.0, math.nan, math.inf):
        with pytest.raises(MeasureError):
            Scale.between(Point(0, 0), Point(300, 400), metres, 3.0)
    with pytest.raises(MeasureError):
        Scale.between(Point(0, 0), Point(3, 4), 1.0, 3.0)


CORNERS = (Point(210, 130), Point(870, 190), Point(920, 610), Point(160, 540))


def test_a_plane_agrees_with_opencv() -> None:
    plane = Plane.through(CORNERS, 2.5, 1.25)
    target = np.array([(0, 0), (2.5, 0), (2.5, 1.25), (0, 1.25)], np.float32)
    matrix = cv2.getPerspectiveTransform(np.array(CORNERS, np.float32), target)
    rng = np.random.default_rng(4)
    for x, y in rng.uniform((150, 130), (920, 600), (200, 2)):
        expected = cv2.perspectiveTransform(np.array([[[x, y]]], np.float64), matrix)[0, 0]
        assert plane.metres(Point(x, y)) == pytest.approx(expected, abs=1e-4)
    assert plane.distance_m(CORNERS[0], CORNERS[2]) == pytest.approx(math.hypot(2.5, 1.25))


@pytest.mark.parametrize(
    "corners",
    [
        CORNERS[:3],
        (CORNERS[0], CORNERS[2], CORNERS[1], CORNERS[3]),
        (Point(0, 0), Point(100, 0), Point(200, 0), Point(0, 100)),
        (CORNERS[0], CORNERS[0], CORNERS[2], CORNERS[3]),
    ],
    ids=["three", "crossed", "on one line", "twice"],
)
def test_corners_that_are_no_rectangle_are_refused(corners: Sequence[Point]) -> None:
    with pytest.raises(MeasureError):
        Plane.through(corners, 2.5, 1.25)


def test_sides_of_a_rectangle_must_be_lengths() -> None:
    for width, height in ((0, 1), (1, -1), (math.nan, 1)):
        with pytest.raises(MeasureError):
            Plane.through(CORNERS, width, height)


# ---- the measures ----


def figure(measure: Measure, rng: random.Random) -> list[Point]:
    """Points well apart from each other, in no special place."""
    while True:
        found = [Point(rng.uniform(200, 1100), rng.uniform(100, 620)) for _ in measure.points]
        if apart(*found) and all(
            distance(a, b) > 120 for n, a in enumerate(found) for b in found[n + 1 :]
        ):
            return found


#: References whose own clicks count: a camera that leans, a surface, and a scale.
SET = References(
    level=(Point(100, 90), Point(900, 62)),
    water=(Point(0, 80), Point(1200, 40)),
    scale=(Point(100, 500), Point(600, 520)),
    scale_m=5.0,
)


def tilted(degrees: float) -> References:
    """References of a camera whose true horizontal climbs so far."""
    slope = math.tan(math.radians(degrees))
    return References(level=(Point(0, 0), Point(1000, -1000 * slope)))


@pytest.mark.parametrize("measure", MEASURES.values(), ids=MEASURES)
def test_uncertainty_is_that_of_monte_carlo(measure: Measure) -> None:
    """Within 5 % of the spread of many clicks with half a pixel's error."""
    rng = random.Random(measure.id)
    noise = np.random.default_rng(len(measure.id))
    checked = 0
    for _ in range(4):
        clicks = figure(measure, rng)
        u = take(measure, clicks, SET, 0.5, turn_deg=0).u
        every = (*clicks, *SET.clicks)
        tries = noise.normal(0, 0.5, (4000, len(every), 2))
        found = []
        for moved in tries:
            p = [Point(p.x + dx, p.y + dy) for p, (dx, dy) in zip(every, moved, strict=True)]
            found.append(measure.compute(p[: len(clicks)], SET.moved(p[len(clicks) :])))
        spread = np.std(found)
        assert u == pytest.approx(spread, rel=0.05), clicks
        checked += 1
    assert checked == 4


@pytest.mark.parametrize("measure", MEASURES.values(), ids=MEASURES)
def test_a_swimmer_who_swims_the_other_way_measures_the_same(measure: Measure) -> None:
    """Seen in a mirror every number stays what it was, with a camera that leans the other way."""

    def turned(p: Point) -> Point:
        return Point(1280 - p.x, p.y)

    mirrored = References(
        level=(turned(SET.level[1]), turned(SET.level[0])) if SET.level else None,
        water=(turned(SET.water[1]), turned(SET.water[0])) if SET.water else None,
        scale=(turned(SET.scale[0]), turned(SET.scale[1])) if SET.scale else None,
        scale_m=SET.scale_m,
    )
    rng = random.Random(measure.id)
    for _ in range(40):
        clicks = figure(measure, rng)
        value = measure.compute(clicks, SET)
        assert measure.compute([turned(p) for p in clicks], mirrored) == pytest.approx(value)


def test_worked_measures() -> None:
    def value(measure_id: str, *clicks: tuple[float, float], horizon: float = 0.0) -> float:
        return take(MEASURES[measure_id], [Point(*c) for c in clicks], tilted(horizon)).value

    assert value("elbow-angle", (0, 0), (100, 0), (100, 80)) == pytest.approx(90)
    # An elbow 20 px above a line of 200 px from shoulder to fingertips; the line itself is level.
    assert value("high-elbow", (0, 100), (90, 80), (200, 100)) == pytest.approx(10)
    assert value("high-elbow", (200, 100), (110, 120), (0, 100)) == pytest.approx(-10)
    assert value("forearm-vertical", (0, 0), (0, 90)) == pytest.approx(0)
    assert value("forearm-vertical", (0, 0), (-30, 30)) == pytest.approx(45)
    assert value("reach-depth", (0, 0), (200, 0), (250, 50)) == pytest.approx(0.25)
    assert value("body-line", (300, 0), (0, 30), horizon=-5.71059) == pytest.approx(11.42, abs=0.01)
    assert value("head-trunk", (300, 0), (250, 0), (200, 0), (0, 0)) == pytest.approx(0)
    assert value("kick-amplitude", (0, 0), (0, 90), (200, 0), (200, 60)) == pytest.approx(1.5)
    assert value("arm-dive", (0, 0), (100, 100)) == pytest.approx(45)
    assert value("arm-dive", (0, 0), (-100, 100)) == pytest.approx(45)
    assert value("arm-dive", (0, 0), (100, -100)) == pytest.approx(-45)
    # A hand in front of its shoulder is at 1, on the midline at 0, beyond it below 0; rolled, too.
    for hand, expected in (((60, 9), 1.0), ((0, 9), 0.0), ((-30, 9), -0.5)):
        assert value("entry-line", (60, 0), (-60, 0), hand) == pytest.approx(expected)
    assert value("entry-line", (40, 30), (-40, -30), (40, 30)) == pytest.approx(1.0)
    assert value("knees-hips", (0, 0), (120, 0), (20, 5), (100, 5)) == pytest.approx(1.5)
    assert value("streamline", (0, 0), (100, 6), (200, 0), (400, 0)) == pytest.approx(
        100 * best_line_spread([Point(0, 0), Point(100, 6), Point(200, 0), Point(400, 0)]) / 400
    )


def test_worked_measures_of_the_arm_and_the_back() -> None:
    def value(measure_id: str, *clicks: tuple[float, float]) -> float:
        return take(MEASURES[measure_id], [Point(*c) for c in clicks]).value

    # Each joint 10 px lower than the one before it, on an arm of 200 px: no step upwards.
    assert value("reach-order", (0, 0), (100, 10), (200, 20), (260, 30)) == pytest.approx(
        -100 * 10 / (2 * math.hypot(100, 10))
    )
    assert value("reach-order", (0, 0), (100, 0), (200, 0), (260, -20)) == pytest.approx(10)
    # Hips that sag arch the back (above 180), hips in the air bend it; face up it is the reverse.
    sagging, bent = ((0, 0), (100, 20), (200, 0)), ((0, 0), (100, -20), (200, 0))
    assert value("back-arch", *sagging) == pytest.approx(360 - value("back-arch", *bent))
    assert value("back-arch", *sagging) > 180 > value("back-arch-up", *sagging)
    assert value("elbow-out", (60, 0), (-60, 0), (90, 30), (60, 60)) == pytest.approx(0.5)
    assert value("elbow-behind", (60, 0), (-60, 0), (80, -30)) == pytest.approx(0.5)
    assert value("recovery-width", (60, 0), (-60, 0), (120, 5)) == pytest.approx(1.0)
    with pytest.raises(MeasureError, match="water line"):
        value("foot-depth", (0, 0), (100, 0), (0, 50))
    with pytest.raises(MeasureError, match="No scale"):
        value("distance", (0, 0), (100, 0))


def test_measures_by_scale_plane_and_surface() -> None:
    surface = References(water=(Point(0, 100), Point(500, 100)))
    toes = [Point(50, 150), Point(100, 100), Point(100, 200)]
    assert take(MEASURES["foot-depth"], toes, surface).value == pytest.approx(0.5)
    # The surface gives the horizontal, too, where nothing better is set.
    assert References(water=(Point(0, 0), Point(100, -10))).horizon_deg == pytest.approx(
        5.71, abs=0.01
    )
    scaled = References(scale=(Point(0, 0), Point(500, 0)), scale_m=5.0)
    line = [Point(10, 10), Point(10, 110)]
    found = take(MEASURES["distance"], line, scaled, 3.0, turn_deg=0)
    assert found.value == pytest.approx(1.0)
    # Two lengths, of 100 and 500 px, each with two ends that err by 3 px.
    assert found.u == pytest.approx(3 * math.sqrt(2) * math.hypot(1 / 100, 1 / 500), rel=1e-3)
    wall = References(plane=CORNERS, plane_m=(2.5, 1.25))
    assert take(MEASURES["distance"], CORNERS[:2], wall).value == pytest.approx(2.5)
    assert warnings(References(), "side-under") == []
    assert "plane" in warnings(scaled, "side-under")[0]
    in_air = References(scale=scaled.scale, scale_m=5.0, in_air=True)
    assert "1.33 times larger" in " ".join(warnings(in_air, "side-under"))
    assert len(warnings(in_air, "side-above")) == 1


def test_a_click_error_of_three_pixels_on_a_forearm() -> None:
    """A line of length L whose ends err by e in each direction turns by sqrt(2) e / L."""
    found = take(
        MEASURES["forearm-vertical"], [Point(0, 0), Point(10, 120)], error_px=3.0, turn_deg=0
    )
    length = math.hypot(10, 120)
    assert found.u == pytest.approx(math.degrees(math.sqrt(2) * 3 / length), rel=1e-4)
    with pytest.raises(MeasureError):
        uncertainty(lambda p: p[0].x, [Point(0, 0)], -1)
    with pytest.raises(MeasureError, match="needs 2 points: elbow, fingertips"):
        take(MEASURES["forearm-vertical"], [Point(0, 0)])


def test_an_angle_clicked_at_the_truth_is_the_truth() -> None:
    """Arms of the model swimmer that lie across the camera: the picture keeps their angles."""
    camera = camera_for("side-under")
    rng = np.random.default_rng(7)
    for _ in range(50):
        # Shoulder, elbow, wrist in one plane, as deep in the picture as each other.
        joints = np.zeros((3, 1, 3))
        joints[:, 0, 0] = rng.uniform(-0.8, 0.4, 3)
        joints[:, 0, 2] = rng.uniform(-0.9, -0.1, 3)
        true = float(angle_deg(*joints)[0])
        clicks = [Point(*np.round(camera.project(j)[0], 2)) for j in joints]
        if min(distance(a, b) for a, b in pairwise(clicks)) < 20:
            continue
        found = take(MEASURES["elbow-angle"], clicks, turn_deg=0)
        # Truth is written to a hundredth of a pixel.
        assert found.value == pytest.approx(true, abs=0.01 * found.u / 3 * 4 + 1e-6)


def test_every_measure_names_what_there_is() -> None:
    for measure in MEASURES.values():
        assert set(measure.strokes) <= set(ALL)
        assert set(measure.views) <= set(VIEWS)
        known = {e for s in measure.strokes for lane in LANES for e in STROKES[s].events_of(lane)}
        assert set(measure.events) <= known, measure.id
        assert all(0 <= a < len(measure.points) > b >= 0 for a, b in measure.lines)
    # Under the shoulder the elbow points at a camera beside the swimmer: that view hides its bend.
    for stroke in ("freestyle", "backstroke", "butterfly"):
        assert "elbow-angle" in {m.id for m in offered(stroke, "front-under")}
    for stroke in ALL:
        assert "elbow-angle" not in {m.id for m in offered(stroke, "side-under")}
    assert {m.id for m in offered("freestyle", "front-under")} >= {"body-roll", "entry-line"}
    assert offered("freestyle", "nowhere") == []


def test_segments_and_the_plane_of_an_arm() -> None:
    """Drillis and Contini 1966, as shares of body height (recalled): arm and leg add up."""
    assert SEGMENTS["upper-arm"] + SEGMENTS["forearm"] + SEGMENTS["hand"] == pytest.approx(0.44)
    assert SEGMENTS["thigh"] + SEGMENTS["shank"] == pytest.approx(0.491)
    assert in_plane(86, [100, 90])
    assert not in_plane(84, [100, 90])
    assert in_plane(10, [])
