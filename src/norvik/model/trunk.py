"""The trunk as one closed body: cross-sections from the seat to the shoulders.

Each section reaches from a left to a right point and is round about both. Film and page figure
paint the same sections; the suit covers those below the waist, the thighs go on from there.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from norvik.model.body import Pose

Point = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Section:
    """left, right: its ends in metres. radius_m: half of its thickness. suit: covered by it."""

    left: Point
    right: Point
    radius_m: float
    suit: bool


#: Way from pelvis to neck as a share, half width and half thickness in body heights, suit. A body
#: of a club swimmer: shoulders wider than hips, narrow at the waist (own choice).
_SHAPE = (
    (-0.10, 0.030, 0.047, True),
    (0.00, 0.046, 0.052, True),
    (0.12, 0.046, 0.053, True),
    (0.26, 0.038, 0.052, True),
    (0.38, 0.034, 0.051, False),
    (0.50, 0.040, 0.054, False),
    (0.64, 0.052, 0.059, False),
    (0.78, 0.066, 0.061, False),
    (0.90, 0.080, 0.053, False),
    (1.00, 0.092, 0.038, False),
)


def sections(pose: Pose, n: int, height_m: float) -> list[Section]:
    """The sections of frame n, from the seat up."""
    line = spine_line(pose["pelvis"][n], pose["waist"][n], pose["neck"][n])
    hips = _unit(pose["left_hip"][n] - pose["right_hip"][n])
    # Without the reach: the ribs do not follow a shoulder that goes along with its hand.
    shoulders = _unit(pose["left_shoulder"][n] - pose["right_shoulder"][n])
    found = []
    for share, half, thick, suit in _SHAPE:
        turn = min(1.0, max(0.0, share))
        across = _unit((1 - turn) * hips + turn * shoulders) * half * height_m
        middle = line(share)
        found.append(Section(middle + across, middle - across, thick * height_m, suit))
    return found


def spine_line(pelvis: Point, waist: Point, neck: Point) -> Callable[[float], Point]:
    """The middle of the trunk at a share of the way from pelvis to neck: bent at the waist.

    Beyond its ends the line goes on as it points there.
    """
    bow = waist - 0.5 * (pelvis + neck)

    def at(share: float) -> Point:
        inside = min(1.0, max(0.0, share))
        leaves = 4 * inside * (1 - inside) + 4 * (share - inside) * (1 - 2 * inside)
        return np.asarray(pelvis + share * (neck - pelvis) + leaves * bow, np.float64)

    return at


def _unit(vector: Point) -> Point:
    return np.asarray(vector / max(1e-9, float(np.linalg.norm(vector))), np.float64)
