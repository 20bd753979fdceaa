"""Freestyle: the trunk rolls with the arms, the head turns to breathe, the legs flutter."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from norvik.model import body
from norvik.model.body import Build, Key, Pose, Seconds
from norvik.model.schedule import ArmCycle, BreathTimes, Schedule

DEPTH_M = 0.13


def pose(plan: Schedule, build: Build, t: Seconds) -> Pose:
    d = build.dial
    n = t.size
    joints: Pose = {}
    roll = np.deg2rad(roll_deg(build)) * roll_swing(plan, t)
    breathing = breath_amount(plan.breaths, t)
    lifted = breathing * d("head-lift-breath")
    pitch = np.deg2rad(1.5 + 14 * d("legs-low") + 3 * d("head-forward") + 7 * lifted)
    sway = 0.13 * d("snaking") * roll_swing(plan, t)
    body.trunk(joints, build, pitch + 0 * t, roll, body.stack(0, 0, -DEPTH_M, n), sway)
    body.head(
        joints,
        build,
        np.deg2rad(7 + 46 * d("head-forward")) + np.deg2rad(48) * lifted,
        head_turn(plan.breaths, t)
        * (1 - 0.8 * d("head-lift-breath"))
        * (1 + 0.5 * d("over-turn-breath")),
        up=-1,
    )
    for side, sign in body.SIDES:
        keys = [k for c in plan.arms[side] for k in arm_keys(c, build)]
        body.arm(joints, build, side, sign, keys, t)
    spread = 0.28 * d("scissor") * breathing + 0.0 * t
    body.beating_legs(
        joints, build, pitch + 0 * t, plan.beats, t, build.kick_m * (1 + 0.6 * d("kick-knees")),
        knees=1 + 1.6 * d("kick-knees"), spread=spread,
    )  # fmt: skip
    return joints


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
    amount = np.zeros_like(t)
    for b in breaths:
        rise = np.clip((t - b.turn) / (b.air - b.turn), 0, 1)
        fall = np.clip((b.down - t) / 0.25 + 0.35, 0, 1)
        amount = np.maximum(amount, body.ease(np.minimum(rise, fall)))
    return amount


def head_turn(breaths: Sequence[BreathTimes], t: Seconds) -> Seconds:
    """Radians; positive to the right."""
    turn = np.zeros_like(t)
    for side, sign in (("right", 1.0), ("left", -1.0)):
        turn += sign * np.deg2rad(95) * breath_amount([b for b in breaths if b.side == side], t)
    return turn


def arm_keys(c: ArmCycle, build: Build) -> list[Key]:
    """One cycle of one arm, forward, outward, up in arm lengths."""
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
        keys += [
            Key(at["entry"], (0.80 - 0.38 * close, 0.02 - 0.42 * cross, 0.12 - 0.04 * close),
                (0.0, 0.6, 0.8), (0.93, 0.0, -0.36 - 0.7 * close), thumb),
            Key(at["catch"], (0.985 - 0.14 * low, 0.04 - 0.40 * cross, -0.10 - 0.46 * low),
                (0.2, 0.7, 0.7 - 1.3 * dropped), (0.98, 0.0, -0.20 + 0.75 * brake - 0.5 * low), thumb),
        ]  # fmt: skip
    keys += [
        Key(at["press"], (0.60 + 0.16 * straight + 0.08 * dropped, 0.10 - 0.25 * cross, -0.58),
            (0.45 - 0.9 * dropped, 0.75, 0.5 * (1 - straight) - 1.5 * dropped),
            (0.20 + 0.55 * dropped, 0.0, -0.98), inward),
        Key(at["shoulder"], (0.02, -0.02 + 0.72 * d("pull-wide") + 0.1 * straight - 0.3 * d("pull-across"),
                             -0.80 - 0.175 * straight + 0.12 * dropped + 0.25 * d("pull-wide")),
            (0.2 - 0.9 * dropped, 0.95, 0.25 - 0.7 * dropped), (-0.10, 0.0, -1.0), inward),
        Key(at["shoulder"] + 0.55 * (at["exit"] - at["shoulder"]), (-0.52 + 0.2 * short, 0.08, -0.66),
            (-0.2, 0.9, 0.4), (-0.35, 0.0, -0.94), inward),
        Key(at["exit"], (-0.83 + 0.45 * short, 0.12 - 0.35 * d("exit-over-back"), -0.08),
            (-0.1, 0.7, 0.7), (-0.95, 0.0, -0.30), (0.0, -0.4, -1.0)),
        Key(at["exit"] + 0.52 * (c.end - at["exit"]),
            (0.02, 0.34 + 0.5 * wide + 0.35 * swing_low, 0.16 + 0.62 * high - 0.06 * swing_low),
            (-0.35, 0.5 + 0.6 * high, 1.0 - 0.9 * high - 0.6 * swing_low),
            (0.45, 0.1 + 0.5 * high, -0.89 + 1.2 * high), inward),
    ]  # fmt: skip
    return keys
