"""One swimmer laid on another: exact places, and OpenCV's similarity transform."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point
from norvik.core.frame.laid_on import Trunk, in_trunks, lay, mostly_to, swims_to

RIGHT = Trunk(Point(300, 200), Point(200, 210))
LEFT = Trunk(Point(400, 300), Point(600, 310))
coordinate = st.floats(0, 2000)
point = st.builds(Point, coordinate, coordinate)


@pytest.mark.parametrize("other", [RIGHT, LEFT, Trunk(Point(10, 500), Point(10, 300))])
@pytest.mark.parametrize("on", [RIGHT, LEFT])
def test_shoulder_and_hip_meet(other: Trunk, on: Trunk) -> None:
    laid = lay(other, on)
    assert laid.point(other.shoulder) == pytest.approx(on.shoulder)
    assert laid.point(other.hip) == pytest.approx(on.hip)
    assert laid.scale == pytest.approx(on.length_px / other.length_px)


def test_swimmers_who_face_each_other_are_mirrored_belly_down() -> None:
    laid = lay(LEFT, RIGHT)
    assert laid.mirrored
    # 100 below the hip of the one is half as far below that of the other.
    assert laid.point(Point(600, 410)).y - 210 == pytest.approx(50, abs=1)
    assert not lay(RIGHT, RIGHT).mirrored


@given(point, point, point, point, point)
def test_it_is_the_similarity_transform_of_opencv(
    a: Point, b: Point, c: Point, d: Point, at: Point
) -> None:
    """Two pairs of points settle a similarity: cv2.estimateAffinePartial2D gives the same one."""
    other, on = Trunk(a, b), Trunk(c, d)
    assume(other.length_px > 50 and on.length_px > 50)
    laid = lay(other, on)
    assume(not laid.mirrored)
    matrix, _ = cv2.estimateAffinePartial2D(np.array([a, b]), np.array([c, d]))
    there = matrix @ np.array([*at, 1.0])
    assert laid.point(at) == pytest.approx(tuple(there), abs=0.05 * max(1.0, laid.scale))


@given(point, point, point, point, point)
def test_the_matrix_says_the_same(a: Point, b: Point, c: Point, d: Point, at: Point) -> None:
    other, on = Trunk(a, b), Trunk(c, d)
    assume(other.length_px > 5 and on.length_px > 5)
    laid = lay(other, on)
    p, q, r, s, e, f = laid.matrix
    there = laid.point(at)
    assert (p * at.x + r * at.y + e, q * at.x + s * at.y + f) == pytest.approx(there, abs=1e-3)


def test_a_trunk_without_a_length_is_refused() -> None:
    none = Trunk(Point(5, 5), Point(5, 5))
    for pair in ((none, RIGHT), (RIGHT, none)):
        with pytest.raises(MeasureError, match="lie on each other"):
            lay(*pair)
    with pytest.raises(MeasureError, match="lie on each other"):
        in_trunks([Point(1, 1)], [none])


def test_the_shoulder_is_ahead_unless_the_trunk_stands() -> None:
    steep = Trunk(Point(210, 0), Point(200, 100))
    assert [swims_to(t) for t in (RIGHT, LEFT, steep)] == ["right", "left", ""]
    assert mostly_to([RIGHT, RIGHT, LEFT]) == "right"
    assert mostly_to([LEFT, steep]) == "left"
    assert mostly_to([LEFT, RIGHT]) == mostly_to([steep]) == mostly_to([]) == ""


def test_a_hand_path_is_the_same_from_every_camera() -> None:
    """Larger, tilted, swum the other way: in trunk lengths past the body nothing of it shows."""
    way = [Point(1.0 + 0.4 * math.cos(t), 0.5 * math.sin(t)) for t in np.linspace(0, 3, 20)]
    for size, tilt, flip in ((100, 0.0, 1), (250, 0.2, 1), (80, -0.1, -1)):
        turn = complex(math.cos(tilt), math.sin(tilt))

        def seen(p: Point, size: float = size, flip: int = flip, turn: complex = turn) -> Point:
            at = size * complex(flip * p.x, p.y) * turn + complex(700, 300)
            return Point(at.real, at.imag)

        trunk = Trunk(seen(Point(1, 0)), seen(Point(0, 0)))
        found = in_trunks([seen(p) for p in way], [trunk] * len(way))
        assert np.allclose(found, way, atol=1e-9)
