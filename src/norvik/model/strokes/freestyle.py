"""Freestyle: the trunk rolls with the arms, the head turns to breathe, the legs flutter."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from types import MappingProxyType

import numpy as np

from norvik.core.strokes.names import Side
from norvik.model import body, breath, legs, proportions
from norvik.model.body import Build, Key, Pose, Seconds, Vector
from norvik.model.schedule import ArmCycle, BreathTimes, Schedule
from norvik.model.speed import swum_speed

#: Depth of the neck under the pool's level, metres.
DEPTH_M = 0.055
#: Radians by which the legs point down behind the trunk, so that the kick ends at the surface.
REST = 0.17
#: Metres by which the shoulder goes forward at full reach, at a height of 1.78 m (own choice).
SHRUG_M = 0.05
#: Radians by which the crown rises above the neck.
LIFT = np.deg2rad(4)


def pose(plan: Schedule, build: Build, t: Seconds) -> Pose:
    d = build.dial
    n = t.size
    joints: Pose = {}
    roll = np.deg2rad(roll_deg(build)) * roll_swing(plan, t)
    breathing = breath_amount(plan.breaths, t)
    speed = swum_speed("freestyle", build, plan)
    lifted = breathing * d("head-lift-breath")
    pitch = np.deg2rad(3.0 + 12 * d("legs-low") + 3 * d("head-forward") + 7 * lifted)
    sway = 0.13 * d("snaking") * roll_swing(plan, t)
    body.trunk(joints, build, pitch + 0 * t, roll, body.stack(0, 0, -DEPTH_M, n), sway)
    body.head(
        joints,
        build,
        LIFT + np.deg2rad(46 * d("head-forward")) + np.deg2rad(48) * lifted,
        head_turn(plan, build, speed, t)
        * (1 - 0.8 * d("head-lift-breath"))
        * (1 + 0.5 * d("over-turn-breath")),
        up=-1,
    )
    arms(joints, plan, build, t)
    spread = 0.34 * d("scissor") * breathing + 0.0 * t
    # Knees that bend far take the feet out of the water unless the thighs sink.
    rest = pitch + REST + 0.12 * d("kick-knees") + 0 * t
    legs.kicking_legs(
        joints, build, rest, plan.beats, t, legs.kick_m(build), 1 + 1.6 * d("kick-knees"),
        spread=spread,
    )  # fmt: skip
    return joints


def arms(
    joints: Pose, plan: Schedule, build: Build, t: Seconds, stroke: str = "freestyle",
    before: Mapping[Side, Sequence[Key]] = MappingProxyType({}),
) -> None:  # fmt: skip
    """Both arms through their cycles. before: keys of a side that come ahead of its first cycle."""
    speed = swum_speed(stroke, build, plan)
    for side, sign in body.SIDES:
        reaching = shrug(plan.arms[side], t) * SHRUG_M * build.height_m / 1.78
        joints[f"{side}_shoulder"] = joints[f"{side}_shoulder"] + body.stack(
            reaching, -0.3 * sign * reaching, 0.0, t.size
        )
        starts = np.array([c.at.get("entry", c.at["press"]) for c in plan.arms[side]])
        roll = np.deg2rad(roll_deg(build)) * roll_swing(plan, starts)
        depths = DEPTH_M - sign * np.sin(roll) * proportions.SHOULDER_HALF_WIDTH * build.height_m
        keys = [
            key
            for c, depth in zip(plan.arms[side], depths, strict=True)
            for key in arm_keys(c, build, speed, float(depth))
        ]
        body.arm(joints, build, side, sign, [*before.get(side, ()), *keys], t)


def shrug(cycles: Sequence[ArmCycle], t: Seconds) -> Seconds:
    """How far the shoulder goes along with the hand that reaches: 1 until it pulls, then 0."""
    keys = []
    for c in cycles:
        catch = c.at.get("catch", c.at["press"] - 0.2)
        keys += [
            (catch, 1.0),
            (c.at["press"], 1.0),
            (c.at["shoulder"], 0.0),
            (0.5 * (c.at["exit"] + c.end), 0.0),
        ]
    return body.steady(keys, t)


def touching(depth_m: float, fingers: Vector, build: Build) -> float:
    """Height of the wrist above the shoulder at which the fingertips touch the surface.

    In arm lengths. depth_m: of the shoulder under it.
    """
    h = build.height_m
    lower = fingers[2] / float(np.linalg.norm(fingers)) * proportions.HAND * h
    return (depth_m - lower) / ((proportions.UPPER_ARM + proportions.FOREARM) * h)


def roll_deg(build: Build) -> float:
    return build.roll_deg + 28 * build.dial("over-rotation") - 30 * build.dial("under-rotation")


def roll_swing(plan: Schedule, t: Seconds) -> Seconds:
    """-1..1; positive lifts the left side, as the right hand reaches."""
    keys = sorted(
        (c.at.get("catch", c.at["press"] - 0.2), 1.0 if side == "right" else -1.0)
        for side, cycles in plan.arms.items()
        for c in cycles
    )
    return body.swing(keys, t)


def breath_amount(breaths: Sequence[BreathTimes], t: Seconds) -> Seconds:
    """0 face down, 1 in the air."""
    return np.clip(breath.through_breaths(breaths, [(0.85, 1.0, 0.85)] * len(breaths), t), 0, 1)


def head_turn(plan: Schedule, build: Build, speed_m_s: float, t: Seconds) -> Seconds:
    """Radians; positive to the right. As far as the mouth needs: the trunk's roll and the neck."""
    out, top = breath.turned(build, -DEPTH_M, LIFT, speed_m_s)
    turn = np.zeros_like(t)
    for side, sign in (("right", 1.0), ("left", -1.0)):
        own = [b for b in plan.breaths if b.side == side]
        turn += sign * breath.through_breaths(own, [(out, top, out)] * len(own), t)
    return turn


