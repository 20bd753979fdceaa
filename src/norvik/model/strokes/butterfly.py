"""Butterfly: both arms together, the body in a wave, two kicks a cycle."""

from __future__ import annotations

import numpy as np

from norvik.model import body
from norvik.model.body import Build, Key, Pose, Seconds
from norvik.model.schedule import ArmCycle, Schedule
from norvik.model.strokes.freestyle import breath_amount

DEPTH_M = 0.16


def pose(plan: Schedule, build: Build, t: Seconds) -> Pose:
    d = build.dial
    joints: Pose = {}
    cycles = plan.arms["both"]
    press, dive = 9 - 15 * d("fly-no-press"), 12 * d("fly-dive")
    wave: list[tuple[float, float]] = []
    rise: list[tuple[float, float]] = []
    for c in cycles:
        span = c.end - c.at["entry"]
        wave += [
            (c.at["entry"] + 0.10 * span, -press - dive),
            (c.at["exit"], 13 + 12 * d("fly-high")),
        ]
        rise += [(c.at["entry"] + 0.12 * span, -0.05 - 0.06 * d("fly-dive")), (c.at["exit"], 0.05)]
    pitch = np.deg2rad(body.swing(wave, t))
    heave = body.swing(rise, t)
    neck = body.stack(0.0, 0.0, -DEPTH_M + heave, t.size)
    body.trunk(joints, build, pitch, 0 * t, neck, 0 * t)
    breath = breath_amount(plan.breaths, t)
    body.head(joints, build, pitch * 0.4 + np.deg2rad(4) + breath * np.deg2rad(42), 0 * t, up=-1)
    keys = [k for c in cycles for k in arm_keys(c, build)]
    for side, sign in body.SIDES:
        body.arm(joints, build, side, sign, keys, t)
    # The hips ride as high as the chest sinks: the legs hang from the wave.
    one_way = 1 - 0.6 * d("fly-one-way-kick")
    body.beating_legs(
        joints, build, 0.35 * pitch + np.deg2rad(3), plan.beats, t, 0.34 * one_way, knees=0.42
    )
    return joints


def arm_keys(c: ArmCycle, build: Build) -> list[Key]:
    d = build.dial
    at, wide, low = c.at, d("fly-wide"), d("fly-elbows-low")
    down = d("fly-palm-down")
    dive = d("fly-dive")
    inward = (0.0, -1.0, 0.0)
    # Little finger up on leaving; a flat palm shows as a thumb that points inward.
    leaving = (0.0, -0.2 - 0.8 * down, -1.0 + 1.0 * down)
    return [
        Key(at["entry"], (0.90 - 0.1 * dive, 0.20 + 0.25 * wide, 0.06 - 0.25 * dive), (0, 0.7, 0.7),
            (0.96, 0.05, -0.25 - 0.5 * dive), inward),
        Key(at["catch"], (0.90, 0.36 + 0.25 * wide, -0.10 - 0.3 * dive), (0.2, 0.8, 0.6 - 1.2 * low),
            (0.95, 0.1, -0.3), inward),
        Key(at["press"], (0.56, 0.34 + 0.35 * wide, -0.54), (0.45 - 0.8 * low, 0.8, 0.4 - 1.2 * low),
            (0.2 + 0.5 * low, -0.1, -0.97), inward),
        Key(at["shoulder"], (0.04, 0.04 + 0.45 * wide, -0.78), (0.2, 0.97, 0.2), (-0.1, -0.2, -0.97),
            inward),
        Key(at["shoulder"] + 0.55 * (at["exit"] - at["shoulder"]), (-0.50, 0.12 + 0.3 * wide, -0.58),
            (-0.1, 0.9, 0.4), (-0.4, 0.1, -0.9), inward),
        Key(at["exit"], (-0.80, 0.26 + 0.2 * wide, -0.02), (-0.1, 0.7, 0.7), (-0.9, 0.35, -0.2), leaving),
        Key(at["exit"] + 0.5 * (c.end - at["exit"]), (0.05, 0.97, 0.16 + 0.16 * d("fly-high")),
            (-0.3, 0.4, 0.9), (0.1, 1.0, -0.1), (0.2, 0.0, -1.0)),
    ]  # fmt: skip
