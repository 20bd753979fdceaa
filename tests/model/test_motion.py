"""The model swimmer moves as a good swimmer does: checked on its joints, stroke by stroke.

Ranges are published ones recalled from memory unless another source stands beside them.
"""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.model import body, surface
from norvik.model.body import Pose
from norvik.model.dials import usual_swim
from norvik.model.pose import Build, pose, travelled
from norvik.model.schedule import Schedule, schedule
from norvik.model.speed import swum_speed

SECONDS, FPS = 9.0, 120
SWUM = ("freestyle", "backstroke", "breaststroke", "butterfly")
#: Cycles a minute, slow and quick.
PACES = {
    "freestyle": (26, 36, 56),
    "backstroke": (26, 37, 50),
    "breaststroke": (26, 36, 52),
    "butterfly": (38, 46, 56),
}
GRID = [(stroke, pace) for stroke, paces in PACES.items() for pace in paces]


class Swum:
    """One good swim with its joints, seconds since the first frame and speed."""

    def __init__(self, stroke: str, pace: float | None = None, height_m: float = 1.78) -> None:
        build = Build(height_m)
        self.plan: Schedule = schedule(usual_swim(stroke, pace), SECONDS)
        self.t = np.arange(0, SECONDS, 1 / FPS)
        self.joints: Pose = pose(self.plan, build, self.t, stroke)
        self.speed = swum_speed(stroke, build, self.plan)
        self.travelled = travelled(self.plan, self.t, stroke, self.speed)

    def height(self, joint: str) -> NDArray[np.float64]:
        return self.joints[joint][:, 2]

    def over_water(self, joint: str) -> NDArray[np.float64]:
        """Height over the surface as it is beside the head."""
        behind = self.joints["crown"][:, 0] - self.joints[joint][:, 0]
        return self.height(joint) - surface.height_m(behind, self.speed)

    def between(self, start: float, end: float) -> NDArray[np.bool_]:
        return (self.t >= start) & (self.t <= end)

    def whole(self, side: str) -> list[dict[str, float]]:
        """Instants of the cycles of an arm that lie inside the film, with their end."""
        cycles = self.plan.arms.get(side) or self.plan.arms["both"]
        return [
            {**c.at, "end": c.end} for c in cycles
            if min(c.at.values()) > 0.5 and c.end < SECONDS - 0.5 and len(c.at) > 3
        ]  # fmt: skip

    def angle(self, a: str, b: str, c: str) -> NDArray[np.float64]:
        first, second = self.joints[a] - self.joints[b], self.joints[c] - self.joints[b]
        cosine = np.sum(first * second, axis=1)
        cosine /= np.linalg.norm(first, axis=1) * np.linalg.norm(second, axis=1)
        return np.degrees(np.arccos(np.clip(cosine, -1, 1)))

    def tilt(self, joint: str) -> NDArray[np.float64]:
        """Degrees by which the line from right to left joint is rolled."""
        across = self.joints[f"left_{joint}"] - self.joints[f"right_{joint}"]
        return np.degrees(np.arctan2(across[:, 2], np.abs(across[:, 1])))


@cache
def swum(stroke: str, pace: float | None = None, height_m: float = 1.78) -> Swum:
    return Swum(stroke, pace, height_m)


@pytest.mark.parametrize("height_m", [1.45, 1.78, 2.0])
@pytest.mark.parametrize(("stroke", "pace"), GRID)
def test_the_mouth_is_in_the_air_from_mouth_out_to_face_in(
    stroke: str, pace: float, height_m: float
) -> None:
    swim = swum(stroke, pace, height_m)
    mouth = swim.over_water("mouth")
    if stroke == "backstroke":
        assert mouth.min() > 0.02
        return
    breaths = [b for b in swim.plan.breaths if b.air > 0 and b.down < SECONDS]
    assert breaths
    breathing = np.zeros_like(swim.t, bool)
    for b in swim.plan.breaths:
        breathing |= swim.between(b.air - 0.10, b.down + 0.15)
    for b in breaths:
        out = swim.between(b.air, b.down)
        assert mouth[out].min() > -0.008, b
        assert mouth[out].max() > 0.015, b
    if stroke != "butterfly":
        # The rest of the time the swimmer breathes out under water. In butterfly the face comes
        # past the surface with the shoulders in strokes without a breath, too.
        assert mouth[~breathing].max() < 0.0


