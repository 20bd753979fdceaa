"""Backstroke: on the back, arms straight over the water, bent beside the body under it."""

from __future__ import annotations

import numpy as np

from norvik.model import body
from norvik.model.body import Build, Key, Pose, Seconds
from norvik.model.schedule import ArmCycle, Schedule
from norvik.model.strokes.freestyle import roll_swing

DEPTH_M = 0.14


def pose(plan: Schedule, build: Build, t: Seconds) -> Pose:
    d = build.dial
    joints: Pose = {}
    # The side whose hand enters sinks, as in freestyle.
    roll = np.deg2rad(build.roll_deg - 32 * d("back-little-roll")) * roll_swing(plan, t)
    pitch = np.deg2rad(3 + 15 * d("back-legs-low") + 7 * d("back-head-up")) + 0 * t
    body.trunk(joints, build, pitch, roll, body.stack(0, 0, -DEPTH_M, t.size), 0 * t)
    body.head(joints, build, np.deg2rad(4 + 38 * d("back-head-up")) + 0 * t, 0 * t, up=1)
    for side, sign in body.SIDES:
        keys = [k for c in plan.arms[side] for k in arm_keys(c, build)]
        body.arm(joints, build, side, sign, keys, t)
    size = build.kick_m * (1 + 1.5 * d("back-kick-big"))
    body.beating_legs(
        joints, build, pitch + np.deg2rad(29 * d("back-feet-deep") - 3 * d("back-knees")), plan.beats, t, size,
        knees=1 + 1.9 * d("back-knees"), up=1,
    )  # fmt: skip
    return joints


def arm_keys(c: ArmCycle, build: Build) -> list[Key]:
    d = build.dial
    cross, thumb_first = d("back-cross"), d("back-thumb-entry")
    little = (0.0, 1.0 - 2.0 * thumb_first, 0.6 - 1.0 * thumb_first)
    at, late = c.at, d("back-late-hold")
    return [
        Key(at["entry"], (0.96, 0.10 - 0.45 * cross, 0.14), (0, 0.8, -0.6), (1, 0, -0.1), little),
        Key(at["catch"], (0.86, 0.28 - 0.3 * cross, -0.34), (0.1, 0.5, -0.85), (0.9, 0.3, -0.3)),
        Key(at["press"], (0.58 - 0.16 * late, 0.52 - 0.2 * late, -0.42 - 0.3 * late),
            (0.15, 0.25, -0.95), (0.25, 0.95, 0.1)),
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
