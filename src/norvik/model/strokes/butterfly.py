"""Butterfly: both arms together, the body in a wave, two kicks a cycle."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from norvik.model import body, breath, legs
from norvik.model.body import Build, Key, Pose, Seconds, Vector
from norvik.model.schedule import ArmCycle, Schedule
from norvik.model.speed import swum_speed

#: Radians by which the legs point down behind the hips.
REST = 0.24
#: Travel of the ankles at a height of 1.78 m, metres; published 0.45 to 0.6 at the toes (recalled,
#: not looked up).
KICK_M = 0.40
#: Share of a cycle that the wave takes from the chest to the hips (own choice).
WAVE_LAG = 0.16


def pose(plan: Schedule, build: Build, t: Seconds) -> Pose:
    d = build.dial
    joints: Pose = {}
    cycles = plan.arms["both"]
    neck_m, pelvis_m = wave(cycles, build, t)
    span = float(np.median([c.end - c.at["entry"] for c in cycles]))
    bow = body.bowed(lambda s: wave(cycles, build, s), WAVE_LAG * span, t)
    pitch = body.spine(joints, build, neck_m, pelvis_m, 0 * t, 0 * t, bow)
    base = pitch * 0.4 + np.deg2rad(2)
    body.head(joints, build, base + _lift(plan, build, neck_m, base, t), 0 * t, up=-1)
    keys = [k for c in cycles for k in arm_keys(c, build)]
    for side, sign in body.SIDES:
        body.arm(joints, build, side, sign, keys, t)
    one_way = 1 - 0.6 * d("fly-one-way-kick")
    size = KICK_M * build.height_m / 1.78 * one_way
    legs.kicking_legs(joints, build, REST + 0 * t, plan.beats, t, size)
    return joints


def _lift(plan: Schedule, build: Build, neck_m: Seconds, base: Seconds, t: Seconds) -> Seconds:
    """Radians by which the head is lifted to breathe beyond where the trunk carries it."""
    speed = swum_speed("butterfly", build, plan)

    def needed(at_s: float, clear_m: float) -> float:
        neck, there = (float(np.interp(at_s, t, x)) for x in (neck_m, base))
        return max(np.deg2rad(4), breath.lifted(build, neck, speed, clear_m) - there)

    values = []
    for b in plan.breaths:
        out, down = (needed(s, breath.PASSING_M) for s in (b.air, b.down))
        middle = needed(0.5 * (b.air + b.down), breath.CLEAR_M)
        values.append((out, max(middle, out + np.deg2rad(8), down), down))
    return breath.through_breaths(plan.breaths, values, t)


def wave(cycles: Sequence[ArmCycle], build: Build, t: Seconds) -> tuple[Seconds, Seconds]:
    """Heights of neck and pelvis over the pool's level, metres.

    The chest sinks as the hands land and rises clear as they leave. The hips come up with each of
    the two kicks, later and less for the second one: the wave runs from the head to the feet.
    """
    d, size = build.dial, build.height_m / 1.78
    flat, dive, high = d("fly-no-press"), d("fly-dive"), d("fly-high")
    neck: list[tuple[float, float]] = []
    pelvis: list[tuple[float, float]] = []
    for c in cycles:
        at, span, over = c.at, c.end - c.at["entry"], c.end - c.at["exit"]
        neck += [
            (at["entry"] + 0.12 * span, -0.18 + 0.13 * flat - 0.10 * dive),
            (at["shoulder"], -0.09 + 0.06 * high),
            (at["exit"] + 0.22 * over, 0.035 + 0.10 * high),
            (at["exit"] + 0.60 * over, -0.03 + 0.10 * high),
        ]
        pelvis += [
            (at["entry"] + 0.13 * span, -0.055 - 0.05 * flat + 0.02 * dive),
            (at["press"], -0.14),
            (at["exit"] + 0.03 * span, -0.07 - 0.04 * high),
            (at["exit"] + 0.60 * over, -0.13),
        ]
    return body.steady(neck, t) * size, body.steady(pelvis, t) * size


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
        Key(at["exit"], (-0.86, 0.30 + 0.2 * wide, -0.02), (-0.1, 0.7, 0.7), (-0.9, 0.35, -0.2), leaving),
        *_over_the_water(c, build),
    ]  # fmt: skip


def _over_the_water(c: ArmCycle, build: Build) -> list[Key]:
    """Both arms low and nearly straight round the shoulders, clear of the water all the way."""
    high, over = build.dial("fly-high"), c.end - c.at["exit"]
    low: Vector = (0.1, 0.0, -1.0)
    return [
        Key(c.at["exit"] + 0.15 * over, (-0.70, 0.62, 0.20 + 0.1 * high), (-0.4, 0.3, 0.9), (-0.6, 0.8, 0.1), low),
        Key(c.at["exit"] + 0.32 * over, (-0.40, 0.86, 0.30 + 0.16 * high), (-0.4, 0.3, 0.9), (-0.3, 0.95, 0.0), low),
        Key(c.at["exit"] + 0.50 * over, (0.05, 0.94, 0.30 + 0.16 * high), (-0.3, 0.3, 0.9), (0.1, 1.0, -0.05), low),
        Key(c.at["exit"] + 0.70 * over, (0.55, 0.76, 0.36 + 0.10 * high), (-0.2, 0.4, 0.9), (0.6, 0.8, -0.1), low),
        Key(c.at["exit"] + 0.86 * over, (0.82, 0.44, 0.34), (0.0, 0.6, 0.8), (0.85, 0.4, -0.15), (0.0, -0.7, -0.7)),
    ]  # fmt: skip