def test_one_eye_stays_in_the_water_on_the_breath() -> None:
    swim = swum("freestyle")
    axis = swim.joints["crown"] - swim.joints["neck"]
    length = np.linalg.norm(axis, axis=1, keepdims=True)
    axis = axis / length
    look = swim.joints["face"] - axis * np.sum(swim.joints["face"] * axis, 1, keepdims=True)
    look = look / np.linalg.norm(look, axis=1, keepdims=True)
    across = np.cross(axis, look)
    middle = swim.joints["neck"] + 0.62 * length * axis + 0.09 * look
    behind = swim.joints["crown"][:, 0] - middle[:, 0]
    eyes = [(middle + s * 0.032 * across)[:, 2] - surface.height_m(behind, swim.speed)
            for s in (-1, 1)]  # fmt: skip
    for b in swim.plan.breaths:
        out = swim.between(b.air, b.down)
        if b.air > 0 and b.down < SECONDS:
            assert np.minimum(*eyes)[out].max() < 0.0
            assert np.maximum(*eyes)[out].max() > 0.0


@pytest.mark.parametrize("height_m", [1.45, 2.0])
@pytest.mark.parametrize(("stroke", "pace"), [g for g in GRID if g[0] != "breaststroke"])
def test_hands_come_forward_over_the_water(stroke: str, pace: float, height_m: float) -> None:
    swim = swum(stroke, pace, height_m)
    for side in ("left", "right"):
        for c in swim.whole(side):
            over = c["end"] - c["exit"]
            swinging = swim.between(c["exit"] + 0.16 * over, c["end"] - 0.12 * over)
            assert swim.height(f"{side}_wrist")[swinging].min() > 0.01
            assert swim.height(f"{side}_elbow")[swinging].max() > 0.1
            if stroke == "butterfly":
                # Low and nearly straight, the shoulders clear.
                assert swim.height(f"{side}_fingertip")[swinging].min() > 0
                high = swim.between(c["exit"] + 0.1 * over, c["exit"] + 0.4 * over)
                assert swim.height(f"{side}_shoulder")[high].min() > 0
                bend = swim.angle(f"{side}_shoulder", f"{side}_elbow", f"{side}_wrist")
                assert bend[swinging].min() > 130


def test_the_bent_recovery_of_freestyle_is_no_pocket_knife() -> None:
    """80 to 110 degrees at the elbow as the hand passes the shoulder (common practice)."""
    swim = swum("freestyle")
    for side in ("left", "right"):
        bend = swim.angle(f"{side}_shoulder", f"{side}_elbow", f"{side}_wrist")
        for c in swim.whole(side):
            over = c["end"] - c["exit"]
            middle = swim.between(c["exit"] + 0.25 * over, c["exit"] + 0.8 * over)
            assert bend[middle].min() > 70
            assert bend[middle].max() < 115
            assert (swim.height(f"{side}_elbow") > swim.height(f"{side}_wrist"))[middle].all()


def test_the_arm_of_backstroke_comes_over_straight() -> None:
    swim = swum("backstroke")
    for side in ("left", "right"):
        bend = swim.angle(f"{side}_shoulder", f"{side}_elbow", f"{side}_wrist")
        for c in swim.whole(side):
            over = c["end"] - c["exit"]
            assert bend[swim.between(c["exit"] + 0.1 * over, c["end"] - 0.05 * over)].min() > 165


