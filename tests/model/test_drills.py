"""Drills as the model swimmer does them: each one whole, on its own bones, and as it says."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.catalogue.loader import everything
from norvik.model import proportions as p
from norvik.model.body import Build, Pose
from norvik.model.drills import MOTIONS
from norvik.model.drills.kit import around, worn
from norvik.model.drills.loop import drill_loop, on_land
from norvik.model.drills.posed import pose_of
from norvik.model.truth import angle_deg

BUILD = Build()
DRILLS = everything().drills


def done(drill: str, steps: int = 60) -> Pose:
    """All joints over one loop."""
    motion = MOTIONS[drill]
    return pose_of(motion, BUILD, np.arange(steps) * motion.seconds / steps)


def heights(pose: Pose, joint: str) -> NDArray[np.float64]:
    return pose[joint][:, 2]


def ahead_of_shoulder(pose: Pose, side: str) -> NDArray[np.float64]:
    """How far the wrist lies ahead of its shoulder, in lengths of the bent arm."""
    reach = (p.UPPER_ARM + p.FOREARM) * BUILD.height_m
    return np.asarray((pose[f"{side}_wrist"] - pose[f"{side}_shoulder"])[:, 0] / reach)


def test_every_drill_of_the_catalogue_is_shown_and_no_other() -> None:
    assert set(MOTIONS) == set(DRILLS)


@pytest.mark.parametrize("drill", sorted(MOTIONS))
def test_bones_keep_their_length_and_joints_bend_as_they_can(drill: str) -> None:
    pose = done(drill)
    h = BUILD.height_m
    for side in ("left", "right"):
        j = {
            name: pose[f"{side}_{name}"]
            for name in ("shoulder", "elbow", "wrist", "hip", "knee", "ankle")
        }
        for a, b, share in (
            ("shoulder", "elbow", p.UPPER_ARM), ("elbow", "wrist", p.FOREARM),
            ("hip", "knee", p.THIGH), ("knee", "ankle", p.SHANK),
        ):  # fmt: skip
            assert np.linalg.norm(j[a] - j[b], axis=1) == pytest.approx(share * h, rel=0.02)
        assert angle_deg(j["shoulder"], j["elbow"], j["wrist"]).min() > 20
        assert angle_deg(j["hip"], j["knee"], j["ankle"]).min() > 15


@pytest.mark.parametrize("drill", sorted(MOTIONS))
def test_nothing_jumps(drill: str) -> None:
    """From frame to frame, and from the end of the loop to its beginning unless it ends elsewhere.

    No joint moves faster than 12 m/s against the body: a hand in a race does some 6 (own choice).
    """
    motion = MOTIONS[drill]
    steps = 120
    pose = done(drill, steps)
    for name, points in pose.items():
        if name == "face":
            continue
        moved = np.linalg.norm(np.diff(points, axis=0), axis=1) * steps / motion.seconds
        assert moved.max() < 12, name
        if not motion.once:
            back = float(np.linalg.norm(points[0] - points[-1])) * steps / motion.seconds
            assert back < 12, name


@pytest.mark.parametrize("drill", sorted(d for d in DRILLS if DRILLS[d].kit))
def test_the_kit_that_a_drill_needs_is_drawn(drill: str) -> None:
    shown = " ".join(MOTIONS[drill].kit)
    for thing in DRILLS[drill].kit:
        assert thing in shown, thing
    pose = done(drill)
    assert worn(MOTIONS[drill].kit, pose, 0)


@pytest.mark.parametrize("drill", sorted(MOTIONS))
def test_a_drill_is_drawn_whole(drill: str) -> None:
    """In its picture all the time, on land or in water, by four instants that differ."""
    motion, shown = MOTIONS[drill], drill_loop(drill)
    assert shown is not None
    assert on_land(motion) == (DRILLS[drill].place == "land")
    assert shown.water != on_land(motion)
    left, top, width, height = shown.box
    for frame in shown.frames:
        points = np.array([point for shape in frame for point in shape.points])
        assert (points.min(axis=0) >= (left, top)).all()
        assert (points.max(axis=0) <= (left + width, top + height)).all()
    assert len(shown.instants) == 4
    for a, b in pairwise(shown.instants):
        assert a < b
        assert shown.frames[a] != shown.frames[b]


def test_land_drills_stand_on_the_ground() -> None:
    for drill in (d for d in MOTIONS if on_land(MOTIONS[d])):
        pose = done(drill)
        top = max(float(s.points[:, 2].max()) for s in around(["ground"], pose))
        lowest = min(heights(pose, j).min() for j in pose if j != "face")
        assert lowest > top


def test_a_drill_that_is_none_has_no_figure() -> None:
    assert drill_loop("own-paper-boat") is None


# What single drills say, checked on the joints. The texts are the catalogue's own.


@pytest.mark.parametrize("drill", ["single-arm", "two-kick-rhythm", "fly-one-arm-front"])
def test_the_resting_arm_stays_ahead(drill: str) -> None:
    pose = done(drill)
    assert ahead_of_shoulder(pose, "left").min() > 0.85
    assert ahead_of_shoulder(pose, "right").min() < -0.6


def test_single_arm_on_the_back_rests_the_other_at_the_side() -> None:
    pose = done("single-arm-back")
    assert ahead_of_shoulder(pose, "left").max() < -0.85
    assert ahead_of_shoulder(pose, "right").max() > 0.8
    assert (pose["face"][:, 2] > 0.8).all()


def test_six_kick_switch_lies_on_one_edge_and_then_on_the_other() -> None:
    pose = done("six-kick-switch")
    across = pose["left_shoulder"] - pose["right_shoulder"]
    roll = np.degrees(np.arcsin(across[:, 2] / np.linalg.norm(across, axis=1)))
    assert roll.max() > 65
    assert roll.min() < -65
    # On the right edge the right arm is ahead and the left hand on the thigh.
    on_edge = int(np.argmax(roll))
    assert ahead_of_shoulder(pose, "right")[on_edge] > 0.8
    assert ahead_of_shoulder(pose, "left")[on_edge] < -0.5


def test_catch_up_lets_one_hand_wait_for_the_other() -> None:
    pose = done("catch-up", 120)
    both = np.minimum(ahead_of_shoulder(pose, "left"), ahead_of_shoulder(pose, "right"))
    assert both.max() > 0.8


@pytest.mark.parametrize("side", ["left", "right"])
def test_dragging_fingers_stay_at_the_surface(side: str) -> None:
    motion = MOTIONS["fingertip-drag"]
    start = 1.62 if side == "right" else 2.82 - motion.seconds
    t = np.linspace(start, start + 0.5, 12)
    pose = pose_of(motion, BUILD, np.mod(t, motion.seconds) if side == "left" else t)
    assert np.abs(heights(pose, f"{side}_fingertip")).max() < 0.06
    assert (heights(pose, f"{side}_elbow") > heights(pose, f"{side}_fingertip") + 0.1).all()


@pytest.mark.parametrize("drill", ["doggy-paddle", "fly-under-recovery"])
def test_hands_that_stay_under_water_do(drill: str) -> None:
    pose = done(drill)
    for side in ("left", "right"):
        assert heights(pose, f"{side}_wrist").max() < 0.05


@pytest.mark.parametrize("drill", ["fist"])
def test_fists_are_closed(drill: str) -> None:
    pose = done(drill)
    hand = np.linalg.norm(pose["right_fingertip"] - pose["right_wrist"], axis=1)
    assert hand == pytest.approx(0.5 * p.HAND * BUILD.height_m)


@pytest.mark.parametrize("drill", ["cup-on-head", "hip-scull", "back-overhead-kick", "heel-snap"])
def test_on_the_back_the_mouth_is_in_the_air(drill: str) -> None:
    assert heights(done(drill), "mouth").min() > -0.01


@pytest.mark.parametrize("drill", ["vertical-dolphin", "breast-vertical-kick", "eggbeater"])
def test_upright_kicks_hold_the_mouth_over_the_water(drill: str) -> None:
    pose = done(drill)
    assert heights(pose, "mouth").min() > 0
    along = pose["neck"] - pose["pelvis"]
    assert (along[:, 2] > 0.9 * np.linalg.norm(along, axis=1)).all()


@pytest.mark.parametrize("drill", ["somersault-open", "tumble-distance"])
def test_a_tumble_goes_over_the_head(drill: str) -> None:
    pose = done(drill)
    along = pose["neck"] - pose["pelvis"]
    angle = np.degrees(np.unwrap(np.arctan2(along[:, 2], along[:, 0])))
    turned = angle[-1] - angle[0]
    assert turned == pytest.approx(-360 if drill == "somersault-open" else -184, abs=5)
    # Chin to the chest, knees to the nose.
    knees = np.linalg.norm(pose["right_knee"] - pose["crown"], axis=1)
    assert knees.min() < 0.6


@pytest.mark.parametrize("drill", ["tumble-distance", "back-turn-steps", "knee-tuck-turn"])
def test_feet_find_the_wall(drill: str) -> None:
    pose = done(drill, 120)
    wall = float(around(["touched"], pose)[0].points[:, 0].min())
    toes = np.maximum(pose["right_ankle"][:, 0], pose["right_toe"][:, 0])
    assert np.abs(toes - wall).min() < 0.06
    planted = int(np.argmin(np.abs(toes - wall)))
    assert heights(pose, "right_ankle")[planted] < 0.05


def test_two_hands_touch_at_once() -> None:
    pose = done("two-hand-touch")
    apart = pose["left_fingertip"][:, 0] - pose["right_fingertip"][:, 0]
    assert np.abs(apart).max() < 0.01


@pytest.mark.parametrize("drill", ["start-line", "start-reaction", "start-sitting"])
def test_a_start_goes_in_hands_first_through_one_hole(drill: str) -> None:
    """Where the hands meet the surface, the hips and feet meet it within a body's half length."""
    pose = done(drill, 240)
    where = {}
    for joint in ("right_fingertip", "pelvis"):
        under = int(np.argmax(heights(pose, joint) < 0))
        where[joint] = float(pose[joint][under, 0])
        assert under > 0
    assert abs(where["pelvis"] - where["right_fingertip"]) < 0.9
    first = {
        j: int(np.argmax(heights(pose, j) < 0)) for j in ("right_fingertip", "crown", "pelvis")
    }
    assert first["right_fingertip"] < first["crown"] < first["pelvis"]


def test_narrow_knees_are_narrower_than_the_usual_kick() -> None:
    def widest(drill: str) -> float:
        pose = done(drill)
        return float((pose["left_ankle"] - pose["right_ankle"])[:, 1].max())

    assert widest("narrow-knees") < 0.7 * widest("breast-hands-at-hips")


def test_a_cup_stands_on_the_forehead_and_a_board_lies_at_the_hands() -> None:
    pose = done("cup-on-head")
    cup = worn(["cup"], pose, 0)[0].points
    assert cup[:, 2].min() > heights(pose, "crown")[0]
    pose = done("board-dolphin")
    board = worn(["board"], pose, 0)[0].points
    hands = 0.5 * (pose["left_wrist"][0] + pose["right_fingertip"][0])
    assert np.linalg.norm(board.mean(axis=0)[:2] - hands[:2]) < 0.35
    assert np.abs(board[:, 2]).max() < 0.15
