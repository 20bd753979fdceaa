"""The figure as flat shapes, the farthest first: what pages and print draw of a pose.

Every shape is the outline of a convex part of the body: a piece of a limb, a slice of the trunk.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from norvik.core.strokes.names import Side
from norvik.model.body import SIDES, Pose
from norvik.model.figure import RADII
from norvik.model.hand import hand_sections
from norvik.model.kit import Solid
from norvik.model.paint import ball_hull
from norvik.model.trunk import Section, sections

Vector = NDArray[np.float64]
PX_PER_M = 150.0
#: The joints of each limb, in order.
_LIMBS = (("shoulder", "elbow", "wrist"), ("hip", "knee", "ankle", "toe"))
#: From this difference in depth on, metres, the trunk is looked along.
_ALONG_M = 0.3
#: Corners of a round end.
_CORNERS = 14


@dataclass(frozen=True, slots=True)
class Shape:
    """A convex outline in drawing units. tone: near, far, trunk, suit, head, cap, or a kit's."""

    points: tuple[tuple[float, float], ...]
    tone: str


@dataclass(frozen=True, slots=True)
class Bone:
    """A line from joint to joint in drawing units; far: on the side away from the eye."""

    x1: float
    y1: float
    x2: float
    y2: float
    far: bool


def axes(round_deg: float, over_deg: float) -> tuple[Vector, Vector]:
    """Right and down of the picture in the pool, for an eye that went round and over."""
    turn, over = np.deg2rad(round_deg), np.deg2rad(over_deg)
    right = np.array([np.cos(turn), np.sin(turn), 0.0])
    ahead = np.array([-np.sin(turn), np.cos(turn), 0.0])
    down = -np.cos(over) * np.array([0.0, 0.0, 1.0]) - np.sin(over) * ahead
    return right, down


class Eye:
    """From where the figure is seen: right and down of the picture as directions in the pool."""

    def __init__(self, right: Vector, down: Vector) -> None:
        self._to_picture = np.stack([right, down], axis=1) * PX_PER_M
        self._away = np.cross(right, down)

    def flat(self, points: Vector) -> Vector:
        """Drawing units, shape (..., 2), of points of shape (..., 3)."""
        return np.asarray(points @ self._to_picture, np.float64)

    def away(self, points: Vector) -> float:
        """Mean depth of points, metres; more is farther."""
        return float(np.mean(points @ self._away))

    def shape(self, points: Vector, radii_m: Sequence[float], tone: str) -> Shape:
        """The outline round balls. points: shape (n, 3)."""
        hull = ball_hull(self.flat(points), np.array(radii_m) * PX_PER_M, _CORNERS)
        return Shape(tuple((round(float(x), 1), round(float(y), 1)) for x, y in hull), tone)


def shapes(
    joints: Pose, n: int, eye: Eye, height_m: float, kit: Sequence[Solid] = ()
) -> list[Shape]:
    """Frame n of a pose. kit: what the swimmer holds or wears, in the same metres."""
    size = height_m / 1.78
    middle = eye.away(joints["neck"][n])
    parts: list[tuple[float, list[Shape]]] = []
    for side, _ in SIDES:
        for names in _LIMBS:
            spots = np.array([joints[f"{side}_{name}"][n] for name in names])
            depth = eye.away(spots)
            tone = "far" if depth > middle + 0.04 else "near"
            radii = [RADII[name] * size * 0.95 for name in names]
            limb = [
                eye.shape(spots[k : k + 2], radii[k : k + 2], tone) for k in range(len(names) - 1)
            ]
            if "wrist" in names:
                limb += _hand(joints, n, side, eye, height_m, tone)
            else:
                hem = spots[0] + 0.36 * (spots[1] - spots[0])
                thin = RADII["hip"] + 0.36 * (RADII["knee"] - RADII["hip"])
                ends = np.array([spots[0], hem])
                limb.append(eye.shape(ends, [RADII["hip"] * size, thin * size], "suit"))
            parts.append((depth, limb))
    crown, neck = joints["crown"][n], joints["neck"][n]
    throat = np.array([crown + 0.5 * (neck - crown), neck])
    trunk = [eye.shape(throat, [RADII["neck"] * size * 0.95] * 2, "trunk")]
    parts.append((middle, [*trunk, *_trunk(joints, n, eye, height_m)]))
    parts.append((eye.away(crown) - 0.02, _head(joints, n, eye, size)))
    parts += [
        (eye.away(solid.points) - solid.lift_m,
         [eye.shape(solid.points, [solid.radius_m] * len(solid.points), solid.tone)])
        for solid in kit
    ]  # fmt: skip
    return [shape for _, group in sorted(parts, key=lambda part: -part[0]) for shape in group]