@pytest.mark.parametrize(("stroke", "pace"), GRID)
def test_feet_never_cross_and_come_close_together(stroke: str, pace: float) -> None:
    swim = swum(stroke, pace)
    # On the back left and right lie the other way round.
    sign = -1 if stroke == "backstroke" else 1
    for joint, least in (("toe", 0.02), ("ankle", 0.04)):
        apart = sign * (swim.joints[f"left_{joint}"] - swim.joints[f"right_{joint}"])[:, 1]
        assert apart.min() > least
        assert apart.min() < 0.13
        if stroke != "breaststroke":
            assert apart.max() < 0.13


@pytest.mark.parametrize(
    ("stroke", "travel_m", "knee_deg"),
    [
        ("freestyle", (0.28, 0.40), (138, 152)),
        ("backstroke", (0.28, 0.40), (138, 152)),
        ("butterfly", (0.35, 0.60), (115, 145)),
    ],
)
def test_the_kick_comes_from_the_hip_and_ends_in_a_whip(
    stroke: str, travel_m: tuple[float, float], knee_deg: tuple[float, float]
) -> None:
    """Travel 0.3 to 0.4 m in the flutter, 0.45 to 0.6 at the toes in the dolphin; the knee bends.

    135 to 145 degrees at most bent in good flutter kickers; the ankle follows the knee.
    """
    swim = swum(stroke)
    for side in ("left", "right"):
        ankle = swim.height(f"{side}_ankle") - swim.height(f"{side}_hip")
        assert travel_m[0] <= np.ptp(ankle) <= travel_m[1]
        knee = swim.angle(f"{side}_hip", f"{side}_knee", f"{side}_ankle")
        assert knee_deg[0] <= knee.min() <= knee_deg[1]
        assert knee.max() > 170
        foot = swim.angle(f"{side}_knee", f"{side}_ankle", f"{side}_toe")
        assert np.ptp(foot) > 8
        thigh = swim.height(f"{side}_knee") - swim.height(f"{side}_hip")
        assert np.ptp(thigh) > 0.06
    beats = [b for b in swim.plan.beats if 1 < b[0] < SECONDS - 1]
    for time_s, who in beats:
        for side in ("left", "right") if who == "both" else (who,):
            near = swim.between(time_s - 0.12, time_s + 0.12)
            low = swim.t[near][np.argmin(swim.height(f"{side}_ankle")[near]
                                         - swim.height(f"{side}_hip")[near])]  # fmt: skip
            assert low == pytest.approx(time_s, abs=0.03)


def test_toes_reach_the_surface_and_do_not_fly() -> None:
    for stroke, most in (("freestyle", 0.08), ("backstroke", 0.04), ("butterfly", 0.11)):
        swim = swum(stroke)
        for side in ("left", "right"):
            highest = swim.height(f"{side}_toe").max()
            assert -0.03 < highest < most, stroke


@pytest.mark.parametrize("stroke", ["freestyle", "backstroke"])
def test_shoulders_roll_more_than_hips(stroke: str) -> None:
    """50 to 60 degrees of the shoulders, 30 to 45 of the hips."""
    swim = swum(stroke)
    shoulders, hips = np.abs(swim.tilt("shoulder")).max(), np.abs(swim.tilt("hip")).max()
    assert 50 <= shoulders <= 60
    assert 30 <= hips <= 45


def test_the_shoulder_goes_along_with_the_reach() -> None:
    swim = swum("freestyle")
    for side in ("left", "right"):
        ahead = (swim.joints[f"{side}_shoulder"] - swim.joints["neck"])[:, 0]
        for c in swim.whole(side):
            reached = ahead[swim.between(c["catch"], c["press"])].mean()
            pulled = ahead[swim.between(c["shoulder"], c["exit"])].mean()
            assert 0.03 < reached - pulled < 0.08


