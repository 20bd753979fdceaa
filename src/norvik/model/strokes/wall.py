"""Off the wall: streamline, dolphins, flutter kicks, breakout, then freestyle."""

from __future__ import annotations

import numpy as np

from norvik.model import body, legs, proportions
from norvik.model.body import Build, Key, Pose, Seconds
from norvik.model.schedule import PUSH_S, Schedule
from norvik.model.speed import swum_speed
from norvik.model.strokes import freestyle

#: Depth of the neck in the glide, metres, and of a dolphin kick's wave at neck and pelvis (half of
#: its height): it grows from head to toe (recalled of published undulation, not looked up).
DEEP_M, NECK_WAVE_M, PELVIS_WAVE_M = 0.70, 0.02, 0.05
#: Travel of the ankles in a dolphin kick at a height of 1.78 m, metres.
DOLPHIN_M = 0.40
#: The body is up this long before the first hand leaves the water, seconds.
_UP_BEFORE_S = 0.30


def pose(plan: Schedule, build: Build, t: Seconds) -> Pose:
    d = build.dial
    joints: Pose = {}
    breakout = plan.wall("breakout")
    # Steeper than this is a leap out of the water.
    steep = min(1.0, d("wall-steep"))
    climb_s = 1.9 - 1.45 * steep
    # How far the body has come up: 0 deep, 1 swimming at the surface.
    up = body.ease(np.clip((t - breakout + _UP_BEFORE_S * (1 - steep) + climb_s) / climb_s, 0, 1))
    depth = DEEP_M + (freestyle.DEPTH_M - DEEP_M) * up
    roll = np.deg2rad(freestyle.roll_deg(build)) * freestyle.roll_swing(plan, t) * up
    climbing = np.gradient(-depth, t) / np.maximum(0.6, speed(plan, t))
    line = np.arctan(climbing) * 0.9 + np.deg2rad(3.0) * up
    neck_wave, pelvis_wave = undulation(plan, build, t)
    pelvis = -depth - np.sin(line) * proportions.TRUNK * build.height_m + pelvis_wave
    bow = body.bowed(lambda s: undulation(plan, build, s), wave_lag_s(plan), t)
    pitch = body.spine(joints, build, -depth + neck_wave, pelvis, roll, 0 * t, bow)
    early = d("wall-head-up") * (1 - up)
    turn = freestyle.head_turn(plan, build, swum_speed("wall", build, plan), t)
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
    large = DOLPHIN_M * build.height_m / 1.78 * (1 + 0.8 * d("wall-kick-wide"))
    size = large + (legs.kick_m(build) - large) * kicking
    knees = 1.0 + 1.5 * d("wall-knees")
    rest = line + 0.10 * (1 - kicking) + freestyle.REST * kicking
    legs.kicking_legs(joints, build, rest, plan.beats, t, size, knees=knees)
    still = np.clip((t - PUSH_S - 0.2) / 0.4, 0, 1)
    _straight_until(joints, build, pitch, still)
    return joints


def wave_lag_s(plan: Schedule) -> float:
    """Seconds that the wave of the dolphin kicks takes from the neck to the pelvis."""
    beats = [time_s for time_s, side in plan.beats if side == "both"]
    return 0.25 * float(np.median(np.diff(beats))) if len(beats) > 1 else 0.0


def undulation(plan: Schedule, build: Build, t: Seconds) -> tuple[Seconds, Seconds]:
    """Rise of neck and pelvis in the dolphin kicks, metres.

    The pelvis is highest just after the feet are lowest; the neck was a quarter of a kick before.
    """
    beats = [time_s for time_s, side in plan.beats if side == "both"]
    if len(beats) < 2:
        return 0 * t, 0 * t
    period = float(np.median(np.diff(beats)))
    phase = 2 * np.pi * (t - beats[0]) / period
    begins = np.clip((t - beats[0] + period) / (0.8 * period), 0, 1)
    ends = np.clip((beats[-1] + 0.6 * period - t) / (0.6 * period), 0, 1)
    strength = body.ease(begins) * body.ease(ends) * build.height_m / 1.78
    return (
        NECK_WAVE_M * strength * np.cos(phase + 2 * np.pi * 0.12),
        PELVIS_WAVE_M * strength * np.cos(phase - 2 * np.pi * 0.13),
    )


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
