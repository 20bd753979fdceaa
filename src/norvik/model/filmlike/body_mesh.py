"""The closed body over the joints: trunk, arms with hands and fingers, legs with feet, head.

Sizes are of a club swimmer of 1.78 m in metres (own choice), and go with the height.
"""

from __future__ import annotations

import numpy as np

from norvik.core.strokes.names import Side
from norvik.model.body import SIDES, Pose
from norvik.model.filmlike.head_mesh import head_mesh
from norvik.model.filmlike.tube import Mesh, Points, bent_line, carried, tangents, tube, unit
from norvik.model.trunk import spine_line

#: Along an arm: -1 inside the trunk, 0 shoulder, 1 elbow, 2 wrist; half width and thickness.
_ARM = np.array([
    (-0.95, 0.020, 0.024), (-0.80, 0.050, 0.052), (-0.45, 0.062, 0.064), (-0.15, 0.064, 0.066),
    (0.06, 0.061, 0.063), (0.20, 0.057, 0.059), (0.38, 0.051, 0.053), (0.58, 0.046, 0.049),
    (0.78, 0.042, 0.044), (0.92, 0.041, 0.040), (1.00, 0.041, 0.039), (1.08, 0.043, 0.039),
    (1.22, 0.047, 0.041), (1.40, 0.044, 0.038), (1.62, 0.037, 0.031), (1.82, 0.031, 0.025),
    (1.95, 0.029, 0.021), (2.03, 0.028, 0.019), (2.06, 0.010, 0.008),
])  # fmt: skip
#: A palm from wrist to knuckles as shares of the hand.
_PALM = np.array([
    (-0.08, 0.012, 0.010), (-0.04, 0.027, 0.019), (0.00, 0.029, 0.020), (0.14, 0.034, 0.017),
    (0.30, 0.040, 0.0150), (0.44, 0.0415, 0.0135), (0.54, 0.040, 0.0115), (0.60, 0.030, 0.006),
])  # fmt: skip
#: Fingers: how far across the palm they begin, length and half thickness as shares of the hand.
_FINGERS = ((0.72, 0.40, 0.045), (0.25, 0.46, 0.047), (-0.24, 0.43, 0.045), (-0.70, 0.33, 0.039))
#: Along a leg: 0 hip, 1 knee, 2 ankle; half width and thickness, and how far the flesh lies behind
#: the bone.
_LEG = np.array([
    (-0.14, 0.060, 0.070, 0.000), (0.00, 0.086, 0.092, 0.004), (0.14, 0.086, 0.093, 0.006),
    (0.36, 0.078, 0.084, 0.004), (0.62, 0.066, 0.070, 0.000), (0.86, 0.056, 0.058, -0.002),
    (1.00, 0.053, 0.055, -0.004), (1.12, 0.052, 0.054, 0.004), (1.30, 0.055, 0.060, 0.016),
    (1.48, 0.050, 0.054, 0.014), (1.70, 0.039, 0.042, 0.006), (1.90, 0.032, 0.036, 0.002),
    (2.02, 0.032, 0.037, 0.000), (2.08, 0.020, 0.022, 0.000),
])  # fmt: skip
#: Along a foot from behind the heel to the toes as shares of its length; half width, thickness.
_FOOT = np.array([
    (-0.26, 0.014, 0.016), (-0.22, 0.028, 0.030), (-0.08, 0.032, 0.036), (0.12, 0.033, 0.036),
    (0.40, 0.038, 0.028), (0.70, 0.043, 0.021), (0.90, 0.040, 0.014), (1.00, 0.030, 0.009),
    (1.03, 0.010, 0.004),
])  # fmt: skip
#: Up to this height a head is larger for the body, by so much for each metre less (own choice,
#: after usual shares of the head in the height: about 1/8 grown, 1/6.5 at eight years).
_GROWN_M, _CHILD = 1.60, 0.45
#: The trunk from the seat up: share of the way from pelvis to neck, half width, half thickness,
#: and how far the middle lies toward the back.
_TRUNK = np.array([
    (-0.20, 0.060, 0.050, 0.004), (-0.14, 0.118, 0.086, 0.010), (-0.04, 0.160, 0.104, 0.014),
    (0.08, 0.166, 0.106, 0.012), (0.20, 0.158, 0.098, 0.004), (0.32, 0.143, 0.092, -0.006),
    (0.44, 0.140, 0.093, -0.008), (0.56, 0.153, 0.102, -0.004), (0.68, 0.170, 0.112, 0.002),
    (0.80, 0.186, 0.112, 0.006), (0.90, 0.194, 0.098, 0.010), (0.97, 0.186, 0.078, 0.012),
    (1.03, 0.140, 0.066, 0.010), (1.09, 0.086, 0.062, 0.006), (1.16, 0.064, 0.062, 0.000),
    (1.30, 0.058, 0.062, 0.000), (1.42, 0.054, 0.058, 0.004),
])  # fmt: skip


def body_mesh(pose: Pose, n: int, height_m: float, girth: float = 1.0) -> list[Mesh]:
    """The body of frame n. girth: thickness of trunk and limbs against the usual."""
    size = height_m / 1.78
    joints = {name: points[n] for name, points in pose.items()}
    # Children have large heads for their height.
    head = size * (1 + _CHILD * max(0.0, _GROWN_M - height_m))
    found = [_trunk(joints, size, girth), *head_mesh(joints, head)]
    for side, sign in SIDES:
        found += _arm(joints, side, size, girth)
        found += _leg(joints, side, sign, size, girth)
    return found


