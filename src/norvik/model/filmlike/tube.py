"""Tubes: rings of points along a limb that bend with it and close at both ends."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Mesh:
    """A surface as a grid of points that closes on itself.

    points: metres, shape (rings, around, 3). uv: place on the texture of its part, 0..1, shape
    (rings, around + 1, 2): the seam is there twice. part: whose texture it takes.
    """

    points: Points
    uv: Points
    part: str


def unit(vectors: Points) -> Points:
    length = np.linalg.norm(vectors, axis=-1, keepdims=True)
    return np.asarray(vectors / np.maximum(length, 1e-9), np.float64)


def bent_line(corners: Sequence[Points], shares: Points, soft: float) -> Points:
    """Points along a line through corners, rounded at those between its ends.

    shares: 0 at the first corner, 1 at the second and so on; beyond the ends it goes straight on.
    soft: share of each piece over which a corner is round.
    """
    at = np.array(corners)
    piece = np.clip(np.floor(shares).astype(int), 0, len(at) - 2)
    within = (shares - piece)[:, None]
    found = at[piece] + within * (at[piece + 1] - at[piece])
    for n in range(1, len(at) - 1):
        near = np.abs(shares - n) < soft
        start, end = at[n] + soft * (at[n - 1] - at[n]), at[n] + soft * (at[n + 1] - at[n])
        w = ((shares[near] - n + soft) / (2 * soft))[:, None]
        found[near] = (1 - w) ** 2 * start + 2 * w * (1 - w) * at[n] + w**2 * end
    return np.asarray(found, np.float64)


def tangents(centres: Points) -> Points:
    """Direction of a line of points at each of them."""
    return unit(np.gradient(centres, axis=0))


def carried(along: Points, first: Points) -> Points:
    """A direction across the line, carried along it without twisting from `first`, at its start."""
    found = np.empty_like(along)
    now = first
    for n, t in enumerate(along):
        now = now - t * float(now @ t)
        now = now / max(1e-9, float(np.linalg.norm(now)))
        found[n] = now
    return found


def tube(
    part: str, centres: Points, across: Points, half: Points, thick: Points, around: int,
    square: float = 1.0, along: Points | None = None, v: tuple[float, float] = (0.0, 1.0),
) -> Mesh:  # fmt: skip
    """A tube of rings, closed at both ends.

    centres, across: shape (rings, 3); across is where the angle 0 lies. half, thick: half sizes
    across and square to it, shape (rings,). square: below 1 the ring is fuller than an ellipse.
    v: from where to where on the texture the rings go.
    """
    t = tangents(centres) if along is None else along
    side = unit(across - t * np.sum(across * t, axis=1, keepdims=True))
    up = np.cross(t, side)
    angle = 2 * np.pi * np.arange(around) / around
    cosine, sine = np.cos(angle), np.sin(angle)
    x = np.sign(cosine) * np.abs(cosine) ** square
    y = np.sign(sine) * np.abs(sine) ** square
    points = (
        centres[:, None]
        + (half[:, None] * x)[..., None] * side[:, None]
        + (thick[:, None] * y)[..., None] * up[:, None]
    )
    rings = len(centres)
    u = np.broadcast_to(np.arange(around + 1) / around, (rings, around + 1))
    down = np.broadcast_to(np.linspace(*v, rings)[:, None], (rings, around + 1))
    uv = np.stack([u, down], axis=-1)
    # A disc closes each end.
    first, last = (np.broadcast_to(points[n].mean(axis=0), points[n].shape) for n in (0, -1))
    shrunk = [0.02 * points[n] + 0.98 * middle for n, middle in ((0, first), (-1, last))]
    points = np.concatenate([shrunk[0][None], points, shrunk[1][None]])
    return Mesh(points, np.concatenate([uv[:1], uv, uv[-1:]]), part)