@pytest.mark.parametrize("stroke", ["freestyle", "backstroke", "butterfly"])
def test_the_hand_pulls_backwards_in_the_water_at_its_depth(stroke: str) -> None:
    """Deepest 0.6 to 0.75 m in freestyle; backwards over ground from the pull to its end."""
    swim = swum(stroke)
    for side in ("left", "right"):
        hand = (swim.joints[f"{side}_wrist"] + swim.joints[f"{side}_fingertip"]) / 2
        over_ground = np.gradient(hand[:, 0] + swim.travelled, swim.t)
        for c in swim.whole(side):
            ends = c["shoulder"] + 0.4 * (c["exit"] - c["shoulder"])
            pulling = swim.between(c["press"] + 0.05, ends)
            if stroke != "butterfly":
                assert over_ground[pulling].max() < 0.1
            assert over_ground[pulling].min() < -0.4
            deepest = -swim.height(f"{side}_fingertip")[swim.between(c["press"], c["exit"])].min()
            if stroke == "freestyle":
                assert 0.6 <= deepest <= 0.75
            if stroke == "backstroke":
                # Beside the shoulder the hand is 10 to 20 cm under the surface (common practice).
                under = swim.between(c["shoulder"] - 0.02, c["shoulder"] + 0.02)
                assert 0.05 < -swim.height(f"{side}_wrist")[under].mean() < 0.22


@pytest.mark.parametrize("stroke", ["butterfly", "wall"])
def test_the_body_waves_more_toward_the_feet_and_later(stroke: str) -> None:
    """The amplitude of the wave grows from head to toe, and it runs from head to toe."""
    swim = swum(stroke)
    if stroke == "wall":
        kicks = [s for s, side in swim.plan.beats if side == "both"]
        part = swim.between(kicks[0], kicks[-1])
        names = ("neck", "pelvis", "left_knee", "left_ankle", "left_toe")
    else:
        part = swim.between(2.0, 7.0)
        names = ("pelvis", "left_knee", "left_ankle", "left_toe")
    seconds = swim.t[part]
    sizes, lags = [], []
    frequency = 2.17 if stroke == "wall" else 0.0
    for name in names:
        z = swim.height(name)[part]
        z = z - np.polyval(np.polyfit(seconds, z, 2 if stroke == "wall" else 0), seconds)
        sizes.append(float(np.std(z)))
        if frequency:
            lags.append(float(np.angle(np.sum(z * np.exp(-2j * np.pi * frequency * seconds)))))
    assert sizes == sorted(sizes)
    if frequency:
        # Later toward the feet: the phase falls from joint to joint.
        steps = np.mod(-np.diff(lags), 2 * np.pi)
        assert (steps < np.pi).all()


def waist_bend_deg(swim: Swum) -> np.ndarray:
    """How far the chest is bent back against the hips, degrees; negative where it is rounded."""
    j = swim.joints
    up, low = j["neck"] - j["waist"], j["waist"] - j["pelvis"]
    turn = np.arctan2(up[:, 2], up[:, 0]) - np.arctan2(low[:, 2], low[:, 0])
    return np.asarray(np.degrees(turn), np.float64)


def test_the_trunk_bends_at_the_waist_as_the_wave_passes() -> None:
    """Butterfly and dolphin kicks to and fro, breaststroke hollow as the chest comes up; flat in
    the strokes on an axis. 10 to 30 degrees to either side in butterfly (own choice).
    """
    fly = waist_bend_deg(swum("butterfly"))
    assert -30 < fly.min() < -10
    assert 10 < fly.max() < 30
    wall = swum("wall")
    kicks = [s for s, side in wall.plan.beats if side == "both"]
    dolphin = waist_bend_deg(wall)[wall.between(kicks[0], kicks[-1])]
    assert dolphin.min() < -4
    assert dolphin.max() > 4
    breast = swum("breaststroke")
    bend = waist_bend_deg(breast)
    lifted = breast.height("neck") - breast.height("pelvis")
    assert bend.min() > -1
    assert bend[np.argmax(lifted)] > 10
    assert bend[np.argmin(lifted)] < 3
    for flat in ("freestyle", "backstroke"):
        assert np.abs(waist_bend_deg(swum(flat))).max() < 1e-6


