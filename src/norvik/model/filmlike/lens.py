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
_INSTANTS = 5
#: From this many pixels on, movement within the shutter blurs.
_LEAST_PX = 0.9


class Lens:
    """Grain and soft corners of one camera."""

    def __init__(self, seed: int, camera: Camera) -> None:
        rng = np.random.default_rng([seed, 41])
        shape = (camera.height_px + 64, camera.width_px + 64)
        grain = cv2.GaussianBlur(rng.normal(0, 5.2, shape).astype(np.float32), (0, 0), 0.7)
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
    body = np.zeros((*seen.solid.shape, 4), np.float32)
    body[..., :3][seen.solid] = np.clip(colours, 0, 255)
    body[..., 3] = seen.solid
    # Edges are a pixel wide, as a lens draws them.
    body = cv2.blur(body * np.array([1, 1, 1, 1], np.float32), (2, 2))
    moved = seen.moved * np.float32(shutter)
    if float(np.abs(moved).max(initial=0.0)) > _LEAST_PX:
        reach = 15
        weight = cv2.blur(seen.solid.astype(np.float32), (reach, reach))
        field = cv2.blur(seen.image(moved), (reach, reach)) / np.maximum(weight, 1e-3)[..., None]
        y, x = np.mgrid[0 : body.shape[0], 0 : body.shape[1]].astype(np.float32)
        total = np.zeros_like(body)
        for step in np.linspace(-0.5, 0.5, _INSTANTS):
            total += cv2.remap(
                body, x - np.float32(step) * field[..., 0], y - np.float32(step) * field[..., 1],
                cv2.INTER_LINEAR,
            )  # fmt: skip
        body = total / _INSTANTS
    share = body[..., 3:4]
    part[:] = np.clip(part * (1 - share) + body[..., :3], 0, 255).astype(np.uint8)
