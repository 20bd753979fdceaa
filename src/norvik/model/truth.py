"""What is true of every frame: joints in the picture, and the angles that a coach measures."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from norvik.model.camera import Camera
from norvik.model.pose import Pose
from norvik.model.schedule import Schedule

Points = NDArray[np.float64]


def angle_deg(a: Points, b: Points, c: Points) -> NDArray[np.float64]:
    """Inner angle at b between a and c in degrees, 0..180, for points of shape (n, 3)."""
    first, second = a - b, c - b
    cosine = np.sum(first * second, axis=1) / (
        np.linalg.norm(first, axis=1) * np.linalg.norm(second, axis=1)
    )
    return np.degrees(np.arccos(np.clip(cosine, -1, 1)))


def truth_of(
    joints: Pose, camera: Camera, travelled_m: NDArray[np.float64], body: Pose | None = None,
    in_picture: Callable[[Points], Points] = lambda pixels: pixels,
) -> dict[str, Any]:  # fmt: skip
    """joints_px: name to [x, y] a frame. angles_deg: name to degrees a frame.

    joints: as the camera sees them. body: as they are at the instant of each frame, where that
    differs. in_picture: from places in a camera held still to those in its frames.
    """
    pixels = {}
    for name, points in joints.items():
        if name != "face":
            moved = points.copy()
            if camera.still:
                moved[:, 0] += travelled_m
            pixels[name] = np.round(in_picture(camera.project(moved)), 2).tolist()
    joints = body or joints
    angles: dict[str, NDArray[np.float64]] = {}
    for side in ("left", "right"):
        j = {
            k: joints[f"{side}_{k}"] for k in ("shoulder", "elbow", "wrist", "hip", "knee", "ankle")
        }
        angles[f"{side}_elbow"] = angle_deg(j["shoulder"], j["elbow"], j["wrist"])
        angles[f"{side}_knee"] = angle_deg(j["hip"], j["knee"], j["ankle"])
    across = joints["left_shoulder"] - joints["right_shoulder"]
    # On the back the left shoulder lies on the other side: the width counts without its direction.
    angles["shoulder_roll"] = np.degrees(np.arctan2(across[:, 2], np.abs(across[:, 1])))
    line = joints["neck"] - joints["pelvis"]
    angles["trunk_to_horizontal"] = np.degrees(
        np.arctan2(line[:, 2], np.hypot(line[:, 0], line[:, 1]))
    )
    return {
        "joints_px": pixels,
        "angles_deg": {name: np.round(a, 3).tolist() for name, a in angles.items()},
    }


def true_rate(plan: Schedule, seconds: float) -> float | None:
    """Cycles a minute over all whole cycles that lie in 0..seconds; None without one."""
    spans = [
        c.end - start
        for cycles in plan.arms.values()
        for c in cycles
        if (start := c.at.get("entry", c.at.get("out"))) is not None
        and start >= 0
        and c.end < seconds
    ]
    return 60 * len(spans) / sum(spans) if spans else None