def arm_keys(c: ArmCycle, build: Build, speed_m_s: float, depth_m: float) -> list[Key]:
    """One cycle of one arm, forward, outward, up in arm lengths.

    speed_m_s: of the swimmer; at the press the hand stands still in the water. depth_m: of the
    shoulder as the hand enters; then the fingertips just touch the surface.
    """
    d = build.dial
    straight, dropped, cross = d("straight-arm"), d("dropped-elbow"), d("crossing")
    low, brake, close = d("reaches-down"), d("brake-hand"), d("entry-close")
    high, wide, short = d("hand-above-elbow"), d("wide-recovery"), d("short-finish")
    swing_low = d("low-swing")
    thumb = (0.0, -1.0 + d("thumb-first"), -1.6 * d("thumb-first"))
    inward = (0.0, -1.0, 0.0)
    at = dict(c.at)
    keys: list[Key] = []
    if "entry" in at:
        slope: Vector = (0.93, 0.0, -0.36 - 0.7 * close)
        landed = (0.80 - 0.60 * close, 0.02 - 0.42 * cross, touching(depth_m, slope, build))
        reached = (0.985 - 0.14 * low, 0.04 - 0.40 * cross, -0.10 - 0.46 * low)
        ahead, aside, up = (0.5 * (a + b) for a, b in zip(landed, reached, strict=True))
        keys += [
            Key(at["entry"], landed, (0.0, 0.6, 0.8), slope, thumb),
            Key(0.55 * at["entry"] + 0.45 * at["catch"], (ahead + 0.08, aside, up),
                (0.1, 0.65, 0.75 - 0.6 * dropped), (0.96, 0.0, -0.26 - 0.3 * close + 0.3 * brake - 0.2 * low), thumb),
            Key(at["catch"], reached,
                (0.2, 0.7, 0.7 - 1.3 * dropped), (0.98, 0.0, -0.20 + 0.75 * brake - 0.5 * low), thumb),
        ]  # fmt: skip
    keys += [
        Key(at["press"], (0.76 + 0.10 * straight, 0.10 - 0.25 * cross, -0.42 - 0.10 * dropped),
            (0.45 - 0.9 * dropped, 0.75, 0.5 * (1 - straight) - 1.5 * dropped),
            (0.20 + 0.55 * dropped, 0.0, -0.98), inward, hand_m_s=-speed_m_s),
        Key(at["shoulder"], (0.02, 0.07 + 0.72 * d("pull-wide") + 0.1 * straight - 0.42 * d("pull-across"),
                             -0.80 - 0.175 * straight + 0.12 * dropped + 0.25 * d("pull-wide")),
            (0.2 - 0.9 * dropped, 0.95, 0.25 - 0.7 * dropped), (-0.10, 0.0, -1.0), inward),
        Key(at["shoulder"] + 0.55 * (at["exit"] - at["shoulder"]), (-0.52 + 0.2 * short, 0.08, -0.66),
            (-0.2, 0.9, 0.4), (-0.35, 0.0, -0.94), inward),
        Key(at["exit"], (-0.83 + 0.45 * short, 0.12 - 0.35 * d("exit-over-back"), -0.08),
            (-0.1, 0.95 - 0.25 * d("exit-over-back"), 0.30 + 0.4 * d("exit-over-back")), (-0.95, 0.0, -0.30), (0.0, -0.4, -1.0)),
        Key(at["exit"] + 0.26 * (c.end - at["exit"]), (-0.50, 0.44 + 0.4 * wide + 0.2 * swing_low, 0.20 + 0.2 * high),
            (-0.3, 0.5 + 0.4 * high, 1.0 - 0.7 * high - 0.5 * swing_low), (-0.45, 0.1 + 0.3 * high, -0.89 + 0.8 * high), inward),
        Key(at["exit"] + 0.52 * (c.end - at["exit"]),
            (0.08, 0.58 + 0.4 * wide + 0.25 * swing_low, 0.22 + 0.46 * high - 0.10 * swing_low - 0.14 * wide),
            (-0.35, 0.5 + 0.6 * high, 1.0 - 0.9 * high - 0.6 * swing_low),
            (0.35, 0.1 + 0.5 * high, -0.93 + 1.2 * high), inward),
        Key(at["exit"] + 0.80 * (c.end - at["exit"]), (0.62, 0.26 + 0.3 * wide - 0.2 * cross, 0.27 + 0.15 * high),
            (-0.1, 0.6 + 0.3 * high, 1.0 - 0.6 * high), (0.80, 0.05, -0.55 + 0.5 * high), inward),
    ]  # fmt: skip
    return keys
