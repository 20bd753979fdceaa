"""Backstroke: on the back, arms straight over the water, bent beside the body under it."""

from __future__ import annotations

import numpy as np

from norvik.model import body, legs, proportions
from norvik.model.body import Build, Key, Pose, Seconds, Vector
from norvik.model.schedule import ArmCycle, Schedule, sides_swapped
from norvik.model.speed import swum_speed
from norvik.model.strokes.freestyle import roll_swing, touching

DEPTH_M = 0.075
#: Radians by which the legs point down behind the trunk, so that the toes reach the surface.
REST = -0.02
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
        keys: list[Key] = []
        for c in plan.arms[side]:
            ends = np.array([c.at["entry"], c.at["exit"]])
            depths = DEPTH_M - sign * np.sin(most * roll_swing(plan, ends)) * half
            keys += arm_keys(c, build, speed, float(depths[0]), float(depths[1]))
        body.arm(joints, build, side, sign, keys, t)
    size = legs.kick_m(build) * (1 + 0.75 * d("back-kick-big"))
    legs.kicking_legs(
        joints, build, pitch + REST + np.deg2rad(24 * d("back-feet-deep")), plan.beats, t, size,
        knees=1 + 1.2 * d("back-knees"), up=1,
    )  # fmt: skip
    return joints


def arm_keys(
    c: ArmCycle, build: Build, speed_m_s: float, depth_m: float, exit_depth_m: float
) -> list[Key]:
    """As in freestyle: still in the water at the press, just touching it at the entry."""
    d = build.dial
    cross, thumb_first = d("back-cross"), d("back-thumb-entry")
    little = (0.0, 1.0 - 2.0 * thumb_first, 0.6 - 1.0 * thumb_first)
    at, late = c.at, d("back-late-hold")
    straight: Vector = (1.0, 0.0, -0.1)
    # The thumb leaves first: the wrist just under the surface, the arm straight.
    reach = (proportions.UPPER_ARM + proportions.FOREARM) * build.height_m
    leaving = float(np.clip((exit_depth_m - 0.05) / reach, -0.3, 0.3))
    return [
        Key(at["entry"], (0.93, 0.05 - 0.42 * cross, touching(depth_m, straight, build)),
            (0, 0.8, -0.6), straight, little),
        Key(at["catch"], (0.86, 0.28 - 0.3 * cross, -0.34), (0.1, 0.5, -0.85), (0.9, 0.3, -0.3)),
        Key(at["press"], (0.76 - 0.16 * late, 0.38 - 0.1 * late, -0.30 - 0.3 * late),
            (0.15, 0.25, -0.95), (0.25, 0.95, 0.1), hand_m_s=-speed_m_s),
        Key(at["shoulder"], (0.0, 0.66, -0.24), (0.1, 0.1, -1.0), (-0.05, 1.0, 0.15)),
        Key(at["shoulder"] + 0.55 * (at["exit"] - at["shoulder"]), (-0.55, 0.44, -0.46),
            (0.1, 0.5, -0.85), (-0.7, 0.5, -0.4)),
        Key(at["exit"], (-0.94, 0.14, leaving), (0, 0.8, -0.5), (-1, 0, -0.1), (0, -0.3, 1)),
        *_over_the_water(c, leaving, touching(depth_m, straight, build), cross, little),
    ]  # fmt: skip


def _over_the_water(
    c: ArmCycle, leaving: float, landing: float, cross: float, little: Vector
) -> list[Key]:
    """The straight arm from exit to the next entry, on a circle round the shoulder.

    leaving, landing: height of the wrist at both ends, in arm lengths.
    """
    start, end = np.arctan2(leaving, -0.94), np.arctan2(landing, 0.93)
    start = start if start > 0 else start + 2 * np.pi
    keys = []
    for share in (0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875):
        angle = start + (end - start) * share
        ahead, up = float(np.cos(angle)), float(np.sin(angle))
        aside = 0.14 - 0.06 * share - 0.3 * cross * max(0.0, 2 * share - 1)
        thumb: Vector = (
            (0.7, -0.2, 0.7) if share < 0.4 else (0.4, 0.9, 0.0) if share < 0.6 else little
        )
        keys.append(
            Key(c.at["exit"] + share * (c.end - c.at["exit"]), (ahead, aside, up),
                (0.3, 0.9, 0.0), (ahead, 0.0, up), thumb)
        )  # fmt: skip
    return keys
