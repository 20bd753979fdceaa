"""A camera under the surface beside the lane, moving along with the swimmer."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True, slots=True)
class SideCamera:
    """Looks across the lane from the swimmer's right; the swimmer swims to the picture's right.

    distance_m to the swimmer's middle plane, width_m seen there.
    """

    width_px: int = 1280
    height_px: int = 720
    distance_m: float = 4.0
    width_m: float = 3.1
    ahead_m: float = -0.40
    depth_m: float = 0.42
    horizon: float = 0.56

    @property
    def focal_px(self) -> float:
        return self.width_px * self.distance_m / self.width_m

    def project(self, points: NDArray[np.float64]) -> NDArray[np.float64]:
        """Pixels (x to the right, y down), shape (..., 2), of points of shape (..., 3)."""
        away = self.distance_m + points[..., 1]
        scale = self.focal_px / away
        x = self.width_px / 2 + scale * (points[..., 0] - self.ahead_m)
        y = self.height_px * self.horizon - scale * (points[..., 2] + self.depth_m)
        return np.stack([x, y], axis=-1)

    def px_per_m(self, across_m: float = 0.0) -> float:
        """Pixels a metre in the plane that lies across_m beyond the swimmer's middle."""
        return self.focal_px / (self.distance_m + across_m)

    @property
    def surface_px(self) -> int:
        """Row of the water line on the lens."""
        return round(self.height_px * self.horizon - self.px_per_m() * self.depth_m)
