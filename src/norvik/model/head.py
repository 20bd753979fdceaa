"""The head as a ball in light: skin, cap, goggles with their strap, lips, nose and chin."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from norvik.model.paint import Colour, Image, disc

Vector = NDArray[np.float64]
#: Colours B, G, R: the strap, the rim of a lens and its glass, the lips against the skin.
_STRAP, _RIM, _GLASS = (40, 32, 24), (48, 36, 20), (196, 170, 90)
_LIPS = (92, 92, 170)
#: How much longer than wide the head is.
_LONG = 1.16


def paint_head(
    image: Image, centre: Vector, radius: float, axis: Vector, look: Vector, skin: Colour,
    cap: Colour,
) -> None:  # fmt: skip
    """Paint a head at a place in the picture.

    centre: pixels. radius: pixels. axis, look: unit vectors as the camera sees them (right, down,
    away): from neck to crown, and where the face looks, square to each other.
    """
    across = np.cross(axis, look)
    if look[2] < 0.5:
        # Nose and chin stand out where the face is seen from the side.
        disc(image, centre + (0.92 * look - 0.42 * axis)[:2] * radius, 0.34 * radius, skin)
        disc(image, centre + (1.05 * look - 0.05 * axis)[:2] * radius, 0.15 * radius, skin)
    half = int(np.ceil(radius * _LONG)) + 2
    x0, y0 = (round(float(v)) - half for v in centre)
    height, width = image.shape[:2]
    rows, columns = (
        slice(max(0, y0), max(0, min(height, y0 + 2 * half))),
        slice(max(0, x0), max(0, min(width, x0 + 2 * half))),
    )
    if rows.start >= rows.stop or columns.start >= columns.stop:
        return
    ball = _Ball(rows, columns, centre, radius, axis)
    edge = 1.4 / radius
    colours = np.empty((*ball.shape, 3))
    colours[:] = skin

    def put(colour: Colour, cover: NDArray[np.float64]) -> None:
        colours[:] += (np.array(colour, float) - colours) * np.clip(cover, 0, 1)[..., None]

    def spot(direction: Vector, size: float) -> NDArray[np.float64]:
        """Cover of a round spot on the ball. size: its radius in those of the head."""
        away = np.sqrt(np.maximum(0.0, 2 - 2 * ball.along(_unit(direction))))
        return 0.5 + (size - away) / edge

    put(_LIPS, np.minimum(0.6, spot(0.9 * look - 0.5 * axis, 0.15)))
    put(cap, 0.5 + (ball.along(_unit(0.80 * axis - 0.60 * look)) - 0.16) / edge)
    strap = np.abs(ball.along(_unit(axis - 0.26 * look)) - 0.02)
    put(_STRAP, (0.5 + (0.06 - strap) / edge) * (ball.along(look) < 0.86))
    for sign in (-1.0, 1.0):
        eye = 0.86 * look + 0.24 * axis + 0.36 * sign * across
        put(_RIM, spot(eye, 0.26))
        put(_GLASS, spot(eye + 0.03 * axis, 0.13))
    light = np.clip(0.80 - 0.42 * ball.down + 0.16 * ball.toward, 0.45, 1.06)
    cover = np.clip(0.5 + ball.inside / edge, 0, 1)[..., None]
    patch = image[rows, columns]
    patch[:] = np.clip(patch + (colours * light[..., None] - patch) * cover, 0, 255)


class _Ball:
    """The pixels of a patch as points of a ball of radius 1, a little longer along the head."""

    def __init__(
        self, rows: slice, columns: slice, centre: Vector, radius: float, axis: Vector
    ) -> None:
        x = (np.arange(columns.start, columns.stop) - centre[0]) / radius
        y = (np.arange(rows.start, rows.stop) - centre[1]) / radius
        right, down = np.meshgrid(x, y)
        # Squeezed along the axis as it is seen, what is longer than wide becomes a ball.
        squeeze = 1 - 1 / _LONG
        on_axis = right * axis[0] + down * axis[1]
        self.right, self.down = (
            right - squeeze * on_axis * axis[0],
            down - squeeze * on_axis * axis[1],
        )
        square = self.right**2 + self.down**2
        self.inside = 1 - np.sqrt(square)
        self.toward = np.sqrt(np.maximum(0.0, 1 - square))
        self.shape = right.shape

    def along(self, direction: Vector) -> NDArray[np.float64]:
        """How far each point lies in a direction, -1 to 1."""
        found = self.right * direction[0] + self.down * direction[1] - self.toward * direction[2]
        return np.asarray(found, np.float64)


def _unit(vector: Vector) -> Vector:
    return np.asarray(vector / max(1e-9, float(np.linalg.norm(vector))), np.float64)