def test_the_waist_does_what_the_neck_did_and_the_pelvis_will_do() -> None:
    """Of a plain wave with one amplitude the waist is the same wave, half of the way later."""
    t, lag = np.linspace(0, 3, 400), 0.12

    def wave(s: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        return 0.1 * np.cos(9 * s), 0.1 * np.cos(9 * (s - lag))

    neck, pelvis = wave(t)
    waist = 0.5 * (neck + pelvis) + body.bowed(wave, lag, t)
    assert waist == pytest.approx(0.1 * np.cos(9 * (t - lag / 2)))


def test_dolphins_off_the_wall_have_the_published_rhythm_and_size() -> None:
    """2 to 3 kicks a second; 0.45 to 0.6 m at the toes."""
    swim = swum("wall")
    kicks = [s for s, side in swim.plan.beats if side == "both"]
    assert 2 <= 1 / np.median(np.diff(kicks)) <= 3
    part = swim.between(kicks[0], kicks[1])
    toes = swim.height("left_toe")[part]
    assert 0.4 <= np.ptp(toes) <= 0.65


def test_the_first_pull_off_the_wall_begins_near_the_surface() -> None:
    swim = swum("wall")
    first = min(c.at["press"] for cycles in swim.plan.arms.values() for c in cycles)
    n = round(first * FPS)
    assert swim.height("neck")[n] > -0.22
    trunk = swim.joints["neck"][n] - swim.joints["pelvis"][n]
    assert np.degrees(np.arctan2(trunk[2], trunk[0])) < 15


def test_the_hips_of_butterfly_rise_with_each_of_the_two_kicks() -> None:
    swim = swum("butterfly")
    hips = swim.height("pelvis")
    for c in swim.whole("both"):
        span = c["end"] - c["entry"]
        first = hips[swim.between(c["entry"], c["entry"] + 0.25 * span)].max()
        between = hips[swim.between(c["catch"], c["shoulder"])].min()
        second = hips[swim.between(c["exit"] - 0.1 * span, c["exit"] + 0.1 * span)].max()
        assert first > between + 0.04
        assert second > between + 0.04


@pytest.mark.parametrize(
    ("stroke", "least", "most"),
    [("freestyle", 0, 0.01), ("backstroke", 0, 0.01), ("breaststroke", 0.28, 0.45),
     ("butterfly", 0.12, 0.30)],
)  # fmt: skip
def test_the_body_goes_quicker_and_slower_within_a_cycle(
    stroke: str, least: float, most: float
) -> None:
    """Standard deviation over mean: 30 to 45 % in breaststroke, 15 to 30 % in butterfly."""
    for pace in PACES[stroke]:
        swim = swum(stroke, pace)
        speed = np.gradient(swim.travelled, swim.t)
        whole = swim.between(swim.whole("left")[0]["end"], swim.whole("left")[-1]["end"])
        assert speed[whole].mean() == pytest.approx(swim.speed, rel=0.03)
        assert least <= speed[whole].std() / speed[whole].mean() <= most
        assert speed[whole].min() > 0.1
        if stroke == "breaststroke":
            legs = [leg for leg in swim.plan.legs if leg.heels > 1 and leg.close < SECONDS - 1]
            slow = [speed[round(leg.set * FPS)] for leg in legs]
            quick = [speed[round(leg.close * FPS)] for leg in legs]
            assert max(slow) < 0.6 * swim.speed
            assert min(quick) > 1.2 * swim.speed


def test_the_surface_beside_the_face_lies_lower_the_faster_the_swim() -> None:
    """v^2 / 2g is the height of stagnation: 11.5 cm at 1.5 m/s."""
    assert surface.trough_m(1.5) == pytest.approx(0.45 * 0.1147, rel=1e-3)
    behind = np.linspace(-0.5, 1.5, 401)
    heights = surface.height_m(behind, 1.5)
    assert behind[int(np.argmin(heights))] == pytest.approx(0.22, abs=0.02)
    assert behind[int(np.argmax(heights))] < 0
    assert abs(heights[-1]) < 1e-3
