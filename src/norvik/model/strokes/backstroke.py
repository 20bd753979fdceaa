"""Backstroke: on the back, arms straight over the water, bent beside the body under it."""

from __future__ import annotations

import numpy as np

from norvik.model import body, proportions
from norvik.model.body import Build, Key, Pose, Seconds, Vector
from norvik.model.schedule import ArmCycle, Schedule, sides_swapped
from norvik.model.speed import swum_speed
from norvik.model.strokes.freestyle import roll_swing, touching

DEPTH_M = 0.14
_OTHER = {"left": "right", "right": "left"}


def pose(plan: Schedule, build: Build, t: Seconds) -> Pose:
    """On the back the left side lies where the right one lies face down.

    Everything is laid out by where it lies, and named at the end.
    """
    joints = _laid_out(sides_swapped(plan), build, t)
    return {_named(name): points for name, points in joints.items()}


def _named(joint: str) -> str:
    side, _, rest = joint.partition("_")
    return f"{_OTHER[side]}_{rest}" if side in _OTHER else joint


def _laid_out(plan: Schedule, build: Build, t: Seconds) -> Pose:
    d = build.dial
    joints: Pose = {}
    # The side whose hand enters sinks, as in freestyle.
    roll = np.deg2rad(build.roll_deg - 32 * d("back-little-roll")) * roll_swing(plan, t)
    pitch = np.deg2rad(3 + 15 * d("back-legs-low") + 7 * d("back-head-up")) + 0 * t
    body.trunk(joints, build, pitch, roll, body.stack(0, 0, -DEPTH_M, t.size), 0 * t)
    body.head(joints, build, np.deg2rad(4 + 38 * d("back-head-up")) + 0 * t, 0 * t, up=1)
    speed = swum_speed("backstroke", build, plan)
    half = proportions.SHOULDER_HALF_WIDTH * build.height_m
    most = np.deg2rad(build.roll_deg - 32 * d("back-little-roll"))
    for side, sign in body.SIDES:
        entries = np.array([c.at["entry"] for c in plan.arms[side]])
        depths = DEPTH_M - sign * np.sin(most * roll_swing(plan, entries)) * half
        keys = [
            key
            for c, depth in zip(plan.arms[side], depths, strict=True)
            for key in arm_keys(c, build, speed, float(depth))
        ]
        body.arm(joints, build, side, sign, keys, t)
    size = build.kick_m * (1 + 1.5 * d("back-kick-big"))
    body.beating_legs(
        joints, build, pitch + np.deg2rad(29 * d("back-feet-deep") - 3 * d("back-knees")), plan.beats, t, size,
        knees=1 + 2.4 * d("back-knees"), up=1,
    )  # fmt: skip
    return joints


def arm_keys(c: ArmCycle, build: Build, speed_m_s: float, depth_m: float) -> list[Key]:
    """As in freestyle: still in the water at the press, just touching it at the entry."""
    d = build.dial
    cross, thumb_first = d("back-cross"), d("back-thumb-entry")
    little = (0.0, 1.0 - 2.0 * thumb_first, 0.6 - 1.0 * thumb_first)
    at, late = c.at, d("back-late-hold")
    straight: Vector = (1.0, 0.0, -0.1)
    return [
        Key(at["entry"], (0.93, 0.10 - 0.45 * cross, touching(depth_m, straight, build)),
            (0, 0.8, -0.6), straight, little),
        Key(at["catch"], (0.86, 0.28 - 0.3 * cross, -0.34), (0.1, 0.5, -0.85), (0.9, 0.3, -0.3)),
        Key(at["press"], (0.76 - 0.16 * late, 0.38 - 0.1 * late, -0.30 - 0.3 * late),
            (0.15, 0.25, -0.95), (0.25, 0.95, 0.1), hand_m_s=-speed_m_s),
        Key(at["shoulder"], (0.02, 0.60, -0.36), (0.1, 0.1, -1.0), (-0.05, 1.0, 0.15)),
        Key(at["shoulder"] + 0.55 * (at["exit"] - at["shoulder"]), (-0.55, 0.44, -0.46),
            (0.1, 0.5, -0.85), (-0.7, 0.5, -0.4)),
        Key(at["exit"], (-0.94, 0.14, -0.10), (0, 0.8, -0.5), (-1, 0, -0.1), (0, -0.3, 1)),
        Key(at["exit"] + 0.25 * (c.end - at["exit"]), (-0.68, 0.14, 0.70), (0.3, 0.8, -0.3),
            (-0.7, 0, 0.7), (0.7, -0.2, 0.7)),
        Key(at["exit"] + 0.5 * (c.end - at["exit"]), (0.02, 0.12, 0.99), (0.3, 0.9, 0), (0, 0, 1),
            (0.4, 0.9, 0)),
        Key(at["exit"] + 0.75 * (c.end - at["exit"]), (0.70, 0.10 - 0.2 * cross, 0.70), (0.3, 0.9, 0),
            (0.7, 0, 0.7), little),
    ]  # fmt: skip
