"""Breaststroke: arms sweep out and in and shoot, heels rise and the legs whip together."""

from __future__ import annotations

import numpy as np

from norvik.model import body, breath, legs
from norvik.model.body import Build, Key, Pose, Seconds, Vector
from norvik.model.schedule import ArmCycle, LegCycle, Schedule
from norvik.model.speed import swum_speed

#: Height of the neck over the pool's level in the glide at a height of 1.78 m, metres, and how much
#: higher than where the mouth passes the surface it comes.
LOW_M, HIGHER_M = -0.17, 0.045
#: Degrees of the head: as the mouth comes out, and as the face goes in.
OUT_DEG, IN_DEG = 23.5, 19.0
#: Metres by which the small of the back sinks as the chest is lifted, for a chest that is upright
#: (own choice).
HOLLOW_M = 0.09


def pose(plan: Schedule, build: Build, t: Seconds) -> Pose:
    d = build.dial
    joints: Pose = {}
    cycles = plan.arms["both"]
    upright, dive, bob = d("breast-upright"), d("breast-dive"), d("breast-head-bob")
    look = d("breast-early-look")
    speed = swum_speed("breaststroke", build, plan)
    passing = [
        breath.needed_m(speed, breath.PASSING_M)
        - float(breath.mouth_m(build, np.deg2rad([lift]), np.zeros(1))[0])
        for lift in (OUT_DEG, IN_DEG)
    ]
    tilt: list[tuple[float, float]] = []
    rise: list[tuple[float, float]] = []
    nod: list[tuple[float, float]] = []
    for c in cycles:
        out, shoot, long = c.at["out"], c.at["shoot"], c.at["long"]
        air, down = _breath(plan, c)
        top = 0.5 * (air + down)
        under = long + 0.25 * (c.end - long)
        size = build.height_m / 1.78
        rise += [
            (out, (LOW_M - 0.07 * dive) * size),
            (air, passing[0]),
            (top, max(passing) + (HIGHER_M + 0.05 * upright) * size),
            (down, passing[1]),
            (under, (LOW_M - 0.08 * dive) * size),
        ]
        tilt += [(out, 1.0 - 8 * dive), (air, 15.0), (top, 22 + 16 * upright), (down, 14.0),
                 (long, 1.0 - 10 * dive + 8 * upright)]  # fmt: skip
        early = look * 0.9 * (c.at["in"] - out)
        nod += [(out + 0.3 * (c.at["in"] - out) - early, 2.0), (air - early, OUT_DEG - 7.5 + 22 * look),
                (shoot - early, 14 + 34 * bob + 22 * look), (down, IN_DEG - 7.0), (long, -4.0)]  # fmt: skip
    pitch = np.deg2rad(body.steady(tilt, t))
    neck = body.stack(0.0, 0.0, body.steady(rise, t), t.size)
    hollow = -HOLLOW_M * build.height_m / 1.78 * np.sin(np.clip(pitch, 0, None))
    body.trunk(joints, build, pitch, 0 * t, neck, 0 * t, hollow)
    body.head(joints, build, pitch * 0.5 + np.deg2rad(body.steady(nod, t)), 0 * t, up=-1)
    keys = [k for c in cycles for k in arm_keys(c, build)]
    for side, sign in body.SIDES:
        body.arm(joints, build, side, sign, keys, t)
    legs.placed_legs(joints, build, [k for leg in plan.legs for k in leg_keys(leg, build)], t)
    return joints


def _breath(plan: Schedule, c: ArmCycle) -> tuple[float, float]:
    """Mouth out and face in of a cycle; its usual instants where the swimmer does not breathe."""
    out, shoot, long = c.at["out"], c.at["shoot"], c.at["long"]
    mine = next((b for b in plan.breaths if out <= b.air < c.end), None)
    if mine is None:
        return 0.5 * (c.at["in"] + shoot), shoot + 0.4 * (long - shoot)
    return mine.air, mine.down


def arm_keys(c: ArmCycle, build: Build) -> list[Key]:
    d = build.dial
    at, flat = c.at, d("breast-flat-forearms")
    dive = d("breast-dive")
    inward = (0.0, -1.0, 0.0)
    sweep = at["in"] + 0.5 * (at["shoot"] - at["in"])
    return [
        Key(at["out"], (0.985, -0.06, 0.02 - 0.30 * dive), (0, 0.8, 0.5), (1, 0, -0.05 - 0.3 * dive), (0, -0.7, -0.7)),
        Key(at["in"], (0.66, 0.52, -0.20 - 0.06 * flat), (0.5, 0.5, 0.8 - 1.6 * flat),
            (0.5 + 0.3 * flat, 0.1, -0.85 + 0.9 * flat), inward),
        Key(sweep, (0.50, 0.30, -0.46 + 0.30 * flat), (0.35, 0.9, 0.35), (0.4, -0.4, -0.8 + 0.7 * flat), inward),
        Key(at["shoot"], (0.42, -0.12, -0.26), (-0.1, 0.7, -0.7), (0.9, -0.1, 0.1), (0, -0.5, 0.8)),
        Key(at["shoot"] + 0.5 * (at["long"] - at["shoot"]), (0.74, -0.10, -0.10 - 0.18 * dive), (0, 0.7, -0.6),
            (1, 0, 0.0 - 0.3 * dive), (0, -0.7, 0.4)),
        Key(at["long"], (0.98, -0.07, 0.02 - 0.46 * dive), (0, 0.8, -0.2), (1, 0, -0.05 - 0.3 * dive), (0, -0.8, 0.0)),
    ]  # fmt: skip


def leg_keys(leg: LegCycle, build: Build) -> list[tuple[float, Vector, Vector, Vector]]:
    d = build.dial
    wide, lead, out = d("breast-knees-wide"), d("breast-knees-lead"), d("breast-kick-out")
    back: Vector = (-1.0, 0.0, -0.15)
    return [
        (leg.heels, (-0.996, -0.045, -0.04), (0.2, 0.3, -1.0), back),
        (leg.heels + 0.6 * (leg.set - leg.heels), (-0.62 + 0.08 * lead, 0.14 + 0.15 * wide, 0.02),
         (0.3 + 0.6 * lead, 0.25 + 1.4 * wide, -1.0), back),
        (leg.set, (-0.36, 0.33 + 0.14 * wide, 0.06), (0.2 + 0.8 * lead, -0.2 + 1.9 * wide, -1.0),
         (-0.3, 0.9, -0.3)),
        (leg.set + 0.45 * (leg.close - leg.set), (-0.70 + 0.16 * out, 0.50 + 0.22 * out, -0.04),
         (0.1, 0.6 + wide, -0.8), (-0.5, 0.8, -0.4)),
        (leg.close, (-0.996, -0.045, -0.06), (0.1, 0.4, -1.0), (-0.97, 0.0, -0.24)),
    ]  # fmt: skip
