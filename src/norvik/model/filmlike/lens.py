"""The camera itself: a shutter that is open for a while, grain, soft corners."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.camera import Camera
from norvik.model.filmlike.raster import Seen
from norvik.model.paint import Image

Floats = NDArray[np.float32]
#: Instants within an open shutter that are laid over each other.
_INSTANTS = 4
#: From this many pixels on, movement within the shutter blurs.
_LEAST_PX = 0.9


class Lens:
    """Grain and soft corners of one camera."""

    def __init__(self, seed: int, camera: Camera) -> None:
        rng = np.random.default_rng([seed, 41])
        shape = (camera.height_px + 64, camera.width_px + 64)
        grain = cv2.GaussianBlur(rng.normal(0, 2.8, shape).astype(np.float32), (0, 0), 0.7)
        self._grain = np.rint(grain).astype(np.int16)
        y, x = np.mgrid[-1 : 1 : camera.height_px * 1j, -1 : 1 : camera.width_px * 1j]
        corner = 1 - 0.16 * np.clip(np.hypot(x, 0.8 * y) - 0.35, 0, None) ** 2
        self._corner = np.repeat(corner.astype(np.float32)[..., None], 3, axis=2)

    def through(self, image: Image, n: int, blur: float) -> Image:
        """A picture as this camera takes it. n: the frame; every frame has grain of its own."""
        image = np.asarray(cv2.GaussianBlur(image, (0, 0), 0.55 + 2.2 * blur), np.uint8)
        image = np.asarray(cv2.multiply(image, self._corner, dtype=cv2.CV_8U), np.uint8)
        y, x = (n * 37) % 64, (n * 23) % 64
        height, width = image.shape[:2]
        grain = self._grain[y : y + height, x : x + width]
        return np.asarray(
            cv2.add(image, cv2.merge([grain, grain, grain]), dtype=cv2.CV_8U), np.uint8
        )


def smeared(part: Image, seen: Seen, colours: Floats, shutter: float) -> None:
    """Lay the body over a part of the picture, blurred by how it moves, in place.

    shutter: share of the time between two frames for which it is open.
    """
    body = np.zeros((*seen.solid.shape, 4), np.uint8)
    values = np.full((len(colours), 4), 255, np.uint8)
    values[:, :3] = np.clip(colours, 0, 255)
    body[seen.solid] = values
    # Edges are a pixel wide, as a lens draws them.
    body = np.asarray(cv2.blur(body, (2, 2)), np.uint8)
    moved = seen.moved * np.float32(shutter)
    if float(np.abs(moved).max(initial=0.0)) > _LEAST_PX:
        body = _dragged(body, seen, moved)
    left = cv2.merge([255 - body[..., 3]] * 3)
    under = cv2.multiply(part, left, scale=1 / 255)
    part[:] = cv2.add(under, body[..., :3])


def _dragged(body: Image, seen: Seen, moved: Floats) -> Image:
    """The mean of the body at several instants of an open shutter."""
    height, width = seen.solid.shape
    small = (max(1, width // 4), max(1, height // 4))
    solid = seen.coarse.astype(np.float32)
    field = cv2.resize(seen.image(moved), small, interpolation=cv2.INTER_AREA)
    weight = cv2.resize(solid, small, interpolation=cv2.INTER_AREA)
    reach = (5, 5)
    field = cv2.blur(field, reach) / np.maximum(cv2.blur(weight, reach), 1e-3)[..., None]
    field = cv2.resize(field, (width, height))
    x, y = _columns_and_rows(width, height)
    total = np.zeros(body.shape, np.float32)
    for step in np.linspace(-0.5, 0.5, _INSTANTS):
        there = cv2.remap(
            body, x - np.float32(step) * field[..., 0], y - np.float32(step) * field[..., 1],
            cv2.INTER_LINEAR,
        )  # fmt: skip
        cv2.accumulate(there, total)
    return np.asarray(cv2.convertScaleAbs(total, alpha=1 / _INSTANTS), np.uint8)


def _columns_and_rows(width: int, height: int) -> tuple[Floats, Floats]:
    y, x = np.mgrid[0:height, 0:width]
    return x.astype(np.float32), y.astype(np.float32)
