"""Painting primitives: limbs as tapered rounds with light from above. Colours are B, G, R."""

from __future__ import annotations

from collections.abc import Sequence

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


_CIRCLE = np.stack([f(np.arange(0, 2 * np.pi, np.pi / 12)) for f in (np.cos, np.sin)], axis=1)


def limb(
    image: Image, joints: list[NDArray[np.float64]], radii: list[float], colour: Colour
) -> None:
    """A round limb through its joints (pixels), one radius for each joint, lit from above.

    Each layer goes over the whole limb before the next, so that no seam shows at a joint.
    """
    points = np.array(joints, float)
    sizes = np.array(radii, float)
    along = np.diff(points, axis=0)
    length = np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-6)
    across = np.stack([-along[:, 1], along[:, 0]], axis=1) / length[:, None]
    for lift, thick, tone, share in _LAYERS:
        shade = mix(colour, tone, share)
        lifted = points - np.stack([np.zeros_like(sizes), sizes * lift], axis=1)
        thin = sizes * thick
        for centre, radius in zip(lifted, thin, strict=True):
            disc(image, centre, radius, shade)
        from_side, to_side = across * thin[:-1, None], across * thin[1:, None]
        corners = np.stack(
            [
                lifted[:-1] + from_side,
                lifted[1:] + to_side,
                lifted[1:] - to_side,
                lifted[:-1] - from_side,
            ],
            axis=1,
        )
        for quad in np.rint(corners * _ONE).astype(np.int32):
            cv2.fillConvexPoly(image, quad, shade, cv2.LINE_AA, _SHIFT)


def hulls(
    image: Image, pieces: Sequence[tuple[NDArray[np.float64], Sequence[float]]], colour: Colour
) -> None:
    """A body made of hulls between cross-sections, lit from above.

    pieces: for each hull the ends of its two sections, pixels, shape (2 sections, left and right,
    2), and the half thickness of each. Each layer goes over all of them before the next: no seams.
    """
    for lift, thick, tone, share in _LAYERS:
        shade = mix(colour, tone, share)
        for ends, radii in pieces:
            rims = [
                end + radius * (thick * _CIRCLE - np.array([0.0, lift]))
                for section, radius in zip(ends, radii, strict=True)
                for end in section * thick + section.mean(axis=0) * (1 - thick)
            ]
            hull = cv2.convexHull(np.rint(np.concatenate(rims) * _ONE).astype(np.int32))
            cv2.fillConvexPoly(image, hull, shade, cv2.LINE_AA, _SHIFT)


def ball_hull(
    spots: NDArray[np.float64], radii: NDArray[np.float64], corners: int = 24
) -> NDArray[np.float32]:
    """The outline round balls in the picture.

    spots: shape (n, 2), radii: (n,); any unit. corners: of each ball.
    """
    angles = 2 * np.pi * np.arange(corners) / corners
    round_ = np.stack([np.cos(angles), np.sin(angles)], axis=1)
    rims = spots[:, None] + radii[:, None, None] * round_
    hull = cv2.convexHull(rims.reshape(-1, 2).astype(np.float32))[:, 0]
    return np.asarray(hull, np.float32)


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
