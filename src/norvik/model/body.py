"""From the instants of a stroke to joints: limbs of fixed length, moved along smooth paths.

x forward, y to the swimmer's left, z up; metres. The water's surface is z = 0; x is measured in a
frame that moves with the swimmer.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from norvik.model import proportions as p

Points = NDArray[np.float64]
Seconds = NDArray[np.float64]
#: Joint name to positions, shape (frames, 3). "face" is the direction in which the face looks.
Pose = dict[str, Points]
Vector = tuple[float, float, float]
SIDES = (("left", 1.0), ("right", -1.0))


@dataclass(frozen=True, slots=True)
class Build:
    """The body and its habits. dials: fault id to amount 0..1.

    metres_per_cycle: how far one cycle carries; None where it follows the height (see speed.py).
    """

    height_m: float = 1.78
    roll_deg: float = 42.0
    kick_m: float = 0.16
    metres_per_cycle: float | None = None
    dials: dict[str, float] = field(default_factory=dict)

    def dial(self, fault: str) -> float:
        return self.dials.get(fault, 0.0)


@dataclass(frozen=True, slots=True)
class Key:
    """Where an arm is at an instant.

    wrist from shoulder in lengths of the bent arm: forward, outward, up. pole: where the elbow
    points. fingers: where they point. thumb: where it points; all as forward, outward, up.
    hand_m_s: metres a second at which the middle of the hand moves forward past the shoulder at
    this instant; None where the neighbouring keys give it.
    """

    time_s: float
    wrist: Vector
    pole: Vector
    fingers: Vector
    thumb: Vector = (0.0, -1.0, 0.0)
    hand_m_s: float | None = None


def unit(vectors: Points) -> Points:
    return vectors / np.maximum(1e-9, np.linalg.norm(vectors, axis=1, keepdims=True))


def stack(x: object, y: object, z: object, n: int) -> Points:
    """Three numbers or series of n as points, shape (n, 3)."""
    return np.stack([np.broadcast_to(np.asarray(v, float), n) for v in (x, y, z)], axis=1)


def trunk(
    joints: Pose, build: Build, pitch: Seconds, roll: Seconds, neck: Points, sway: Seconds
) -> None:
    """Neck, pelvis, shoulders and hips.

    pitch: radians by which the trunk rises from hips to neck. roll: radians, positive lifts the
    left side. sway: metres by which the hips lie to the left.
    """
    h, n = build.height_m, pitch.size
    back = stack(-np.cos(pitch), 0.0, -np.sin(pitch), n)
    hips = neck + back * p.TRUNK * h
    hips[:, 1] += sway
    joints["neck"], joints["pelvis"] = neck, hips
    for side, sign in SIDES:
        for joint, centre, half, share in (
            ("shoulder", neck, p.SHOULDER_HALF_WIDTH, 1.0),
            ("hip", hips, p.HIP_HALF_WIDTH, 0.75),
        ):
            across = stack(0.0, np.cos(roll * share), np.sin(roll * share), n) * sign
            joints[f"{side}_{joint}"] = centre + across * half * h


def head(joints: Pose, build: Build, lift: Seconds, turn: Seconds, up: float) -> None:
    """Crown and face. lift: radians by which the crown rises. turn: radians to the right.

    up: -1 face down, +1 face up.
    """
    n = lift.size
    axis = stack(np.cos(lift), 0.0, np.sin(lift), n)
    joints["crown"] = joints["neck"] + axis * p.NECK_TO_CROWN * build.height_m
    # The face looks square to the head's axis, and turns about it.
    below = stack(-np.sin(lift), 0.0, np.cos(lift), n) * up
    side = stack(0.0, -1.0, 0.0, n)
    look = below * np.cos(turn)[:, None] + side * np.sin(turn)[:, None] + 0.42 * axis
    joints["face"] = unit(look)


def arm(
    joints: Pose, build: Build, side: str, sign: float, keys: Sequence[Key], t: Seconds
) -> None:
    """Wrist along its path, elbow by the two lengths, hand beyond."""
    h = build.height_m
    upper, fore = p.UPPER_ARM * h, p.FOREARM * h
    reach = upper + fore
    rows = np.array([[*k.wrist, *k.pole, *k.fingers, *k.thumb] for k in keys])
    rows[:, [1, 4, 7, 10]] *= sign
    times = np.array([k.time_s for k in keys])
    slopes = np.gradient(rows, times, axis=0)
    for n, key in enumerate(keys):
        if key.hand_m_s is not None:
            # The fingers turn meanwhile: the wrist goes slower or faster than the hand's middle.
            length = float(np.linalg.norm(rows[n, 6:9]))
            fingers = rows[n, 6:9] / length
            turning = (slopes[n, 6] - fingers[0] * float(fingers @ slopes[n, 6:9])) / length
            slopes[n, 0] = (key.hand_m_s - 0.5 * p.HAND * h * turning) / reach
    at = through(times, rows, t, slopes)
    shoulder = joints[f"{side}_shoulder"]
    to_wrist = at[:, 0:3] * reach
    distance = np.linalg.norm(to_wrist, axis=1, keepdims=True)
    to_wrist = to_wrist * np.clip(0.995 * reach / np.maximum(distance, 1e-9), None, 1.0)
    shortest = 0.30 * reach
    to_wrist = to_wrist * np.maximum(1.0, shortest / np.maximum(distance, 1e-9))
    wrist = shoulder + to_wrist
    joints[f"{side}_wrist"] = wrist
    joints[f"{side}_elbow"] = bend(shoulder, to_wrist, at[:, 3:6], upper, fore)
    fingers = unit(at[:, 6:9])
    joints[f"{side}_fingertip"] = wrist + fingers * p.HAND * h
    thumb = unit(at[:, 9:12] + 0.5 * fingers)
    joints[f"{side}_thumb"] = wrist + fingers * p.HAND * h * 0.25 + thumb * p.HAND * h * 0.42


def bend(start: Points, to_end: Points, pole: Points, upper: float, lower: float) -> Points:
    """The joint between two bones of fixed length, bent toward the pole."""
    distance = np.linalg.norm(to_end, axis=1, keepdims=True)
    along = to_end / np.maximum(distance, 1e-9)
    reach = (distance**2 + upper**2 - lower**2) / (2 * distance)
    height = np.sqrt(np.maximum(upper**2 - reach**2, 0.0))
    side = unit(pole - along * np.sum(pole * along, axis=1, keepdims=True))
    return start + along * reach + side * height


def beating_legs(
    joints: Pose,
    build: Build,
    pitch: Seconds,
    beats: Sequence[tuple[float, str]],
    t: Seconds,
    size_m: float | Seconds,
    knees: float | Seconds = 1.0,
    up: float = -1.0,
    spread: Seconds | None = None,
) -> None:
    """Flutter or dolphin: each ankle is lowest at its beats, the knee bends ahead of them.

    size_m: travel of the ankle. knees: how much of it comes from the knees. up: -1 face down, +1
    on the back (the knees bend the other way). spread: radians by which the legs part.
    """
    h, face = build.height_m, -up
    for side, sign in SIDES:
        own = sorted(time_s for time_s, s in beats if s in (side, "both"))
        swing_, ahead = _leg_swing(own, t)
        width = size_m / ((p.THIGH + p.SHANK) * h)
        thigh = pitch - 0.55 * swing_ * width + 0.04 * face
        shank = thigh - (0.08 + 0.85 * width * knees * (1 + ahead)) * face
        foot = shank + (0.25 + 0.35 * width * swing_) * face
        apart = np.zeros_like(t) if spread is None else spread * sign
        joint = joints[f"{side}_hip"]
        for name, angle, length in (
            ("knee", thigh, p.THIGH),
            ("ankle", shank, p.SHANK),
            ("toe", foot, p.FOOT * 0.8),
        ):
            step = stack(-np.cos(angle) * np.cos(apart), np.sin(apart), -np.sin(angle), t.size)
            joint = joint + unit(step) * length * h
            joints[f"{side}_{name}"] = joint


def _leg_swing(beats: Sequence[float], t: Seconds) -> tuple[Seconds, Seconds]:
    """Height of an ankle, -1 at its beats and +1 between, and the same a quarter beat later."""
    if len(beats) < 2:
        return np.zeros_like(t), np.zeros_like(t)
    keys: list[tuple[float, float]] = []
    for a, b in itertools.pairwise(beats):
        # In a long pause the leg rests in the line instead of rising slowly.
        if b - a > 0.9:
            keys += [(a, -1.0), (a + 0.25, 0.1), (b - 0.25, 0.1)]
        else:
            keys += [(a, -1.0), ((a + b) / 2, 1.0)]
    keys.append((beats[-1], -1.0))
    quarter = float(np.median(np.diff(beats))) / 4
    return swing(keys, t), swing(keys, t + quarter)


def placed_legs(
    joints: Pose, build: Build, keys: Sequence[tuple[float, Vector, Vector, Vector]], t: Seconds
) -> None:
    """Breaststroke: ankles along a path, knees by the two lengths.

    keys: (seconds, ankle from hip in leg lengths, pole of the knee, direction of the toes).
    """
    h = build.height_m
    thigh, shank = p.THIGH * h, p.SHANK * h
    for side, sign in SIDES:
        rows = np.array([[*a, *pole, *toes] for _, a, pole, toes in keys])
        rows[:, [1, 4, 7]] *= sign
        at = through(np.array([k[0] for k in keys]), rows, t)
        hip = joints[f"{side}_hip"]
        to_ankle = at[:, 0:3] * (thigh + shank)
        distance = np.linalg.norm(to_ankle, axis=1, keepdims=True)
        to_ankle = to_ankle * np.minimum(1.0, 0.995 * (thigh + shank) / distance)
        joints[f"{side}_ankle"] = hip + to_ankle
        joints[f"{side}_knee"] = bend(hip, to_ankle, at[:, 3:6], thigh, shank)
        joints[f"{side}_toe"] = joints[f"{side}_ankle"] + unit(at[:, 6:9]) * p.FOOT * h * 0.8


def ease(x: Seconds) -> Seconds:
    return x * x * (3 - 2 * x)


def swing(keys: Sequence[tuple[float, float]], t: Seconds) -> Seconds:
    """From extreme to extreme, at rest in each."""
    at = np.array([k[0] for k in keys])
    values = np.array([k[1] for k in keys])
    n = np.clip(np.searchsorted(at, t) - 1, 0, at.size - 2)
    share = np.clip((t - at[n]) / (at[n + 1] - at[n]), 0, 1)
    return values[n] + (values[n + 1] - values[n]) * ease(share)


def through(at: Seconds, keys: Points, t: Seconds, slopes: Points | None = None) -> Points:
    """A smooth path through keys at uneven times: cubic pieces.

    slopes: change a second at each key; from the neighbours where none are given.
    """
    slopes = np.gradient(keys, at, axis=0) if slopes is None else slopes
    n = np.clip(np.searchsorted(at, t) - 1, 0, at.size - 2)
    span = (at[n + 1] - at[n])[:, None]
    s = np.clip((t - at[n])[:, None] / span, 0, 1)
    a, b = keys[n], keys[n + 1]
    da, db = slopes[n] * span, slopes[n + 1] * span
    return (
        (2 * s**3 - 3 * s**2 + 1) * a
        + (s**3 - 2 * s**2 + s) * da
        + (3 * s**2 - 2 * s**3) * b
        + (s**3 - s**2) * db
    )
