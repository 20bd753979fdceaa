"""Measures on the frame from where joints were seen: placed by what was learnt, strays left out."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.core.reading.limbs import Limbs, limbs_of
from norvik.core.reading.on_frame import (
    PLANS,
    ReadMeasure,
    arm_seen,
    places_between,
    put_right,
    read_measures,
)
from norvik.core.reading.phase import Template
from norvik.core.reading.places import Places
from norvik.core.reading.stroke import ReadEvent

Series = NDArray[np.float64]
COUNT = 120
TIMES = np.arange(COUNT) / 30
#: A trunk is 100 pixels long.
BODY = {
    "left_shoulder": (300, 200), "right_shoulder": (300, 200), "left_hip": (200, 200),
    "right_hip": (200, 200), "left_ankle": (60, 230), "right_ankle": (60, 210),
    "left_toe": (50, 230), "right_toe": (50, 210),
    "left_knee": (130, 215), "right_knee": (130, 205), "nose": (330, 205),
    "right_wrist": (400, 210), "right_elbow": (350, 205), "left_wrist": (220, 260),
    "left_elbow": (260, 250),
}  # fmt: skip
#: The arm that is seen stretches to the front at every step of its cycle.
ARMS = Template(
    np.tile([1.0, -0.1, 0.5, -0.05], (180, 1)), np.tile([-0.8, -0.6, -0.4, -0.5], (180, 1)),
    np.full((180, 4), 0.15), {"entry": 0.0, "catch": 0.2, "press": 0.35},
)  # fmt: skip
EVENTS = [ReadEvent(t, "arm", "right", "catch", 0.1, 0.9) for t in (0.5, 1.5, 2.5, 3.5)]
#: The shoulder is clicked 10 pixels ahead of where it is seen; ankles 5 pixels higher.
LEARNT = {"body-line": Places(((0.1, 0.0), (0.0, 0.05), (0.0, 0.05)), 1.4)}


def still(mirrored: bool = False) -> dict[str, Series]:
    """A swimmer who lies in the water as BODY says, to the right or to the left."""
    joints = {name: np.tile(np.array(at, float), (COUNT, 1)) for name, at in BODY.items()}
    if mirrored:
        for places in joints.values():
            places[:, 0] = 640 - places[:, 0]
    return joints


def read(
    joints: dict[str, Series], learnt: dict[str, Places] | None = None,
    events: list[ReadEvent] | None = None,
) -> tuple[ReadMeasure, ...]:  # fmt: skip
    return read_measures(
        joints, TIMES, limbs_of(joints), "freestyle", ARMS, LEARNT if learnt is None else learnt,
        EVENTS if events is None else events,
    )  # fmt: skip


def test_points_lie_where_a_coach_clicks() -> None:
    found = read(still())
    assert [m.time_s for m in found] == pytest.approx([0.5, 1.5, 2.5, 3.5])
    assert {m.measure for m in found} == {"body-line"}
    assert {m.side for m in found} == {""}
    assert found[0].points == ((310.0, 200.0), (60.0, 225.0), (60.0, 205.0))
    assert found[0].u == 1.4


def test_a_swimmer_to_the_left_is_the_mirror_of_one_to_the_right() -> None:
    events = [replace(e, side="left") for e in EVENTS]
    found = read(still(mirrored=True), events=events)
    assert [m.points for m in found] == [
        ((330.0, 200.0), (580.0, 225.0), (580.0, 205.0))
    ] * 4  # fmt: skip


def test_the_other_arm_has_no_say() -> None:
    """Events of the arm behind the body are no instants of what the camera sees."""
    assert read(still(), events=[replace(e, side="left") for e in EVENTS]) == ()


def test_what_was_not_learnt_is_not_proposed() -> None:
    assert read(still(), {}) == ()
    assert "high-elbow" in PLANS["freestyle"]


def test_arms_that_the_network_takes_for_each_other() -> None:
    joints = still()
    swapped = dict(joints)
    for joint in ("wrist", "elbow"):
        swapped[f"left_{joint}"], swapped[f"right_{joint}"] = (
            joints[f"right_{joint}"], joints[f"left_{joint}"],
        )  # fmt: skip
    assert arm_seen(limbs_of(joints), ARMS, "catch", 15) == "right"
    assert arm_seen(limbs_of(swapped), ARMS, "catch", 15) == "left"
    learnt = {"reach-depth": Places(((0.0, 0.0),) * 3, 0.1)}
    assert [m.points for m in read(swapped, learnt)] == [m.points for m in read(joints, learnt)]
    assert {m.side for m in read(swapped, learnt)} == {"right"}


def test_no_arm_looks_like_it() -> None:
    joints = still()
    joints["right_wrist"] = joints["right_elbow"] = np.tile([250.0, 320.0], (COUNT, 1))
    assert arm_seen(limbs_of(joints), ARMS, "catch", 15) is None
    assert read(joints) == ()


def test_joints_that_were_not_found_propose_nothing_there() -> None:
    joints = still()
    joints["left_ankle"][40:50] = np.nan
    assert [m.time_s for m in read(joints)] == pytest.approx([0.5, 2.5, 3.5])


def test_a_joint_elsewhere_than_in_the_other_strokes_is_seen_wrongly() -> None:
    joints = still()
    joints["left_ankle"][43:48] += [0.0, 40.0]
    assert [m.time_s for m in read(joints)] == pytest.approx([0.5, 2.5, 3.5])


def test_a_joint_that_trembles_is_taken_from_the_pictures_around() -> None:
    joints = still()
    joints["left_ankle"][15] += [0.0, 10.0]
    (_, one, _), *_ = [m.points for m in read(joints)]
    assert one[1] == pytest.approx(225 + 10 / 5, abs=0.1)


def test_no_picture_near_the_event() -> None:
    joints = {name: places[:60] for name, places in still().items()}
    found = read_measures(joints, TIMES[:60], limbs_of(joints), "freestyle", ARMS, LEARNT, EVENTS)
    assert [m.time_s for m in found] == pytest.approx([0.5, 1.5])


@pytest.mark.parametrize("heading", [1, -1])
def test_what_is_learnt_is_put_right_again(heading: int) -> None:
    nothing = np.zeros((1, 2, 4))
    limbs = Limbs(
        nothing, nothing, nothing[:, :, 0], nothing[:, :, 0], nothing[:, 0, 0], heading, 80.0
    )
    seen, true = np.array([[100.0, 50.0], [140.0, 70.0]]), np.array([[108.0, 46.0], [140.0, 78.0]])
    between = places_between(seen, true, limbs)
    assert between[0] == pytest.approx([heading * 0.1, 0.05])
    assert put_right(seen, [(x, y) for x, y in between], limbs) == pytest.approx(true)
