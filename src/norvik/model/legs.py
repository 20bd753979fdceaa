"""Legs: the flutter and the dolphin kick, and the ankles' path of breaststroke.

A kick begins at the hip. The thigh goes down first; the knee, bent by then, opens in a whip, and
the foot follows last. On the way up the leg is long.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import numpy as np

from norvik.model import proportions as p
from norvik.model.body import (
    SIDES,
    Build,
    Pose,
    Seconds,
    Vector,
    bend,
    ease,
    level_slopes,
    stack,
    through,
    unit,
)

#: Share of a kick by which the thigh is lowest before the ankle is; 0.10 to 0.15 of a kick from
#: joint to joint down the leg is usual of skilled kickers (recalled, not looked up).
_THIGH_LEADS = 0.13
#: The knee bends from here on and is open again there, as shares of a kick from its lowest point.
_KNEE_FROM, _KNEE_TO = 0.24, 0.97
#: A kick takes no longer than this, seconds; in a longer pause the leg rests in the line.
_LONGEST_S = 0.9


def kick_m(build: Build) -> float:
    """Travel of the ankle of this body's flutter kick, metres: shorter legs kick less far."""
    return build.kick_m * build.height_m / 1.78


def kicking_legs(
    joints: Pose,
    build: Build,
    rest: Seconds,
    beats: Sequence[tuple[float, str]],
    t: Seconds,
    size_m: float | Seconds,
    knees: float | Seconds = 1.0,
    up: float = -1.0,
    spread: float | Seconds = 0.0,
    together_m: float = 0.10,
) -> None:
    """Flutter or dolphin: each ankle is lowest at its beats.

    rest: radians by which the legs point down behind the hips. size_m: travel of the ankle. knees:
    bend of the knee against the usual. up: -1 face down, +1 on the back (the knee bends the other
    way). spread: radians by which the legs part beyond their usual place. together_m: how far the
    ankles lie apart, side by side.
    """
    h, face = build.height_m, -up
    leg = (p.THIGH + p.SHANK) * h
    inward = np.arcsin((p.HIP_HALF_WIDTH * h - together_m / 2) / leg)
    width = size_m / leg
    for side, sign in SIDES:
        phase, strength = _phase([s for s, who in beats if who in (side, "both")], t)
        thigh_swing, knee_bend, whip = _kick(phase, face)
        thigh = rest + strength * width * thigh_swing
        shank = thigh - face * (0.06 + strength * width * knees * knee_bend)
        foot = shank + face * (0.42 - strength * np.minimum(width, 0.7) * whip)
        across = (spread - inward) * sign * np.ones_like(t)
        joint = joints[f"{side}_hip"]
        for name, angle, length in (
            ("knee", thigh, p.THIGH),
            ("ankle", shank, p.SHANK),
            ("toe", foot, p.FOOT * 0.8),
        ):
            step = stack(-np.cos(angle) * np.cos(across), np.sin(across), -np.sin(angle), t.size)
            joint = joint + unit(step) * length * h
            joints[f"{side}_{name}"] = joint


def _kick(phase: Seconds, face: float) -> tuple[Seconds, Seconds, Seconds]:
    """Swing of the thigh (radians down), bend of the knee and whip of the foot, for a travel of 1.

    phase: share of a kick since the ankle was lowest. All are scaled so that the ankle travels the
    length of the leg when they are multiplied by 1.
    """
    shift, scale = _FORM[face]
    thigh, knee, whip = _form(phase + shift, face)
    return thigh * scale, knee * scale, whip


def _form(phase: Seconds, face: float) -> tuple[Seconds, Seconds, Seconds]:
    # On the back the same kick is upside down: its strong half goes up.
    phase = phase if face > 0 else phase + 0.5
    thigh = face * 0.46 * np.cos(2 * np.pi * (phase + _THIGH_LEADS))
    into = np.clip((np.mod(phase, 1.0) - _KNEE_FROM) / (_KNEE_TO - _KNEE_FROM), 0, 1)
    knee = 2.5 * np.sin(np.pi * into) ** 2
    whip = 0.45 * (1 - np.sin(2 * np.pi * (phase + 0.02)))
    return thigh, knee, whip


def _found_form(face: float) -> tuple[float, float]:
    """(shift of the phase, scale) by which the ankle is lowest at phase 0 and travels 1."""
    phase = np.arange(0, 1, 1 / 2000)
    thigh, knee, _ = _form(phase, face)
    part = p.SHANK / (p.THIGH + p.SHANK)
    depth = thigh - part * face * knee
    return float(phase[int(np.argmax(depth))]), 1 / float(np.ptp(depth))


_FORM = {face: _found_form(face) for face in (1.0, -1.0)}


def _phase(beats: Sequence[float], t: Seconds) -> tuple[Seconds, Seconds]:
    """Share of a kick since the last beat, and how strong the kick is: less in a pause."""
    own = sorted(beats)
    if len(own) < 2:
        return np.zeros_like(t), np.zeros_like(t)
    phase, strength = np.zeros_like(t), np.ones_like(t)
    usual = min(float(np.median(np.diff(own))), _LONGEST_S)
    for a, b in itertools.pairwise([own[0] - usual, *own, own[-1] + usual]):
        inside = (t >= a) & (t < b)
        since, until = t[inside] - a, b - t[inside]
        if b - a <= _LONGEST_S:
            phase[inside] = since / (b - a)
            continue
        # The end of one kick and the beginning of the next; between them the leg rests.
        half = 0.5 * min(usual, 0.55)
        phase[inside] = np.where(since < until, np.minimum(since / half, 1) * 0.5,
                                 1 - np.minimum(until / half, 1) * 0.5)  # fmt: skip
        near = np.minimum(since, until)
        strength[inside] = 1 - 0.9 * ease(np.clip((near - 0.5 * half) / half, 0, 1))
    return phase, strength


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
        times = np.array([k[0] for k in keys])
        # Ankles that come together stay so: a path that overshoots would cross the feet.
        at = through(times, rows, t, level_slopes(times, rows))
        hip = joints[f"{side}_hip"]
        to_ankle = at[:, 0:3] * (thigh + shank)
        distance = np.linalg.norm(to_ankle, axis=1, keepdims=True)
        to_ankle = to_ankle * np.minimum(1.0, 0.999 * (thigh + shank) / distance)
        joints[f"{side}_ankle"] = hip + to_ankle
        joints[f"{side}_knee"] = bend(hip, to_ankle, at[:, 3:6], thigh, shank)
        joints[f"{side}_toe"] = joints[f"{side}_ankle"] + unit(at[:, 6:9]) * p.FOOT * h * 0.8
