"""Where every joint is at every instant. x forward, y to the swimmer's left, z up; metres.

The water's surface is z = 0; x is measured in a frame that moves with the swimmer.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from norvik.model import proportions as p
from norvik.model.schedule import ArmCycle, Schedule

Points = NDArray[np.float64]

#: Depth of the trunk's axis under the surface.
DEPTH_M = 0.13


@dataclass(frozen=True, slots=True)
class Build:
    """The body and its habits. legs_low, straight_arm: 0 (none) to 1 (plain to see)."""

    height_m: float = 1.78
    roll_deg: float = 42.0
    kick_m: float = 0.16
    legs_low: float = 0.0
    straight_arm: float = 0.0


#: Joint name to positions, shape (frames, 3). "face" is the direction in which the face looks.
Pose = dict[str, Points]


def pose(schedule: Schedule, build: Build, times_s: NDArray[np.float64]) -> Pose:
    """All joints at the given seconds; each entry has shape (len(times_s), 3)."""
    h = build.height_m
    roll = _roll(schedule, build, times_s)
    n = times_s.size
    zero = np.zeros(n)
    shoulders = np.stack([zero, zero, np.full(n, -DEPTH_M)], axis=1)
    sink = np.deg2rad(2.0 + 15.0 * build.legs_low)
    back = np.array([-np.cos(sink), 0.0, -np.sin(sink)])
    hips = shoulders + back * p.TRUNK * h
    joints: Pose = {"neck": shoulders, "pelvis": hips}
    for side, sign in (("left", 1.0), ("right", -1.0)):
        across = np.stack([zero, np.cos(roll), np.sin(roll)], axis=1) * sign
        shoulder = shoulders + across * p.SHOULDER_HALF_WIDTH * h
        slack = np.stack([zero, np.cos(roll * 0.75), np.sin(roll * 0.75)], axis=1) * sign
        hip = hips + slack * p.HIP_HALF_WIDTH * h
        joints[f"{side}_shoulder"], joints[f"{side}_hip"] = shoulder, hip
        _arm(joints, side, sign, schedule.arms[side], build, times_s)
        _leg(joints, side, back, schedule, build, times_s)
    turn = _head_turn(schedule, times_s)
    forward = np.array([0.96, 0.0, -0.28])
    joints["crown"] = shoulders + np.array([0.985, 0.0, 0.12]) * p.NECK_TO_CROWN * h
    face = np.stack([np.full(n, forward[0] * 0.45), -np.sin(turn), -np.cos(turn) * 0.9], axis=1)
    joints["face"] = face / np.linalg.norm(face, axis=1, keepdims=True)
    return joints


def _roll(schedule: Schedule, build: Build, times_s: NDArray[np.float64]) -> NDArray[np.float64]:
    """Roll of the shoulders in radians; positive lifts the left side, as the right hand reaches."""
    keys = sorted(
        (c.catch, 1.0 if side == "right" else -1.0)
        for side, cycles in schedule.arms.items()
        for c in cycles
    )
    return np.deg2rad(build.roll_deg) * _swing(keys, times_s)


def _head_turn(schedule: Schedule, times_s: NDArray[np.float64]) -> NDArray[np.float64]:
    """Turn of the head in radians; positive to the right."""
    turn = np.zeros(times_s.size)
    for b in schedule.breaths:
        rise = np.clip((times_s - b.turn) / (b.air - b.turn), 0, 1)
        fall = np.clip((b.down - times_s) / 0.25 + 0.35, 0, 1)
        amount = _ease(np.minimum(rise, fall))
        turn += amount * np.deg2rad(95) * (1 if b.side == "right" else -1)
    return turn


def _arm(
    joints: Pose,
    side: str,
    sign: float,
    cycles: list[ArmCycle],
    build: Build,
    times_s: NDArray[np.float64],
) -> None:
    """Wrist along its path, elbow by the two lengths, fingertips by the path, too."""
    h = build.height_m
    upper, fore = p.UPPER_ARM * h, p.FOREARM * h
    reach = upper + fore
    straight = build.straight_arm
    low = -0.80 - 0.16 * straight
    # Wrist from shoulder in arm lengths: forward, outward, up; then the pole of the elbow and
    # the direction of the fingers at the same instants.
    path = {
        "entry": ((0.80, 0.02, 0.12), (0.0, 0.6, 0.8), (0.93, 0.0, -0.36)),
        "catch": ((0.985, 0.04, -0.10), (0.2, 0.7, 0.7), (0.98, 0.0, -0.20)),
        "press": (
            (0.60 + 0.16 * straight, 0.10, -0.58),
            (0.45, 0.75, 0.5 * (1 - straight)),
            (0.20, 0.0, -0.98),
        ),
        "shoulder": ((0.02, -0.08, low), (0.2, 0.95, 0.25), (-0.10, 0.0, -1.0)),
        "push": ((-0.52, 0.08, -0.66), (-0.2, 0.9, 0.4), (-0.35, 0.0, -0.94)),
        "exit": ((-0.83, 0.12, -0.08), (-0.1, 0.7, 0.7), (-0.95, 0.0, -0.30)),
        "swing": ((0.02, 0.34, 0.16), (-0.35, 0.5, 1.0), (0.45, 0.1, -0.89)),
    }
    times: list[float] = []
    names: list[str] = []
    for c in cycles:
        times += [
            c.entry,
            c.catch,
            c.press,
            c.shoulder,
            c.shoulder + 0.55 * (c.exit - c.shoulder),
            c.exit,
            c.exit + 0.52 * (c.next_entry - c.exit),
        ]
        names += ["entry", "catch", "press", "shoulder", "push", "exit", "swing"]
    keys = np.array([np.concatenate(path[name]) for name in names])
    keys[:, [1, 4, 7]] *= sign
    at = _through(np.array(times), keys, times_s)
    shoulder = joints[f"{side}_shoulder"]
    to_wrist = at[:, 0:3] * reach
    distance = np.linalg.norm(to_wrist, axis=1, keepdims=True)
    to_wrist *= np.minimum(1.0, 0.995 * reach / distance)
    joints[f"{side}_wrist"] = shoulder + to_wrist
    joints[f"{side}_elbow"] = _elbow(shoulder, to_wrist, at[:, 3:6], upper, fore)
    fingers = at[:, 6:9] / np.linalg.norm(at[:, 6:9], axis=1, keepdims=True)
    joints[f"{side}_fingertip"] = joints[f"{side}_wrist"] + fingers * p.HAND * h


def _elbow(shoulder: Points, to_wrist: Points, pole: Points, upper: float, fore: float) -> Points:
    """The joint between two bones of fixed length, bent toward the pole."""
    distance = np.linalg.norm(to_wrist, axis=1, keepdims=True)
    along = to_wrist / distance
    reach = (distance**2 + upper**2 - fore**2) / (2 * distance)
    height = np.sqrt(np.maximum(upper**2 - reach**2, 0.0))
    side = pole - along * np.sum(pole * along, axis=1, keepdims=True)
    side /= np.linalg.norm(side, axis=1, keepdims=True)
    return shoulder + along * reach + side * height


def _leg(
    joints: Pose,
    side: str,
    back: Points,
    schedule: Schedule,
    build: Build,
    times_s: NDArray[np.float64],
) -> None:
    """Flutter kick: the ankle is lowest at the beats, the knee bends ahead of them."""
    h = build.height_m
    beats = sorted(t for t, s in schedule.beats if s == side)
    if len(beats) > 1:
        keys = []
        for a, b in itertools.pairwise(beats):
            keys += [(a, -1.0), ((a + b) / 2, 1.0)]
        quarter = (beats[1] - beats[0]) / 4
        swing, ahead = _swing(keys, times_s), _swing(keys, times_s + quarter)
    else:
        swing = ahead = np.zeros(times_s.size)
    width = build.kick_m / (p.THIGH * h + p.SHANK * h)
    thigh_angle = np.arctan2(-back[2], -back[0]) - (0.55 * swing) * width + 0.04
    bend = 0.10 + 0.85 * width * (1 + ahead)
    thigh = np.stack([-np.cos(thigh_angle), np.zeros_like(swing), -np.sin(thigh_angle)], axis=1)
    shank_angle = thigh_angle - bend
    shank = np.stack([-np.cos(shank_angle), np.zeros_like(swing), -np.sin(shank_angle)], axis=1)
    foot_angle = shank_angle + 0.25 + 0.35 * width * swing
    foot = np.stack([-np.cos(foot_angle), np.zeros_like(swing), -np.sin(foot_angle)], axis=1)
    joints[f"{side}_knee"] = joints[f"{side}_hip"] + thigh * p.THIGH * h
    joints[f"{side}_ankle"] = joints[f"{side}_knee"] + shank * p.SHANK * h
    joints[f"{side}_toe"] = joints[f"{side}_ankle"] + foot * p.FOOT * h * 0.8


def _ease(x: NDArray[np.float64]) -> NDArray[np.float64]:
    return x * x * (3 - 2 * x)


def _swing(keys: list[tuple[float, float]], times_s: NDArray[np.float64]) -> NDArray[np.float64]:
    """From extreme to extreme, at rest in each."""
    at = np.array([k[0] for k in keys])
    values = np.array([k[1] for k in keys])
    n = np.clip(np.searchsorted(at, times_s) - 1, 0, at.size - 2)
    share = np.clip((times_s - at[n]) / (at[n + 1] - at[n]), 0, 1)
    return values[n] + (values[n + 1] - values[n]) * _ease(share)


def _through(
    at: NDArray[np.float64], keys: NDArray[np.float64], times_s: NDArray[np.float64]
) -> NDArray[np.float64]:
    """A smooth path through keys at uneven times: cubic pieces, slopes from the neighbours."""
    slopes = np.gradient(keys, at, axis=0)
    n = np.clip(np.searchsorted(at, times_s) - 1, 0, at.size - 2)
    span = (at[n + 1] - at[n])[:, None]
    s = np.clip((times_s - at[n])[:, None] / span, 0, 1)
    a, b = keys[n], keys[n + 1]
    da, db = slopes[n] * span, slopes[n + 1] * span
    return (
        (2 * s**3 - 3 * s**2 + 1) * a
        + (s**3 - 2 * s**2 + s) * da
        + (3 * s**2 - 2 * s**3) * b
        + (s**3 - s**2) * db
    )
