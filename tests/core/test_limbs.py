"""Limbs against the trunk: what the camera does changes nothing."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.core.reading.limbs import limbs_of

Series = NDArray[np.float64]

NAMES = ("shoulder", "elbow", "wrist", "hip", "knee", "ankle", "toe")


def body() -> dict[str, Series]:
    """Somebody who swims to the right, trunk 100 px long, hips at 300, 400; 5 frames."""
    at = {
        "shoulder": (400, 400), "elbow": (460, 380), "wrist": (500, 420), "hip": (300, 400),
        "knee": (220, 410), "ankle": (140, 390),
        "toe": (110, 395),
    }  # fmt: skip
    joints = {
        f"{side}_{name}": np.tile(np.array(at[name], float), (5, 1))
        for side in ("left", "right")
        for name in NAMES
    }
    joints["nose"] = np.tile([440.0, 395.0], (5, 1))
    return joints


def changed(
    joints: dict[str, Series], turn: float, zoom: float, moved: Series
) -> dict[str, Series]:
    c, s = np.cos(turn), np.sin(turn)
    return {name: zoom * (p @ np.array([[c, s], [-s, c]])) + moved for name, p in joints.items()}


def test_places_are_along_and_above_the_trunk_in_trunk_lengths() -> None:
    found = limbs_of(body())
    assert found.heading == 1
    assert found.trunk_px == pytest.approx(100)
    np.testing.assert_allclose(found.arms[0, 0], [1.0, -0.2, 0.6, 0.2])
    np.testing.assert_allclose(found.legs[0, 1], [-1.6, 0.1, -0.8, -0.1])
    assert found.head[0] == pytest.approx(0.05)
    np.testing.assert_allclose(found.feet[0], [0.1, 0.1])
    np.testing.assert_allclose(found.toes[0], [0.05, 0.05])


def test_feet_and_head_are_measured_over_where_the_hips_usually_are() -> None:
    """A body that goes up and down moves them, and the camera's level does not."""
    joints = {name: np.tile(p[0], (300, 1)) for name, p in body().items()}
    up = 10 * np.sin(2 * np.pi * np.arange(300) / 40)
    moved = {name: p - np.stack([0 * up, up], axis=1) for name, p in joints.items()}
    np.testing.assert_allclose(limbs_of(moved).head[60:240], 0.05 + up[60:240] / 100, atol=0.02)


@pytest.mark.parametrize(("turn", "zoom"), [(0.3, 1.0), (-0.4, 0.5), (0.0, 3.0)])
def test_a_tilted_or_farther_camera_changes_nothing(turn: float, zoom: float) -> None:
    found = limbs_of(changed(body(), turn, zoom, np.array([50.0, -20.0])))
    plain = limbs_of(body())
    np.testing.assert_allclose(found.arms, plain.arms, atol=1e-9)
    np.testing.assert_allclose(found.legs, plain.legs, atol=1e-9)


def test_a_mirrored_film_shows_the_same_limbs_and_the_other_heading() -> None:
    mirrored = {name: p * [-1, 1] + [1280, 0] for name, p in body().items()}
    found = limbs_of(mirrored)
    assert found.heading == -1
    np.testing.assert_allclose(found.arms, limbs_of(body()).arms, atol=1e-9)


def test_a_joint_that_is_too_far_to_be_ones_own_is_not_one() -> None:
    joints = body()
    joints["left_wrist"] = joints["left_wrist"] + [300.0, 0.0]
    found = limbs_of(joints)
    assert np.isnan(found.arms[:, 0, :2]).all()
    assert np.isfinite(found.arms[:, 0, 2:]).all()
    assert np.isfinite(found.arms[:, 1]).all()
