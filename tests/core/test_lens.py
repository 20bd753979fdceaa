"""Lenses, housings and turned planes, against OpenCV's own projection."""

from __future__ import annotations

import math
import random
from collections.abc import Callable

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point
from norvik.core.frame.lens import NO_CAMERA, RIM, WATER_INDEX, Lens, check_lines
from norvik.core.frame.measures import MEASURES, mean_u, take
from norvik.core.frame.references import References
from norvik.core.frame.turned import turn_uncertainty, turned

W, H, VIEW = 1920, 1080, 66.0
FOCAL = W / 2 / math.tan(math.radians(VIEW / 2))
Project = Callable[[list[tuple[float, float, float]]], list[Point]]


def camera(*bent: float) -> Project:
    """OpenCV's pinhole with radial distortion k1, k2."""
    matrix = np.array([[FOCAL, 0, W / 2], [0, FOCAL, H / 2], [0, 0, 1.0]])

    def project(places: list[tuple[float, float, float]]) -> list[Point]:
        shape: NDArray[np.float64] = np.array(places, float).reshape(-1, 1, 3)
        flat = np.array([*bent, 0, 0, 0, 0][:4], float)
        found, _ = cv2.projectPoints(shape, np.zeros(3), np.zeros(3), matrix, flat)
        return [Point(float(x), float(y)) for x, y in found.reshape(-1, 2)]

    return project


def fisheye(view_deg: float) -> Project:
    """OpenCV's fisheye, as an action camera has it."""
    f = W / 2 / math.radians(view_deg / 2)
    matrix = np.array([[f, 0, W / 2], [0, f, H / 2], [0, 0, 1.0]])

    def project(places: list[tuple[float, float, float]]) -> list[Point]:
        shape: NDArray[np.float64] = np.array(places, float).reshape(-1, 1, 3)
        found, _ = cv2.fisheye.projectPoints(shape, np.zeros(3), np.zeros(3), matrix, np.zeros(4))
        return [Point(float(x), float(y)) for x, y in found.reshape(-1, 2)]

    return project


def flat_port(view_deg: float) -> Project:
    """Snell's law at a flat port close before the lens, ray by ray."""
    f = W / 2 / math.tan(math.radians(view_deg / 2))

    def project(places: list[tuple[float, float, float]]) -> list[Point]:
        found = []
        for x, y, z in places:
            across = math.hypot(x, y)
            sine = WATER_INDEX * across / math.hypot(across, z)
            r = f * sine / math.sqrt(1 - sine * sine)
            found.append(
                Point(W / 2 + r * x / across, H / 2 + r * y / across)
                if across
                else Point(W / 2, H / 2)
            )
        return found

    return project


def ropes(project: Project, noise: np.random.Generator, error: float = 3.0) -> list[list[Point]]:
    """Two lane ropes across the picture, clicked from side to side."""
    found = []
    for y in (-0.95, 0.75):
        seen = [p for p in project([(x, y, 3.0) for x in np.linspace(-2.6, 2.6, 15)])
                if 30 < p.x < W - 30 and 20 < p.y < H - 20]  # fmt: skip
        # Nine clicks along it, from end to end.
        line = [seen[round(n)] for n in np.linspace(0, len(seen) - 1, min(9, len(seen)))]
        found.append([Point(p.x + noise.normal(0, error), p.y + noise.normal(0, error))
                      for p in line])  # fmt: skip
    return found


def elbows(project: Project, seed: int, count: int = 60) -> list[list[Point]]:
    """Elbows of 110 degrees in planes that face the camera, anywhere in the picture."""
    rng, found = random.Random(seed), list[list[Point]]()
    while len(found) < count:
        z, at, bend = rng.uniform(1.5, 3), rng.uniform(0, 2 * math.pi), math.radians(110)
        x, y = rng.uniform(-0.7, 0.7) * z, rng.uniform(-0.4, 0.4) * z
        arm = [
            (x + 0.30 * math.cos(at), y + 0.30 * math.sin(at), z),
            (x, y, z),
            (x + 0.27 * math.cos(at + bend), y + 0.27 * math.sin(at + bend), z),
        ]
        clicks = project(arm)
        if all(20 < p.x < W - 20 and 20 < p.y < H - 20 for p in clicks):
            found.append(clicks)
    return found


