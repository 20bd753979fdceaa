"""What is held, worn or worked at in a drill, as solids about the swimmer."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from norvik.core.strokes.names import Side
from norvik.model.body import SIDES, Pose
from norvik.model.kit import Solid

Point = NDArray[np.float64]


def _unit(v: Point) -> Point:
    return np.asarray(v / max(1e-9, float(np.linalg.norm(v))), np.float64)


def _hands(pose: Pose, n: int) -> list[tuple[Point, Point, Point]]:
    """Middle of each hand, where the fingers point, and across the palm."""
    found = []
    for side, _ in SIDES:
        wrist, tip = pose[f"{side}_wrist"][n], pose[f"{side}_fingertip"][n]
        along = _unit(tip - wrist)
        thumb = pose[f"{side}_thumb"][n] - wrist
        across = _unit(thumb - along * float(thumb @ along))
        found.append((0.5 * (wrist + tip), along, across))
    return found


def _plate(middle: Point, along: Point, across: Point, long: float, wide: float) -> Point:
    corners = [middle + a * long * along + b * wide * across for a in (-1, 1) for b in (-1, 1)]
    return np.array(corners)


def _board(pose: Pose, n: int) -> list[Solid]:
    held = _hands(pose, n)
    middle = np.mean([h[0] for h in held], axis=0)
    along = _unit(np.mean([h[1] for h in held], axis=0) + np.array([1e-6, 0, 0]))
    along = _unit(along * np.array([1.0, 0.0, 0.3]))
    plate = _plate(middle + 0.10 * along, along, np.array([0.0, 1.0, 0.0]), 0.22, 0.13)
    return [Solid(plate, 0.016, "kit", 0.05)]


def _buoy(share: float, upper: str, lower: str) -> Callable[[Pose, int], list[Solid]]:
    def between(pose: Pose, n: int) -> list[Solid]:
        at = [
            (1 - share) * pose[f"{side}_{upper}"][n] + share * pose[f"{side}_{lower}"][n]
            for side, _ in SIDES
        ]
        middle, across = 0.5 * (at[0] + at[1]), _unit(at[0] - at[1])
        along = _unit(pose[f"left_{upper}"][n] - pose[f"left_{lower}"][n])
        thick = _unit(np.cross(along, across))
        return [
            Solid(np.array([middle + s * 0.075 * thick + e * 0.07 * along for e in (-1, 1)]),
                  0.045, "kit", 0.12)
            for s in (-1, 1)
        ]  # fmt: skip

    return between


def _held_buoy(side: Side) -> Callable[[Pose, int], list[Solid]]:
    def held(pose: Pose, n: int) -> list[Solid]:
        tip = pose[f"{side}_fingertip"][n]
        ends = np.array([tip + np.array([0.03, y, 0.02]) for y in (-0.09, 0.09)])
        return [Solid(ends, 0.065, "kit", 0.05)]

    return held


def _fins(pose: Pose, n: int) -> list[Solid]:
    found = []
    for side, _ in SIDES:
        ankle, toe = pose[f"{side}_ankle"][n], pose[f"{side}_toe"][n]
        along = _unit(toe - ankle)
        across = _unit(np.cross(along, np.array([0.0, 0.0, 1.0])) + np.array([0, 1e-6, 0]))
        blade = [
            toe - 0.08 * along + 0.02 * across, toe - 0.08 * along - 0.02 * across,
            toe + 0.26 * along + 0.085 * across, toe + 0.26 * along - 0.085 * across,
        ]  # fmt: skip
        found.append(Solid(np.array(blade), 0.010, "kit", 0.02))
    return found


def _paddles(pose: Pose, n: int) -> list[Solid]:
    return [
        Solid(_plate(m + 0.01 * along, along, across, 0.10, 0.075), 0.006, "kit", 0.04)
        for m, along, across in _hands(pose, n)
    ]


def _snorkel(pose: Pose, n: int) -> list[Solid]:
    """Before the face, over the forehead and up."""
    crown, neck, mouth = (pose[j][n] for j in ("crown", "neck", "mouth"))
    axis, face = _unit(crown - neck), _unit(pose["face"][n])
    brow = crown + 0.10 * face - 0.02 * axis
    front = mouth + 0.05 * face
    top = crown + 0.06 * axis - 0.28 * face
    return [
        Solid(np.array([mouth, front, brow]), 0.011, "kit", 0.05),
        Solid(np.array([brow, crown + 0.07 * axis]), 0.011, "kit", 0.06),
        Solid(np.array([crown + 0.07 * axis, top]), 0.011, "kit", 0.06),
    ]


def _cup(pose: Pose, n: int) -> list[Solid]:
    crown, neck, face = (pose[j][n] for j in ("crown", "neck", "face"))
    up = np.array([0.0, 0.0, 1.0])
    foot = crown + 0.30 * (neck - crown) + 0.03 * _unit(face) + 0.085 * up
    return [Solid(np.array([foot, foot + 0.075 * up]), 0.030, "kit", 0.03)]


def _beeper(pose: Pose, n: int) -> list[Solid]:
    crown, neck = pose["crown"][n], pose["neck"][n]
    at = crown + 0.25 * (neck - crown) + np.array([0.0, -0.10, 0.05])
    return [Solid(at[None], 0.026, "kit", 0.2)]


def _cord(pose: Pose, n: int) -> list[Solid]:
    ahead = pose["neck"][n] + np.array([1.15, 0.0, 0.05])
    return [
        Solid(np.array([middle, ahead]), 0.008, "kit", 0.05) for middle, _, _ in _hands(pose, n)
    ]


def _rope(pose: Pose, n: int) -> list[Solid]:
    side = max(float(pose[f"{s}_wrist"][:, 1].max()) for s, _ in SIDES) + 0.05
    starts = np.arange(-1.6, 1.2, 0.14)
    return [
        Solid(np.array([[x, side, -0.02], [x + 0.07, side, -0.02]]), 0.045,
              "kit" if k // 3 % 2 else "kit-pale")
        for k, x in enumerate(starts)
    ]  # fmt: skip


def _bubbles(pose: Pose, n: int) -> list[Solid]:
    """A thin stream from a mouth that is under water, back and up."""
    mouth = pose["mouth"][n]
    if mouth[2] > -0.02:
        return []
    found = []
    for k in range(5):
        at = mouth + np.array(
            [-0.06 - 0.07 * k, 0.012 * (-1) ** k, 0.03 * k + 0.01 * ((n + k) % 2)]
        )
        if at[2] < -0.01:
            found.append(Solid(at[None], 0.010 + 0.004 * (k % 3), "bubble", 0.3))
    return found


def _rail(pose: Pose, n: int) -> list[Solid]:
    """The rail that the hands follow in thought: a forearm under the chest."""
    depth = float(pose["neck"][:, 2].mean()) - 0.50
    return [Solid(np.array([[x, 0.0, depth], [x + 0.06, 0.0, depth]]), 0.006, "mark", -0.5)
            for x in np.arange(-0.7, 0.75, 0.12)]  # fmt: skip


def _aim(pose: Pose, n: int) -> list[Solid]:
    """Ten and two o'clock on the surface."""
    start = pose["crown"][n] * np.array([1.0, 0.0, 0.0])
    return [Solid(start + np.array([[0.12, 0.07 * s, 0.0], [0.62, 0.36 * s, 0.0]]),
                  0.006, "mark", -0.5)
            for s in (-1, 1)]  # fmt: skip


