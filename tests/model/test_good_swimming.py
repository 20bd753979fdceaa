"""The model's good swimming is no fault: of any stroke, pace, build and level, from every view.

Limits come from the trade and from published ranges (their sources stand beside them in the
tables); the model only tells whether they fault a swim that a coach would leave alone.
"""

from __future__ import annotations

import numpy as np
import pytest

from norvik.core.frame.geometry import inner_angle
from norvik.core.frame.measures import MEASURES
from norvik.core.frame.movement import FOLLOWED
from norvik.model.camera import camera_for
from norvik.model.truth import angle_deg
from tests.model.reading_truth import FPS, Truth, found_in, frame_band

#: Cycles a minute, from slow to sprint: published race rates reach 58 to 65 in freestyle, 44 to 50
#: in backstroke, 48 to 56 in breaststroke, 52 to 58 in butterfly (recalled, not looked up).
PACES = {
    "freestyle": (24, 36, 58),
    "backstroke": (26, 37, 50),
    "breaststroke": (24, 36, 55),
    "butterfly": (36, 46, 58),
    "wall": (34, 43, 55),
}
HEIGHTS_M = (1.45, 1.78, 2.02)
LEVELS = ("beginner", "improver", "advanced")
#: Banded measures that no camera of the model can take, and why.
NOT_TAKEN = {
    ("kick-travel", ""): "its limit is that of the kick's amplitude",
    ("head-trunk", "side-above"): "hips and neck lie under the surface of the picture",
    ("chest-hips", "side-above"): "the hips lie under the surface of the picture",
    ("recovery-elbow", "front-above"): "the nearer hand hides the elbow",
    ("body-roll", "front-above"): "the shoulders lie under the surface of the picture",
}


@pytest.mark.parametrize("level", LEVELS)
@pytest.mark.parametrize("height_m", HEIGHTS_M)
@pytest.mark.parametrize(
    ("stroke", "pace"), [(stroke, pace) for stroke, paces in PACES.items() for pace in paces]
)
def test_good_swimming_is_no_fault(stroke: str, pace: float, height_m: float, level: str) -> None:
    swim = Truth(stroke=stroke, cycles_per_min=pace, height_m=height_m, level=level)
    faults = {
        f.id: [(j.quantity.id, j.reading.value) for j in f.judged]
        for f in found_in(swim)
        if f.kind == "fault"
    }
    assert faults == {}


@pytest.mark.parametrize("stroke", PACES)
def test_every_limit_that_this_stroke_has_is_tried(stroke: str) -> None:
    """Each measure with a limit was taken in every view in which it is offered."""
    swim = Truth(stroke=stroke)
    found_in(swim)
    named = "freestyle" if stroke == "wall" else stroke
    dolphins = ("dolphin-knee", "dolphin-amplitude")
    asked = {
        (m.id, view)
        for m in MEASURES.values()
        for view in m.views
        if m.shown(named, view)
        and (band := frame_band(m.id, named, {}))
        and (band.fault_below, band.fault_above) != (None, None)
        and (stroke == "wall") == (m.id in dolphins)
        # Streamline belongs to the glide; only breaststroke and the wall have one.
        and (m.id != "streamline" or stroke in ("breaststroke", "wall"))
    }
    assert asked - swim.tried - set(NOT_TAKEN) == set()


def test_a_swim_with_passes_from_slow_to_sprint_holds_early_enough() -> None:
    """Clean freestyle at 1.0 to 1.8 m/s with passes marked: nothing is called late."""
    speeds = []
    for pace in (30, 40, 50):
        swim = Truth(stroke="freestyle", cycles_per_min=pace)
        timing = swim.timing()
        assert timing.speed.m_per_s is not None
        speeds.append(timing.speed.m_per_s)
        assert timing.hold_distance_m is not None
        assert "late-catch" not in {f.id for f in found_in(swim) if f.kind == "fault"}
    assert min(speeds) < 1.05
    assert max(speeds) > 1.65


