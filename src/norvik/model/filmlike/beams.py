"""Beams of the sun in the water: what waves gather goes on through all of the depth."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.camera import Camera
from norvik.model.filmlike.water import REFRACTS, SUN, gathered

Floats = NDArray[np.float32]
#: Pixels of the camera to one of the beams', and at which metres before it they are taken.
_COARSE, _AWAY_M = 8, (1.2, 2.2, 3.2, 4.4)
#: Brightness of a full beam and how much a metre of water takes of it.
_BRIGHT, _TAKES = 90.0, 0.42
#: Beams are wider than the lines that they draw on the floor, by as many times.
_WIDE = 0.42
#: Metres aside for each metre that sunlight goes down in the water (Snell).
_BENT = SUN[:2] / REFRACTS
_ASIDE = _BENT / np.sqrt(1 - float(np.sum(_BENT**2)))


class Beams:
    """Beams before a camera under water. haze: the more of it, the more they show."""

    def __init__(self, camera: Camera, haze: float, sun: float) -> None:
        wide, tall = camera.width_px // _COARSE, camera.height_px // _COARSE
        y, x = np.mgrid[0:tall, 0:wide] * float(_COARSE) + _COARSE / 2
        right, down, forward = camera.axes
        way = (
            ((x - camera.width_px / 2) / camera.focal_px)[..., None] * right
            + ((y - camera.height_px / 2) / camera.focal_px)[..., None] * down
            + forward
        )
        self._x: list[Floats] = []
        self._y: list[Floats] = []
        self._share: list[Floats] = []
        for away in _AWAY_M:
            spot = np.array(camera.position) + way * away
            deep = -spot[..., 2]
            # Back along the sun's way to where the light came in.
            self._x.append(np.asarray((spot[..., 0] + deep * _ASIDE[0]) * _WIDE, np.float32))
            self._y.append(np.asarray((spot[..., 1] + deep * _ASIDE[1]) * _WIDE, np.float32))
            reaches = np.exp(-_TAKES * np.clip(deep, 0, None)) * np.clip(deep / 0.06, 0, 1)
            there = reaches * np.exp(-0.12 * away) * sun * (0.7 + 0.6 * haze) / len(_AWAY_M)
            self._share.append(np.asarray(there, np.float32))

    def shine(self, picture: Floats, travelled_m: float, time_s: float) -> None:
        """Add the beams to a picture of any size, shape (rows, columns, 3), in place."""
        moved = np.float32(travelled_m * _WIDE)
        total = np.zeros_like(self._x[0])
        for x, y, share in zip(self._x, self._y, self._share, strict=True):
            total += (gathered(x + moved, y, time_s * 0.6) - np.float32(0.12)) * share
        soft = cv2.GaussianBlur(total * np.float32(_BRIGHT * 2.2), (0, 0), 1.2)
        wide = cv2.resize(soft, (picture.shape[1], picture.shape[0]))
        picture += wide[..., None] * np.array([1.0, 0.96, 0.72], np.float32)
