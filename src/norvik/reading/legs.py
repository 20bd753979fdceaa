"""How much the picture changes where a swimmer's legs are, part by part."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

Image = NDArray[np.uint8]
Floats = NDArray[np.float64]

#: Edge of the square that is looked at, the one that the network gets made smaller.
SIZE = 128
#: Where the legs are in it, the head up: pixels down and across, in parts of so many.
_DOWN, _ACROSS, _PART = slice(74, 122), slice(40, 88), 6
#: What is broader than this, in its pixels, is light and no movement.
_BROAD = 5.0


class LegStir:
    """Holds each picture against the one before, both turned and moved alike: what stands still in
    the pool stays out.
    """

    def __init__(self) -> None:
        self._before: Image | None = None

    def look(self, picture: Image, into: Floats) -> Floats | None:
        """Change of each part since the picture before, None without one, shape (64,).

        into: of the picture into a square of `SIZE`, an affine map of shape (2, 3).
        """
        grey = np.asarray(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY), np.uint8)
        before, self._before = self._before, grey
        if before is None:
            return None
        changed = np.abs(_sharp(grey, into) - _sharp(before, into))
        legs = np.sqrt(changed[_DOWN, _ACROSS])
        rows, columns = (n // _PART for n in legs.shape)
        parts = legs.reshape(rows, _PART, columns, _PART).mean(axis=(1, 3))
        return parts.ravel().astype(np.float64)

    def forget(self) -> None:
        """The next picture has none before it."""
        self._before = None


def _sharp(grey: Image, into: Floats) -> NDArray[np.float32]:
    square = np.asarray(cv2.warpAffine(grey, into, (SIZE, SIZE)), np.float32)
    return np.asarray(square - cv2.GaussianBlur(square, (0, 0), _BROAD), np.float32)