def test_events_of_the_model_are_what_they_are_called() -> None:
    """Entry: first touch, ahead of the shoulder.

    Press: from here on the hand moves backward in the water. Speed follows the rate.
    """
    speeds = []
    for stroke in ("freestyle", "backstroke"):
        for pace in (28, 44):
            swim = Truth(stroke=stroke, cycles_per_min=pace)
            for side in ("left", "right"):
                wrist, tip = (swim.joints[f"{side}_{j}"] for j in ("wrist", "fingertip"))
                hand = (wrist + tip) / 2
                over_ground = np.gradient(hand[:, 0] + swim.travelled, swim.times)
                lowest = np.minimum(wrist[:, 2], tip[:, 2])
                for n in swim.frames("press", side=side)[1:-1]:
                    assert over_ground[n - 5 : n - 2].min() > -0.01, (stroke, pace, side)
                    assert over_ground[n + 3 : n + 8].max() < 0.05, (stroke, pace, side)
                for n in swim.frames("entry", side=side)[1:]:
                    assert abs(lowest[n]) < 0.05, (stroke, pace, side)
                    assert lowest[n - 3] > lowest[n] > lowest[min(n + 4, len(lowest) - 1)]
                    assert tip[n, 0] > swim.joints[f"{side}_shoulder"][n, 0]
            speeds.append(float(np.mean(np.diff(swim.travelled)) * FPS))
    assert speeds[1] / speeds[0] == pytest.approx(44 / 28, rel=0.02)
    assert speeds[3] / speeds[2] == pytest.approx(44 / 28, rel=0.02)


@pytest.mark.parametrize("stroke", ["freestyle", "backstroke", "breaststroke", "butterfly"])
def test_left_is_left_on_the_front_and_on_the_back(stroke: str) -> None:
    """Left lies where the head's direction crossed with that of the face points."""
    swim = Truth(stroke=stroke)
    for n in (30, 200, 400):
        head = swim.joints["neck"][n] - swim.joints["pelvis"][n]
        face = np.array([0.0, 0.0, 1.0 if stroke == "backstroke" else -1.0])
        left = np.cross(head, face)
        for joint in ("shoulder", "hip", "ankle"):
            across = swim.joints[f"left_{joint}"][n] - swim.joints[f"right_{joint}"][n]
            assert across @ left > 0, joint


def test_followed_measures_have_their_limits_tried() -> None:
    banded = {m for m in FOLLOWED if frame_band(m, "freestyle", {})}
    assert banded == {"late-bend", "breakout-climb", "hip-sway"}


@pytest.mark.parametrize("stroke", ["freestyle", "backstroke"])
def test_the_bend_of_the_elbow_shows_from_the_front_and_not_from_the_side(stroke: str) -> None:
    """Under the shoulder the elbow points to the side: beside the swimmer it looks straight."""
    swim = Truth(stroke=stroke)
    frames = swim.frames("shoulder", side="right")[1:4]
    joints = [swim.joints[f"right_{j}"] for j in ("shoulder", "elbow", "wrist")]
    true = angle_deg(*joints)
    for n in frames:
        seen = {
            view: inner_angle(*(swim.at(camera_for(view), f"right_{j}", n)
                                for j in ("shoulder", "elbow", "wrist")))
            for view in ("front-under", "side-under")
        }  # fmt: skip
        assert seen["front-under"] == pytest.approx(true[n], abs=8)
        assert abs(seen["side-under"] - true[n]) > 25


@pytest.mark.parametrize(("dial", "late"), [("", False), ("straight-arm", True)])
def test_a_late_bend_is_told_by_the_true_bend(dial: str, late: bool) -> None:
    swim = Truth(dial, stroke="freestyle")
    found = {f.id for f in found_in(swim) if f.kind == "fault"}
    assert ("straight-arm" in found) is late
    shares = [o.value for t in swim.taken if t.what == "late-bend" for o in t.found]
    bent = angle_deg(*(swim.joints[f"right_{j}"] for j in ("shoulder", "elbow", "wrist")))
    under = bent[swim.frames("shoulder", side="right")[1:4]]
    assert bool(min(under) > 150) is late
    assert bool(np.mean(shares) > 33) is late
