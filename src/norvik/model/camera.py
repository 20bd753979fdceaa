"""Simulated cameras: where they stand, and where a point of the pool lies in their picture."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]

VIEWS = ("side-under", "side-above", "front-under", "overhead", "below")


@dataclass(frozen=True)
class Camera:
    """A pinhole camera.

    position: metres from the swimmer's start or, when moving, from the swimmer. look, up: unit
    directions. width_m: metres across the picture at distance_m. still: stands at the lane instead
    of going along. above: looks at the water from the air.
    """

    view: str
    position: tuple[float, float, float]
    look: tuple[float, float, float]
    up: tuple[float, float, float]
    distance_m: float
    width_m: float
    width_px: int = 1280
    height_px: int = 720
    tilt_deg: float = 0.0
    still: bool = False
    above: bool = False

    @property
    def focal_px(self) -> float:
        return self.width_px * self.distance_m / self.width_m

    @cached_property
    def axes(self) -> Points:
        """Right, down and forward of the picture in the pool, shape (3, 3)."""
        forward = np.array(self.look) / np.linalg.norm(self.look)
        right = np.cross(forward, np.array(self.up))
        right /= np.linalg.norm(right)
        down = np.cross(forward, right)
        tilt = np.deg2rad(self.tilt_deg)
        turned_right = np.cos(tilt) * right + np.sin(tilt) * down
        return np.array([turned_right, np.cross(forward, turned_right), forward])

    def seen(self, points: Points, travelled_m: float = 0.0) -> Points:
        """Right, down and depth in metres of points given from the moving swimmer."""
        from_camera = points - np.array(self.position)
        if self.still:
            from_camera = from_camera + np.array([travelled_m, 0.0, 0.0])
        return from_camera @ self.axes.T

    def project(self, points: Points, travelled_m: float = 0.0) -> Points:
        """Pixels (x to the right, y down), shape (..., 2), of points of shape (..., 3)."""
        seen = self.seen(points, travelled_m)
        depth = np.maximum(seen[..., 2:3], 0.05)
        centre = np.array([self.width_px / 2, self.height_px / 2])
        return centre + self.focal_px * seen[..., :2] / depth

    def px_per_m(self, depth_m: float) -> float:
        return self.focal_px / max(depth_m, 0.05)

    @property
    def surface_px(self) -> int:
        """Row of the water line on the lens of a level camera under or at the surface."""
        centre = self.height_px / 2
        return round(centre + self.px_per_m(self.distance_m) * self.position[2])


def camera_for(view: str, still: bool = False, tilt_deg: float = 0.0) -> Camera:
    """The usual camera of a view; KeyError for an unknown one. Swimmers swim to the right."""
    x_ahead = -0.40
    usual = {
        "side-under": Camera("side-under", (x_ahead, -4.0, -0.48), (0, 1, 0), (0, 0, 1), 4.0, 3.1),
        "side-above": Camera(
            "side-above", (x_ahead, -4.2, 1.5), (0, 1, -0.34), (0, 0, 1), 4.4, 3.3, above=True
        ),
        "front-under": Camera("front-under", (3.2, 0.0, -0.34), (-1, 0, 0), (0, 0, 1), 2.6, 2.15),
        # Looks up from the bottom; a longer way than the pool is deep would need a wider lens.
        "below": Camera("below", (x_ahead, 0.0, -1.8), (0, 0, 1), (0, -1, 0), 1.8, 3.3),
        "overhead": Camera(
            "overhead", (x_ahead, 0.0, 4.2), (0, 0, -1), (0, 1, 0), 4.2, 3.3, above=True
        ),
    }[view]
    if still and view == "side-under":
        usual = replace(usual, position=(3.2, -6.4, -0.5), distance_m=6.4, width_m=7.0)
    if still and view == "front-under":
        usual = replace(usual, position=(9.0, 0.0, -0.34))
    return replace(usual, still=still, tilt_deg=tilt_deg)