#: Kit by the name that a motion uses.
KIT: dict[str, Callable[[Pose, int], list[Solid]]] = {
    "board": _board,
    "buoy": _buoy(0.30, "hip", "knee"),
    "buoy-ankles": _buoy(0.85, "knee", "ankle"),
    "buoy-in-left-hand": _held_buoy("left"),
    "fins": _fins,
    "paddles": _paddles,
    "snorkel": _snorkel,
    "cup": _cup,
    "beeper": _beeper,
    "bubbles": _bubbles,
    "rail": _rail,
    "aim": _aim,
    "cord": _cord,
    "rope": _rope,
}


def worn(names: Sequence[str], pose: Pose, n: int) -> list[Solid]:
    """The kit of a motion in frame n. KeyError for an unknown name."""
    return [solid for name in names for solid in KIT[name](pose, n)]


def _box(x0: float, x1: float, z0: float, z1: float, tone: str, half_m: float = 0.5) -> Solid:
    corners = [[x, y, z] for x in (x0, x1) for y in (-half_m, half_m) for z in (z0, z1)]
    return Solid(np.array(corners), 0.0, tone, -2.0)


def around(names: Sequence[str], pose: Pose) -> list[Solid]:
    """What stands there, as solids that do not move.

    touched: a wall where hands or feet reach farthest; upright:X a wall on land; deck:X:Z up to X
    metres ahead with its top at Z; bench under the trunk; ground under the whole body.
    KeyError for another name.
    """
    found = []
    for name in names:
        kind, *numbers = name.split(":")
        at = [float(v) for v in numbers]
        if kind == "ground":
            low = min(
                float(points[:, 2].min()) - (0.10 if key == "pelvis" else 0.035)
                for key, points in pose.items() if key != "face"
            )  # fmt: skip
            found.append(_box(-4.0, 4.0, low - 3.0, low, "ground", 2.0))
        elif kind == "bench":
            top = float(pose["neck"][:, 2].min()) - 0.115
            found.append(_box(-1.05, 0.02, top - 0.07, top, "wall", 0.16))
            found += [_box(x, x + 0.06, top - 0.6, top, "wall", 0.14) for x in (-0.95, -0.14)]
        elif kind == "touched":
            reached = max(
                float(points[:, 0].max()) for key, points in pose.items() if key != "face"
            )
            found.append(_box(reached, reached + 4.0, -4.0, 0.22, "wall", 0.3))
        elif kind == "upright":
            found.append(_box(at[0], at[0] + 4.0, -4.0, 4.0, "wall", 2.0))
        elif kind == "deck":
            found.append(_box(-5.0, at[0], -4.0, at[1], "wall", 0.45))
        else:
            raise KeyError(name)
    return found
