"""From the instants of a stroke to joints: limbs of fixed length, moved along smooth paths.

x forward, y to the swimmer's left, z up; metres. The water's surface is z = 0; x is measured in a
frame that moves with the swimmer.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from norvik.core.strokes.names import Side
from norvik.model import proportions as p
from norvik.model.dialled import dialled

Points = NDArray[np.float64]
Seconds = NDArray[np.float64]
#: Joint name to positions, shape (frames, 3). "face" is the direction in which the face looks.
Pose = dict[str, Points]
Vector = tuple[float, float, float]
#: From the axis of the head to the lips, as a share of height (own choice).
MOUTH = 0.056
SIDES: tuple[tuple[Side, float], ...] = (("left", 1.0), ("right", -1.0))


@dataclass(frozen=True, slots=True)
class Build:
    """The body and its habits.

    dials: fault id to amount 0..1. kick_m: travel of the ankle in a flutter kick, metres at a
    height of 1.78 m; published 0.3 to 0.4 (recalled, not looked up). metres_per_cycle: how far one
    cycle carries; None where it follows the height (see speed.py). girth: thickness of trunk and
    limbs against the usual, in the film-like style.
    """

    height_m: float = 1.78
    roll_deg: float = 52.0
    kick_m: float = 0.30
    metres_per_cycle: float | None = None
    girth: float = 1.0
    dials: dict[str, float] = field(default_factory=dict)

    def dial(self, fault: str) -> float:
        return dialled(self.dials, fault)


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
    joints: Pose, build: Build, pitch: Seconds, roll: Seconds, neck: Points, sway: Seconds,
    bow: Seconds | float = 0.0,
) -> None:  # fmt: skip
    """Neck, waist, pelvis, shoulders and hips.

    pitch: radians by which the trunk rises from hips to neck. roll: radians, positive lifts the
    left side. sway: metres by which the hips lie to the left. bow: metres by which the waist lies
    over the straight line from neck to pelvis.
    """
    h, n = build.height_m, pitch.size
    back = stack(-np.cos(pitch), 0.0, -np.sin(pitch), n)
    hips = neck + back * p.TRUNK * h
    hips[:, 1] += sway
    joints["neck"], joints["pelvis"] = neck, hips
    over = stack(-np.sin(pitch), 0.0, np.cos(pitch), n)
    joints["waist"] = 0.5 * (neck + hips) + over * np.broadcast_to(bow, n)[:, None]
    for side, sign in SIDES:
        for joint, centre, half, share in (
            ("shoulder", neck, p.SHOULDER_HALF_WIDTH, 1.0),
            ("hip", hips, p.HIP_HALF_WIDTH, 0.65),
        ):
            across = stack(0.0, np.cos(roll * share), np.sin(roll * share), n) * sign
            joints[f"{side}_{joint}"] = centre + across * half * h


def spine(
    joints: Pose, build: Build, neck_m: Seconds, pelvis_m: Seconds, roll: Seconds, sway: Seconds,
    bow: Seconds | float = 0.0,
) -> Seconds:  # fmt: skip
    """The trunk between a neck and a pelvis that rise and fall; gives its pitch, radians.

    neck_m, pelvis_m: heights over the level of the pool. bow: see `trunk`.
    """
    length = p.TRUNK * build.height_m
    pitch = np.arcsin(np.clip((neck_m - pelvis_m) / length, -0.9, 0.9))
    trunk(joints, build, pitch, roll, stack(0.0, 0.0, neck_m, neck_m.size), sway, bow)
    return np.asarray(pitch, np.float64)


def bowed(wave: Callable[[Seconds], tuple[Seconds, Seconds]], lag_s: float, t: Seconds) -> Seconds:
    """Metres by which the waist leaves the middle of neck and pelvis as a wave runs through it.

    wave: heights of neck and pelvis at given seconds. lag_s: how long the wave takes from one to
    the other. The waist does what the neck did half of that before, and the pelvis will do after.
    """
    neck, pelvis = wave(t)
    before, after = wave(t - 0.5 * lag_s)[0], wave(t + 0.5 * lag_s)[1]
    return np.asarray(0.5 * (before + after - neck - pelvis), np.float64)


def head(joints: Pose, build: Build, lift: Seconds, turn: Seconds, up: float) -> None:
    """Crown, face and mouth. lift: radians by which the crown rises. turn: radians to the right.

    up: -1 face down, +1 face up.
    """
    n = lift.size
    axis = stack(np.cos(lift), 0.0, np.sin(lift), n)
    joints["crown"] = joints["neck"] + axis * p.NECK_TO_CROWN * build.height_m
    # The face looks square to the head's axis, and turns about it.
    below = stack(-np.sin(lift), 0.0, np.cos(lift), n) * up
    side = stack(0.0, -1.0, 0.0, n)
    look = below * np.cos(turn)[:, None] + side * np.sin(turn)[:, None]
    joints["face"] = unit(look + 0.42 * axis)
    middle = joints["neck"] + axis * 0.5 * p.NECK_TO_CROWN * build.height_m
    joints["mouth"] = middle + look * MOUTH * build.height_m


def arm(
    joints: Pose, build: Build, side: Side, sign: float, keys: Sequence[Key], t: Seconds
) -> None:
    """Wrist along its path, elbow by the two lengths, hand beyond."""
    h = build.height_m
    upper, fore = p.UPPER_ARM * h, p.FOREARM * h
    reach = upper + fore
    rows = np.array([[*k.wrist, *k.pole, *k.fingers, *k.thumb] for k in keys])
    rows[:, [1, 4, 7, 10]] *= sign
    times = np.array([k.time_s for k in keys])
    slopes = np.gradient(rows, times, axis=0)
    carried = np.gradient(joints[f"{side}_shoulder"][:, 0], t) if t.size > 1 else 0 * t
    for n, key in enumerate(keys):
        if key.hand_m_s is not None:
            # The fingers turn meanwhile: the wrist goes slower or faster than the hand's middle.
            length = float(np.linalg.norm(rows[n, 6:9]))
            fingers = rows[n, 6:9] / length
            turning = (slopes[n, 6] - fingers[0] * float(fingers @ slopes[n, 6:9])) / length
            past = key.hand_m_s - float(np.interp(key.time_s, t, carried))
            slopes[n, 0] = (past - 0.5 * p.HAND * h * turning) / reach
    at = through(times, rows, t, slopes)
    shoulder = joints[f"{side}_shoulder"]
    to_wrist = at[:, 0:3] * reach
    distance = np.linalg.norm(to_wrist, axis=1, keepdims=True)
    to_wrist = to_wrist * np.clip(0.999 * reach / np.maximum(distance, 1e-9), None, 1.0)
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


def ease(x: Seconds) -> Seconds:
    return x * x * (3 - 2 * x)


def swing(keys: Sequence[tuple[float, float]], t: Seconds) -> Seconds:
    """From extreme to extreme, at rest in each."""
    at = np.array([k[0] for k in keys])
    values = np.array([k[1] for k in keys])
    n = np.clip(np.searchsorted(at, t) - 1, 0, at.size - 2)
    share = np.clip((t - at[n]) / (at[n + 1] - at[n]), 0, 1)
    return values[n] + (values[n + 1] - values[n]) * ease(share)


def steady(keys: Sequence[tuple[float, float]], t: Seconds) -> Seconds:
    """A smooth path through values at uneven times that never leaves the range of its neighbours.

    At rest in its extremes (monotone cubic of Fritsch and Carlson 1980, SIAM J Numer Anal 17:238).
    """
    at = np.array([k[0] for k in keys])
    values = np.array([[k[1]] for k in keys])
    return through(at, values, t, level_slopes(at, values))[:, 0]


def level_slopes(at: Seconds, keys: Points) -> Points:
    """Slopes at keys that let no piece between two of them overshoot; 0 in the extremes."""
    steps = np.diff(keys, axis=0) / np.diff(at)[:, None]
    before, after = steps[:-1], steps[1:]
    same = before * after > 0
    harmonic = 2 * before * after / np.where(same, before + after, 1.0)
    inner = np.where(same, harmonic, 0.0)
    return np.concatenate([np.zeros_like(keys[:1]), inner, np.zeros_like(keys[:1])])


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