@pytest.mark.parametrize(
    ("project", "raw", "left"),
    [(camera(-0.1), 1.0, 0.8), (camera(-0.2), 2.5, 1.2), (camera(0.1), 0.8, 0.8),
     (fisheye(118), 4.0, 1.2)],
    ids=["k1 -0.1", "k1 -0.2", "k1 +0.1", "fisheye"],
)  # fmt: skip
def test_a_checked_lens_gives_angles_back(project: Project, raw: float, left: float) -> None:
    noise = np.random.default_rng(4)
    found = check_lines(ropes(project, noise), Lens(W, H), 3.0)
    measure = MEASURES["elbow-angle"]
    bent, straight = [], []
    for clicks in elbows(project, 9):
        bent.append(take(measure, clicks).value - 110)
        straight.append(take(measure, clicks, References(lens=found.lens)).value - 110)
    assert np.sqrt(np.mean(np.square(bent))) > raw
    assert np.sqrt(np.mean(np.square(straight))) < left
    assert found.left_px < found.bend_px


def test_the_doubt_of_the_lens_holds() -> None:
    """Two ropes clicked anew a hundred times: the k found differ as their uncertainty says."""
    noise, project = np.random.default_rng(6), camera(-0.12)
    best = check_lines(ropes(project, noise, 1e-6), Lens(W, H), 3.0).lens.k
    tries = [check_lines(ropes(project, noise), Lens(W, H), 3.0).lens for _ in range(100)]
    inside = sum(abs(x.k - best) <= 2 * x.u_k for x in tries)
    assert inside >= 90
    assert np.std([x.k for x in tries]) == pytest.approx(np.mean([x.u_k for x in tries]), rel=0.4)


def test_plus_minus_holds_with_a_checked_lens() -> None:
    """Clicks and lens both unsure: at least 90 of 100 angles lie within it."""
    noise, project = np.random.default_rng(8), camera(-0.15)
    inside = tried = 0
    for seed in range(8):
        lens = check_lines(ropes(project, noise), Lens(W, H), 3.0).lens
        for clicks in elbows(project, 30 + seed, 25):
            blurred = [Point(p.x + noise.normal(0, 3), p.y + noise.normal(0, 3)) for p in clicks]
            made = take(MEASURES["elbow-angle"], blurred, References(lens=lens), turn_deg=0)
            tried += 1
            inside += abs(made.value - 110) <= 2 * made.u
    assert inside / tried >= 0.9


def test_a_straight_lens_is_left_alone() -> None:
    found = check_lines(ropes(camera(), np.random.default_rng(2)), Lens(W, H), 3.0)
    assert not found.bends
    assert abs(found.lens.k) < 0.05
    assert Lens(W, H).correct(Point(12, 34)) == Point(12, 34)
    assert Lens(W, H, housing="dome").straight


def test_a_flat_port_is_computed() -> None:
    """Half a metre out at the side measures as it does in the middle, where its scale was set."""
    project = flat_port(66)
    scale = project([(-0.5, 0, 2.0), (0.5, 0, 2.0)])
    far = project([(0.32, 0, 2.0), (0.82, 0, 2.0)])
    assert all(0 < p.x < W for p in far)
    bare = References(scale=tuple(scale), scale_m=1.0, lens=Lens(W, H))
    known = References(scale=tuple(scale), scale_m=1.0, lens=Lens(W, H, housing="flat"))
    distance = MEASURES["distance"]
    assert take(distance, far, bare).value > 0.52
    assert take(distance, far, known).value == pytest.approx(0.5, abs=1e-6)
    for clicks in elbows(project, 3, 20):
        made = take(MEASURES["elbow-angle"], clicks, References(lens=Lens(W, H, housing="flat")))
        assert made.value == pytest.approx(110, abs=1e-6)


@pytest.mark.parametrize(
    ("line", "words"),
    [
        ([Point(10, 10), Point(900, 20)], "three points"),
        ([Point(10, 10), Point(60, 10), Point(120, 11)], "too short"),
        ([Point(10, 10), Point(11, 10), Point(1800, 11)], "one place"),
        ([Point(10, 540), Point(900, 540), Point(1900, 540)], "through the middle"),
    ],
)
def test_lines_that_cannot_tell(line: list[Point], words: str) -> None:
    with pytest.raises(MeasureError, match=words):
        check_lines([line], Lens(W, H), 3.0)


