"""A sensor that is read row by row: what moves lies where it was as its own row was read.

The middle row is read at the frame's instant, the top one earlier and the bottom one later.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from norvik.model.body import Pose
from norvik.model.camera import Camera

Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Rolling:
    """read_s: seconds from the top row to the bottom one; 0 for a sensor read at once.

    height_px: rows of the picture.
    """

    read_s: float
    height_px: int

    def late_s(self, rows: Floats) -> Floats:
        """Seconds after the frame's instant at which rows are read, shape of rows."""
        share = np.clip(np.asarray(rows, np.float64) / self.height_px, 0, 1) - 0.5
        return np.asarray(self.read_s * share, np.float64)

    def joints(self, joints: Pose, camera: Camera, times_s: Floats, travelled_m: Floats) -> Pose:
        """Every joint where it was as its row was read, seen from the swimmer at the frame's
        instant.
        """
        if not self.read_s:
            return joints
        came = travelled_m if camera.still else 0 * travelled_m
        found = {}
        for name, points in joints.items():
            # A direction goes with the joint that it belongs to.
            place = joints["mouth"] if name == "face" else points
            along = np.stack([came, 0 * came, 0 * came], axis=1)
            at = times_s + self.late_s(camera.project(place + along)[:, 1])
            found[name] = np.stack([np.interp(at, times_s, points[:, k]) for k in range(3)], axis=1)
            if name != "face":
                found[name][:, 0] += np.interp(at, times_s, came) - came
        return found

    def shaken(self, pixels: Floats, shaken_px: Floats, a_second: Floats) -> Floats:
        """Places in frames that a hand moves meanwhile, shape (frames, 2).

        shaken_px: by how much each frame is moved at its instant; a_second: how fast.
        """
        late = self.late_s(pixels[:, 1])[:, None]
        return np.asarray(pixels + shaken_px + a_second * late, np.float64)

    def moving(self, shaken_px: Floats, a_second: Floats) -> Floats:
        """The same for a whole picture as a matrix of shape (2, 3): it leans and stretches."""
        (dx, dy), (by_x, by_y) = shaken_px, a_second * self.read_s
        return np.array([
            [1, by_x / self.height_px, dx - 0.5 * by_x],
            [0, 1 + by_y / self.height_px, dy - 0.5 * by_y],
        ], np.float64)  # fmt: skip