#: Between which joints bones are drawn: those of a side, and those of the middle.
_SIDE_BONES = (
    ("shoulder", "elbow"), ("elbow", "wrist"), ("wrist", "fingertip"), ("shoulder", "hip"),
    ("hip", "knee"), ("knee", "ankle"), ("ankle", "toe"),
)  # fmt: skip
_MIDDLE_BONES = (
    ("neck", "crown"), ("left_shoulder", "right_shoulder"), ("left_hip", "right_hip"),
)  # fmt: skip


def bones(joints: Pose, n: int, eye: Eye) -> list[Bone]:
    """Frame n of a pose as a skeleton, for laying it over a swimmer."""
    middle = eye.away(joints["neck"][n])
    pairs = [(f"{side}_{a}", f"{side}_{b}") for side, _ in SIDES for a, b in _SIDE_BONES]
    found = []
    for a, b in (*pairs, *_MIDDLE_BONES):
        ends = np.array([joints[a][n], joints[b][n]])
        (x1, y1), (x2, y2) = np.round(eye.flat(ends), 1).tolist()
        found.append(Bone(x1, y1, x2, y2, eye.away(ends) > middle + 0.04))
    return found


def _hand(joints: Pose, n: int, side: Side, eye: Eye, height_m: float, tone: str) -> list[Shape]:
    wrist, tip = joints[f"{side}_wrist"][n], joints[f"{side}_fingertip"][n]
    thumb = np.array([wrist + 0.16 * (tip - wrist), joints[f"{side}_thumb"][n]])
    thin = RADII["thumb"] * height_m / 1.78 * 0.95
    hand = hand_sections(joints, side, n, height_m)
    return [
        eye.shape(thumb, [thin * 1.7, thin], tone),
        *(_between(a, b, eye, tone) for a, b in itertools.pairwise(hand)),
    ]


def _between(a: Section, b: Section, eye: Eye, tone: str) -> Shape:
    """The slice between two cross-sections."""
    ends = np.array([a.left, a.right, b.left, b.right])
    return eye.shape(ends, [a.radius_m, a.radius_m, b.radius_m, b.radius_m], tone)


def _trunk(joints: Pose, n: int, eye: Eye, height_m: float) -> list[Shape]:
    parts = sections(joints, n, height_m)
    depths = [eye.away(np.array([x.left, x.right])) for x in parts]
    slices = [
        (depth + after, _between(a, b, eye, "suit" if a.suit else "trunk"))
        for (a, b), (depth, after) in zip(
            itertools.pairwise(parts), itertools.pairwise(depths), strict=True
        )
    ]
    if max(depths) - min(depths) > _ALONG_M:
        # Looked along the body its near end hides the far one.
        return [shape for _, shape in sorted(slices, key=lambda k: -k[0])]
    # Across it the suit lies over the skin.
    return [shape for _, shape in sorted(slices, key=lambda k: k[1].tone == "suit")]


def _head(joints: Pose, n: int, eye: Eye, size: float) -> list[Shape]:
    """A ball with its cap, on the side that the face is not."""
    crown, neck, face = (joints[name][n] for name in ("crown", "neck", "face"))
    radius = RADII["head"] * size
    centre = crown + 0.35 * (neck - crown)
    along = (crown - neck) / float(np.linalg.norm(crown - neck))
    # The more the face is seen, the less of the cap: it stays on the crown.
    facing = max(0.0, -eye.away(face))
    spot = centre + radius * ((0.14 + 0.40 * facing) * along - 0.30 * face)
    return [
        eye.shape(centre[None], [radius], "head"),
        eye.shape(spot[None], [radius * (0.875 - 0.275 * facing)], "cap"),
    ]
