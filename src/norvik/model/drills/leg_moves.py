"""The legs of a drill: kicks of three kinds, and legs bent joint by joint on land and at walls."""

from __future__ import annotations

import numpy as np

from norvik.model import body, legs
from norvik.model import proportions as p
from norvik.model.body import Pose, Seconds
from norvik.model.drills.course import Course, raised
from norvik.model.drills.motion import Bent, Frog
from norvik.model.strokes import backstroke, breaststroke, butterfly, freestyle

#: Dolphin kicks: travel of the ankles at a height of 1.78 m, metres.
_DOLPHIN_M = 0.36
#: How much of the trunk's roll the hips and legs go along with.
_HIPS_ROLL = 0.65


def move_legs(course: Course, joints: Pose) -> None:
    """Knees, ankles and toes to a trunk that is there."""
    wanted = course.motion.legs
    if isinstance(wanted, Bent):
        _bent(course, joints, wanted)
        return
    if isinstance(wanted, Frog):
        _frog(course, joints, wanted)
        return
    t = course.t
    dolphin = wanted.kind in ("dolphin", "with-arms")
    usual = _DOLPHIN_M if dolphin else course.build.kick_m
    size = usual * wanted.size * course.build.height_m / 1.78
    pelvis, pitch = joints["pelvis"], _pitch(joints)
    if wanted.rest is not None:
        rest = pitch + np.deg2rad(course.track(wanted.rest))
    elif course.on_back:
        rest = pitch + backstroke.REST
    elif wanted.kind == "with-arms":
        rest = butterfly.REST + 0 * t
    elif dolphin and course.waved:
        rest = 0.5 * pitch + 0.14
    else:
        rest = pitch + (0.10 if dolphin else freestyle.REST) * np.cos(pitch)
    hips = {side: joints[f"{side}_hip"] for side, _ in body.SIDES}
    level = p.HIP_HALF_WIDTH * course.build.height_m
    for side, sign in body.SIDES:
        joints[f"{side}_hip"] = pelvis + body.stack(0.0, sign * level, 0.0, t.size)
    legs.kicking_legs(
        joints, course.build, rest, course.beats(), t, size, knees=wanted.knees, up=course.up,
        spread=np.deg2rad(wanted.spread), together_m=wanted.together_m,
    )  # fmt: skip
    _roll_legs(course, joints)
    joints.update({f"{side}_hip": hip for side, hip in hips.items()})


def _frog(course: Course, joints: Pose, wanted: Frog) -> None:
    t = course.t
    keys = [key for leg in course.leg_cycles() for key in breaststroke.leg_keys(leg, course.build)]
    keys = [(s, (a, b if b < 0 else b * wanted.width, c), (d, e * wanted.width, f), toes)
            for s, (a, b, c), (d, e, f), toes in keys]  # fmt: skip
    pitch = _pitch(joints)

    def lies(s: float) -> float:
        return float(np.interp(s if course.motion.once else s % course.seconds, t, pitch))

    turned = [(s, *(raised(v, lies(s)) for v in rest)) for s, *rest in keys]
    legs.placed_legs(joints, course.build, turned, t)  # type: ignore[arg-type]


def _pitch(joints: Pose) -> Seconds:
    """Radians by which the trunk rises from hips to neck."""
    along = joints["neck"] - joints["pelvis"]
    return np.asarray(np.arctan2(along[:, 2], along[:, 0]), np.float64)


def _roll_legs(course: Course, joints: Pose) -> None:
    """Legs turn about the long axis with the hips."""
    roll = np.deg2rad(course.roll_deg(course.t)) * _HIPS_ROLL
    pelvis, sine, cosine = joints["pelvis"], np.sin(roll), np.cos(roll)
    for side, _ in body.SIDES:
        for name in ("hip", "knee", "ankle", "toe"):
            away = joints[f"{side}_{name}"] - pelvis
            y, z = away[:, 1], away[:, 2]
            joints[f"{side}_{name}"] = pelvis + np.stack(
                [away[:, 0], y * cosine - z * sine, y * sine + z * cosine], axis=1
            )


def _bent(course: Course, joints: Pose, wanted: Bent) -> None:
    h, t, face = course.build.height_m, course.t, -course.up
    pitch = np.deg2rad(course.track(course.motion.pitch))
    out = np.deg2rad(course.track(wanted.out))
    foot_up = np.deg2rad(course.track(wanted.foot))
    for side, sign in body.SIDES:
        other = (side == "left") != course.on_back
        hip = wanted.other_hip if other and wanted.other_hip is not None else wanted.hip
        knee = wanted.other_knee if other and wanted.other_knee is not None else wanted.knee
        thigh = pitch + face * np.deg2rad(course.track(hip))
        shank = thigh - face * np.deg2rad(course.track(knee))
        foot = shank + face * foot_up
        aside = np.arcsin((wanted.apart_m / 2 - p.HIP_HALF_WIDTH * h) / (p.THIGH * h))
        joint = joints[f"{side}_hip"]
        for name, angle, length, across in (
            ("knee", thigh, p.THIGH, aside + 0 * t),
            ("ankle", shank, p.SHANK, 0 * t),
            ("toe", foot, p.FOOT * 0.8, out),
        ):
            step = body.stack(
                -np.cos(angle) * np.cos(across), sign * np.sin(across),
                -np.sin(angle) * np.cos(across), t.size,
            )  # fmt: skip
            joint = joint + step * length * h
            joints[f"{side}_{name}"] = joint
