"""The painted body: one closed trunk on its joints, hands that are broad from the palm only."""

from __future__ import annotations

import numpy as np
import pytest

from norvik.model.body import Pose
from norvik.model.camera import camera_for
from norvik.model.dials import usual_swim
from norvik.model.film import Shot, Take
from norvik.model.hand import hand_sections
from norvik.model.pose import Build, pose
from norvik.model.scene import Pool
from norvik.model.schedule import STROKES, schedule
from norvik.model.trunk import sections

HEIGHT_M = 1.78


def joints(stroke: str) -> Pose:
    return pose(schedule(usual_swim(stroke), 5), Build(), np.arange(0, 5, 1 / 30), stroke)


@pytest.mark.parametrize("stroke", STROKES)
def test_the_trunk_reaches_from_the_seat_to_the_shoulders_without_a_gap(stroke: str) -> None:
    swum = joints(stroke)
    for n in range(0, 150, 7):
        parts = sections(swum, n, HEIGHT_M)
        middles = np.array([(x.left + x.right) / 2 for x in parts])
        steps = np.linalg.norm(np.diff(middles, axis=0), axis=1)
        radii = np.array([x.radius_m for x in parts])
        assert (steps < radii[:-1] + radii[1:]).all()
        assert middles[-1] == pytest.approx(swum["neck"][n])
        assert middles[1] == pytest.approx(swum["pelvis"][n])
        # Left is left all the way up, and the suit ends at the waist.
        left = swum["left_hip"][n] - swum["right_hip"][n]
        assert all((x.left - x.right) @ left > 0 for x in parts)
        suit = [x.suit for x in parts]
        assert suit == sorted(suit, reverse=True)
        assert 0 < sum(suit) < len(suit)
        # Shoulders are wider than hips, the waist is the narrowest.
        wide = [float(np.linalg.norm(x.left - x.right)) for x in parts]
        assert wide[-1] > wide[1] > min(wide[2:])


@pytest.mark.parametrize("stroke", STROKES)
def test_a_hand_lies_across_its_fingers_with_the_thumb_at_its_edge(stroke: str) -> None:
    swum = joints(stroke)
    for n in range(0, 150, 11):
        for side in ("left", "right"):
            parts = hand_sections(swum, side, n, HEIGHT_M)
            fingers = swum[f"{side}_fingertip"][n] - swum[f"{side}_wrist"][n]
            thumb = swum[f"{side}_thumb"][n] - swum[f"{side}_wrist"][n]
            for part in parts:
                across = part.left - part.right
                assert across @ fingers == pytest.approx(0, abs=1e-9)
                assert across @ thumb > 0
            broad = max(np.linalg.norm(x.left - x.right) + 2 * x.radius_m for x in parts)
            assert 0.07 < broad < 0.12
            assert max(2 * x.radius_m for x in parts[1:]) < 0.5 * broad


@pytest.mark.parametrize("view", ["side-under", "front-under", "overhead", "side-above"])
def test_the_body_covers_its_pelvis_from_every_side(view: str) -> None:
    shot = Shot(Take(usual_swim("freestyle"), seconds=2, fps=20, view=view))
    camera = camera_for(view)
    pool = Pool(camera)
    for n in range(len(shot.times)):
        moved = float(shot.travelled[n])
        x, y = (round(float(v)) for v in camera.project(shot.joints["pelvis"][n]))
        water = pool.frame(moved)[y, x].astype(int)
        assert np.abs(shot.frame(n)[y, x].astype(int) - water).sum() > 40, n
