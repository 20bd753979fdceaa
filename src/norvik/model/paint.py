"""Painting primitives: limbs as tapered rounds with light from above. Colours are B, G, R."""

from __future__ import annotations

from itertools import pairwise

import cv2
import numpy as np
from numpy.typing import NDArray

Image = NDArray[np.uint8]
Colour = tuple[int, int, int]

#: cv2 takes coordinates in sixteenths of a pixel: limbs glide instead of jumping.
_SHIFT = 4
_ONE = 1 << _SHIFT


def mix(a: Colour, b: Colour, share: float) -> Colour:
    """Colour a with `share` (0..1) of colour b in it."""
    red, green, blue = (round(x + (y - x) * share) for x, y in zip(a, b, strict=True))
    return red, green, blue


#: Layers of a limb: how far it is lifted toward the light, how thick it is, and its tone.
_LAYERS: tuple[tuple[float, float, Colour, float], ...] = (
    (0.0, 1.0, (60, 40, 10), 0.34),
    (0.22, 0.76, (60, 40, 10), 0.0),
    (0.44, 0.36, (255, 255, 255), 0.16),
)


def limb(
    image: Image, joints: list[NDArray[np.float64]], radii: list[float], colour: Colour
) -> None:
    """A round limb through its joints (pixels), one radius for each joint, lit from above.

    Each layer goes over the whole limb before the next, so that no seam shows at a joint.
    """
    up = np.array([0.0, -1.0])
    for lift, thick, tone, share in _LAYERS:
        shade = mix(colour, tone, share)
        for (a, ra), (b, rb) in pairwise(zip(joints, radii, strict=True)):
            _taper(image, a + up * ra * lift, b + up * rb * lift, ra * thick, rb * thick, shade)


def _taper(
    image: Image,
    a: NDArray[np.float64],
    b: NDArray[np.float64],
    radius_a: float,
    radius_b: float,
    colour: Colour,
) -> None:
    for centre, radius in ((a, radius_a), (b, radius_b)):
        disc(image, centre, radius, colour)
    along = b - a
    length = float(np.hypot(*along))
    if length < 1e-6:
        return
    across = np.array([-along[1], along[0]]) / length
    fill(
        image,
        np.array(
            [
                a + across * radius_a,
                b + across * radius_b,
                b - across * radius_b,
                a - across * radius_a,
            ]
        ),
        colour,
    )


def disc(image: Image, centre: NDArray[np.float64], radius: float, colour: Colour) -> None:
    x, y = (round(float(v) * _ONE) for v in centre)
    cv2.circle(image, (x, y), max(1, round(radius * _ONE)), colour, -1, cv2.LINE_AA, _SHIFT)


def fill(image: Image, points: NDArray[np.float64], colour: Colour) -> None:
    """A filled polygon; points in pixels, shape (n, 2)."""
    cv2.fillPoly(image, [np.rint(points * _ONE).astype(np.int32)], colour, cv2.LINE_AA, _SHIFT)


def ellipse(
    image: Image,
    centre: NDArray[np.float64],
    axes: tuple[float, float],
    angle_deg: float,
    colour: Colour,
) -> None:
    cv2.ellipse(
        image,
        (round(float(centre[0]) * _ONE), round(float(centre[1]) * _ONE)),
        (round(axes[0] * _ONE), round(axes[1] * _ONE)),
        angle_deg,
        0,
        360,
        colour,
        -1,
        cv2.LINE_AA,
        _SHIFT,
    )