def _trunk(j: dict[str, Points], size: float, girth: float) -> Mesh:
    pelvis, neck, crown = j["pelvis"], j["neck"], j["crown"]
    hips = unit(j["left_hip"] - j["right_hip"])
    shoulders = unit(j["left_shoulder"] - j["right_shoulder"])
    share, half, thick, behind = _TRUNK.T
    # Above the shoulders the line goes on to the head.
    along = neck - pelvis
    length = float(np.linalg.norm(along))
    throat = (share - 1) * length
    line = spine_line(pelvis, j["waist"], neck)
    straight = np.array([line(float(s)) for s in share])
    to_head = neck + throat[:, None] * unit(crown - neck)
    bent = np.clip((share - 0.98) / 0.2, 0, 1)[:, None]
    centres = straight * (1 - bent) + to_head * bent
    turn = np.clip(share, 0, 1)[:, None]
    across = unit((1 - turn) * hips + turn * shoulders)
    back = np.cross(tangents(centres), across)
    back = back * np.sign(-float(back[4] @ _belly(j)) or 1.0)
    centres = centres + behind[:, None] * size * back
    return tube("trunk", centres, across, half * size * girth, thick * size * girth, 36, 0.86)


def _belly(j: dict[str, Points]) -> Points:
    """Where the belly points: that of a face that looks straight ahead of the body."""
    along = unit(j["neck"] - j["pelvis"])
    across = j["left_shoulder"] - j["right_shoulder"]
    return unit(np.cross(across, along))


def _arm(j: dict[str, Points], side: Side, size: float, girth: float) -> list[Mesh]:
    shoulder, elbow, wrist, tip, thumb = (
        j[f"{side}_{k}"] for k in ("shoulder", "elbow", "wrist", "fingertip", "thumb")
    )
    fingers = tip - wrist
    hand = float(np.linalg.norm(fingers))
    out = fingers / hand
    palm = unit((thumb - wrist) - out * float((thumb - wrist) @ out))
    share, half, thick = _ARM.T
    # The arm begins inside the trunk, a little below the shoulder.
    inside = shoulder + 0.50 * (j["neck"] - shoulder) - 0.10 * (j["neck"] - j["pelvis"])
    centres = bent_line([inside, shoulder, elbow, wrist], share + 1, 0.24)
    t = tangents(centres)
    # Across at the wrist is where the thumb is; up the arm it goes along without twisting.
    across = carried(t[::-1], palm)[::-1]
    grown = size * (1 + (girth - 1) * np.clip(2.2 - share, 0, 1))
    arm = tube("arm", centres, across, half * grown, thick * grown, 20, along=t)
    share, half, thick = _PALM.T
    centres = wrist + share[:, None] * fingers
    sides = np.repeat(palm[None], len(share), axis=0)
    found = [arm, tube("hand", centres, sides, half * size, thick * size, 16, 0.8,
                       v=(0.0, 0.5))]  # fmt: skip
    back = np.cross(out, palm)
    for place, long, thin in _FINGERS:
        root = wrist + 0.52 * fingers + palm * place * 0.040 * size
        way = unit(out + 0.10 * place * palm)
        found.append(_finger(root, way, long * hand, thin * hand, palm, back, side))
    root = wrist + 0.14 * fingers + palm * 0.022 * size
    way = unit(thumb - root)
    found.append(_finger(root, way, 1.05 * float(np.linalg.norm(thumb - root)), 0.056 * hand, back,
                         palm, side))  # fmt: skip
    return found


def _finger(
    root: Points, way: Points, long: float, thin: float, across: Points, back: Points, side: Side
) -> Mesh:
    """A finger, a little curled toward the palm."""
    share = np.array([0.0, 0.3, 0.62, 0.88, 0.97, 1.0])
    size = np.array([1.0, 0.96, 0.9, 0.76, 0.5, 0.15]) * thin
    curl = 0.05 * (1.0 if side == "left" else -1.0) * long * share**2
    centres = root + (share * long)[:, None] * way + curl[:, None] * back
    return tube("hand", centres, np.repeat(across[None], 6, axis=0), size, size * 0.9, 8,
                v=(0.5, 1.0))  # fmt: skip


def _leg(j: dict[str, Points], side: Side, sign: float, size: float, girth: float) -> list[Mesh]:
    hip, knee, ankle, toe = (j[f"{side}_{k}"] for k in ("hip", "knee", "ankle", "toe"))
    across = unit(j["left_hip"] - j["right_hip"])
    share, half, thick, behind = _LEG.T
    centres = bent_line([hip, knee, ankle], share, 0.2)
    centres[0] = hip + 0.3 * (j["pelvis"] - hip) + 0.10 * (hip - knee)
    t = tangents(centres)
    sides = carried(t, across)
    back = np.cross(sides, t)
    # The calf lies where the knee bends to, and behind a straight leg.
    calf = _behind_the_knee(hip, knee, ankle, back[6])
    centres = centres + (behind * size)[:, None] * back * calf
    grown = size * (1 + (girth - 1) * np.clip(2.2 - share, 0, 1))
    leg = tube("leg", centres, sides, half * grown, thick * grown, 22, along=t)
    share, half, thick = _FOOT.T
    foot = toe - ankle
    down = unit(np.cross(sides[-1], unit(foot)))
    down = down * np.sign(float(down @ (ankle - knee)) or 1.0)
    sole = ankle + 0.016 * size * down
    centres = sole + share[:, None] * foot * 1.12
    return [leg, tube("foot", centres, np.repeat(sides[-1][None], len(share), axis=0),
                      half * size, thick * size, 16, 0.9)]  # fmt: skip


def _behind_the_knee(hip: Points, knee: Points, ankle: Points, back: Points) -> float:
    """1 where `back` points to the hollow of the knee, else -1."""
    bend = unit(hip - knee) + unit(ankle - knee)
    towards = float(bend @ back)
    return 1.0 if towards >= -0.02 else -1.0
