"""Off the wall: streamline, dolphins, flutter kicks, breakout, then freestyle."""

from __future__ import annotations

import numpy as np

from norvik.model import body
from norvik.model.body import Build, Key, Pose, Seconds
from norvik.model.schedule import PUSH_S, Schedule
from norvik.model.strokes import freestyle

DEEP_M = 0.85


def pose(plan: Schedule, build: Build, t: Seconds) -> Pose:
    d = build.dial
    joints: Pose = {}
    breakout = plan.wall("breakout")
    climb_s = 1.5 - 0.9 * d("wall-steep")
    # How far the body has come up: 0 deep, 1 swimming at the surface.
    up = body.ease(np.clip((t - breakout + climb_s) / climb_s, 0, 1))
    depth = DEEP_M + (freestyle.DEPTH_M - DEEP_M) * up
    roll = np.deg2rad(freestyle.roll_deg(build)) * freestyle.roll_swing(plan, t) * up
    climbing = np.gradient(-depth, t) / np.maximum(0.6, speed(plan, t))
    pitch = np.arctan(climbing) * 0.9 + np.deg2rad(1.5) * up
    body.trunk(joints, build, pitch, roll, body.stack(0, 0, -depth, t.size), 0 * t)
    early = d("wall-head-up") * (1 - up)
    turn = freestyle.head_turn(plan.breaths, t)
    body.head(joints, build, pitch + np.deg2rad(4) + np.deg2rad(50) * early, turn, up=-1)
    ahead = {}
    for side, _ in body.SIDES:
        first = plan.arms[side][0].at["press"] - 0.22
        ahead[side] = [
            Key(s, (0.97, -0.16, 0.10), (0.1, 0.7, 0.6), (1.0, -0.05, 0.0))
            for s in (-1.0, 0.0, *np.arange(0.5, first, 0.5), first)
        ]
    freestyle.arms(joints, plan, build, t, "wall", ahead)
    dolphins = [b for b in plan.beats if b[1] == "both"]
    kicking = np.clip((t - (dolphins[-1][0] if dolphins else 0)) / 0.3, 0, 1)
    large = 0.36 * (1 + 1.2 * d("wall-kick-wide"))
    size = large + (build.kick_m - large) * kicking
    knees = 0.42 + 0.58 * kicking + 1.6 * d("wall-knees")
    body.beating_legs(joints, build, pitch, plan.beats, t, size, knees=knees)
    still = np.clip((t - PUSH_S - 0.2) / 0.4, 0, 1)
    _straight_until(joints, build, pitch, still)
    return joints


def speed(plan: Schedule, t: Seconds) -> Seconds:
    """Metres a second: nothing at the wall, quick off it, then slowing to swimming speed."""
    since = t - PUSH_S
    return np.where(since < 0, 0.0, 1.5 + 1.3 * np.exp(-np.maximum(since, 0) / 1.1))


def _straight_until(joints: Pose, build: Build, pitch: Seconds, kicking: Seconds) -> None:
    """Legs in line with the trunk until the first kick, by turning each piece, not stretching it."""
    line = body.stack(-np.cos(pitch), 0.0, -np.sin(pitch), pitch.size)
    share = kicking[:, None]
    for side, _ in body.SIDES:
        start = joints[f"{side}_hip"]
        before = start
        for name in ("knee", "ankle", "toe"):
            piece = joints[f"{side}_{name}"] - before
            length = np.linalg.norm(piece, axis=1, keepdims=True)
            before = joints[f"{side}_{name}"]
            start = start + body.unit(share * body.unit(piece) + (1 - share) * line) * length
            joints[f"{side}_{name}"] = start