def test_how_far_out_a_point_lies() -> None:
    assert Lens(W, H).beyond(Point(960, 540)) == 0
    assert Lens(W, H).beyond(Point(0, 0)) == pytest.approx(1)
    assert Lens(W, H).beyond(Point(1700, 540)) > RIM


def around(degrees_y: float, degrees_x: float) -> NDArray[np.float64]:
    a, b = math.radians(degrees_y), math.radians(degrees_x)
    yaw = np.array([[math.cos(a), 0, math.sin(a)], [0, 1, 0], [-math.sin(a), 0, math.cos(a)]])
    pitch = np.array([[1, 0, 0], [0, math.cos(b), -math.sin(b)], [0, math.sin(b), math.cos(b)]])
    return np.asarray(yaw @ pitch)


ARM = np.array([[0.30, 0, 0], [0, 0, 0], [0.27 * math.cos(1.92), 0.27 * math.sin(1.92), 0]])


def test_a_turned_plane_is_turned_back() -> None:
    """Clicks of an arm that is turned by 20 degrees, looked at as if turned by as much."""
    lens, measure = Lens(W, H), MEASURES["elbow-angle"]
    true = math.degrees(1.92)
    for yaw in (20, -20):
        places = [(x, y, z + 2.0) for x, y, z in ARM @ around(yaw, 0).T]
        clicks = camera()(places)
        assert abs(measure.compute(clicks, References()) - true) > 1
        back = min(
            abs(measure.compute(turned(clicks, lens, angle, 0), References()) - true)
            for angle in (yaw, -yaw)
        )
        assert back < 0.05
    same = turned(clicks, lens, 0, 0)
    assert np.array(same) == pytest.approx(np.array(clicks))


def test_plus_minus_holds_for_planes_turned_at_random() -> None:
    """By 15 degrees (standard) about both axes, at one to three metres: 90 of 100."""
    rng, noise = random.Random(5), np.random.default_rng(5)
    inside, tried = 0, 400
    for _ in range(tried):
        bend, at = math.radians(110), rng.uniform(0, 2 * math.pi)
        arm = np.array([[0.3 * math.cos(at), 0.3 * math.sin(at), 0], [0, 0, 0],
                        [0.27 * math.cos(at + bend), 0.27 * math.sin(at + bend), 0]])  # fmt: skip
        placed = arm @ around(rng.gauss(0, 15), rng.gauss(0, 15)).T + [0, 0, rng.uniform(1, 3)]
        clicks = [Point(p.x + noise.normal(0, 3), p.y + noise.normal(0, 3))
                  for p in camera()([tuple(p) for p in placed])]  # fmt: skip
        made = take(MEASURES["elbow-angle"], clicks, References(lens=Lens(W, H)))
        inside += abs(made.value - 110) <= 2 * made.u
    assert inside / tried >= 0.88
    assert turn_uncertainty(lambda p: p[0].x, [Point(1, 2)], NO_CAMERA, 0) == 0


def test_what_takings_share_does_not_average_out() -> None:
    """Five body lines with one horizon of 300 pixels: as sure as that, and no surer."""
    noise = np.random.default_rng(3)
    true = References(level=(Point(300, 200), Point(600, 200)))
    line = [Point(400, 500), Point(1300, 540)]
    measure, means, said = MEASURES["free-line"], [], []
    for _ in range(400):

        def blurred(p: Point) -> Point:
            return Point(p.x + noise.normal(0, 3), p.y + noise.normal(0, 3))

        horizon = true.moved([blurred(p) for p in true.clicks])
        takings = [take(measure, [blurred(p) for p in line], horizon, turn_deg=0) for _ in range(5)]
        means.append(np.mean([t.value for t in takings]))
        said.append(mean_u(takings))
    assert np.mean(said) == pytest.approx(np.std(means), rel=0.1)
    # As if the horizon were clicked anew each time, it would come out half as large.
    alone = math.hypot(*(t.u for t in takings)) / 5
    assert alone < 0.6 * said[-1]
