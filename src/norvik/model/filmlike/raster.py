"""From surfaces to pixels: which piece is seen where, and what it carries there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.camera import Camera
from norvik.model.filmlike.tube import Mesh, Points, unit

Floats = NDArray[np.float32]
#: cv2 takes coordinates in sixteenths of a pixel.
_SHIFT = 4


@dataclass(frozen=True, slots=True)
class Seen:
    """What is seen of a body in a part of the picture.

    left, top: of the part. solid: where the body is, shape (height, width); uv: on the atlas, 0..1,
    for each of its pixels row by row. Light changes slowly over a body: for every second pixel of
    every second row alone there are coarse (where the body is), normal and place (directions and
    metres in the pool, shape (n, 3)), depth (metres from the camera, (n,)) and moved (pixels by
    which it moves to the next instant, (n, 2)). float32.
    """

    left: int
    top: int
    solid: NDArray[np.bool_]
    uv: Floats
    coarse: NDArray[np.bool_]
    normal: Floats
    place: Floats
    depth: Floats
    moved: Floats

    def image(self, values: Floats) -> Floats:
        """Values of the coarse pixels as a picture of half the size, 0 beside the body."""
        found = np.zeros((*self.coarse.shape, *values.shape[1:]), np.float32)
        found[self.coarse] = values
        return found

    def fine(self, values: Floats) -> Floats:
        """Values of the coarse pixels for all of the body's pixels, smooth between them."""
        weight = cv2.blur(self.coarse.astype(np.float32), (3, 3))
        spread = np.asarray(cv2.blur(self.image(values), (3, 3)), np.float32)
        spread /= np.maximum(weight, 0.1)[..., None]
        own = self.image(values)
        spread[self.coarse] = own[self.coarse]
        height, width = self.solid.shape
        whole = cv2.resize(spread, (2 * self.coarse.shape[1], 2 * self.coarse.shape[0]))
        return np.asarray(whole[:height, :width][self.solid], np.float32)


@dataclass(frozen=True, slots=True)
class _Quads:
    """Corners of all pieces of a surface: shape (pieces, 4, k)."""

    points: Points
    normals: Points
    uv: Points
    later: Points


def raster(
    meshes: Sequence[Mesh], later: Sequence[Mesh], camera: Camera, travelled_m: float,
    later_m: float, places: dict[str, tuple[float, float, float, float]],
) -> Seen | None:  # fmt: skip
    """What a camera sees of surfaces; None where they are out of the picture.

    later: the same surfaces an instant later, for blur. places: left, top, width and height of
    each part's texture on the atlas, 0..1.
    """
    parts = [_quads(a, b, places[a.part]) for a, b in zip(meshes, later, strict=True)]
    points, normals, uv, after = (
        np.concatenate([getattr(q, name) for q in parts])
        for name in ("points", "normals", "uv", "later")
    )
    flat, depth = _flat(points, camera, travelled_m)
    flat_later, _ = _flat(after, camera, later_m)
    faces = np.sum(normals.sum(axis=1) * _towards(points, camera, travelled_m), axis=1) > 0
    faces &= depth.min(axis=1) > 0.15
    low, high = flat.min(axis=1), flat.max(axis=1)
    faces &= (high > 0).all(axis=1)
    faces &= (low[:, 0] < camera.width_px) & (low[:, 1] < camera.height_px)
    chosen = np.flatnonzero(faces)
    if not chosen.size:
        return None
    chosen = chosen[np.argsort(-depth[chosen].mean(axis=1))]
    flat, depth, moved = flat[chosen], depth[chosen], (flat_later - flat)[chosen]
    margin = 3
    left, top = (int(v) for v in np.maximum(flat.min(axis=(0, 1)) - margin, 0))
    right = int(min(camera.width_px, flat[..., 0].max() + margin))
    bottom = int(min(camera.height_px, flat[..., 1].max() + margin))
    if right - left < 2 or bottom - top < 2:
        return None
    whose = np.zeros((bottom - top, right - left), np.int32)
    corners = np.rint((flat - [left, top]) * (1 << _SHIFT)).astype(np.int32)
    for number, corner in enumerate(corners, 1):
        cv2.fillConvexPoly(whose, corner, number, cv2.LINE_8, _SHIFT)
    if not whose[::2, ::2].any():
        # A sliver at the edge, thinner than what light is worked out for.
        return None
    corners_px = (flat - [left, top]).astype(np.float32)
    uv_there = _between(uv[chosen].astype(np.float32), corners_px, whose, 1)
    carried = np.concatenate(
        [normals[chosen], points[chosen], depth[..., None], moved], axis=-1
    ).astype(np.float32)
    there = _between(carried, corners_px, whose[::2, ::2], 2)
    return Seen(
        left, top, whose > 0, uv_there, whose[::2, ::2] > 0, there[:, 0:3], there[:, 3:6],
        there[:, 6], there[:, 7:9],
    )  # fmt: skip


def _towards(points: Points, camera: Camera, travelled_m: float) -> Points:
    """From each piece to the camera."""
    eye = np.array(camera.position)
    if camera.still:
        eye = eye - np.array([travelled_m, 0.0, 0.0])
    return np.asarray(eye - points.mean(axis=1), np.float64)


def _flat(points: Points, camera: Camera, travelled_m: float) -> tuple[Points, Points]:
    return camera.project(points, travelled_m), camera.seen(points, travelled_m)[..., 2]


def _quads(mesh: Mesh, later: Mesh, place: tuple[float, float, float, float]) -> _Quads:
    left, top, width, height = place

    def four(grid: Points, closes: bool) -> Points:
        grid = np.concatenate([grid, grid[:, :1]], axis=1) if closes else grid
        corners = [grid[:-1, :-1], grid[:-1, 1:], grid[1:, 1:], grid[1:, :-1]]
        return np.stack([c.reshape(-1, grid.shape[-1]) for c in corners], axis=1)

    uv = mesh.uv * [width, height] + [left, top]
    return _Quads(
        four(mesh.points, True), four(_normals(mesh.points), True), four(uv, False),
        four(later.points, True),
    )  # fmt: skip


def _normals(points: Points) -> Points:
    """Outward directions of a grid that closes around."""
    round_ = np.roll(points, -1, axis=1) - np.roll(points, 1, axis=1)
    down = np.gradient(points, axis=0)
    found = np.cross(down, round_)
    middle = points.mean(axis=1, keepdims=True)
    outward = np.sum(found * (points - middle), axis=(1, 2))
    found = unit(found * np.where(outward < 0, -1.0, 1.0)[:, None, None])
    # At its ends a surface looks along itself.
    found[0] = unit(middle[0, 0] - middle[2, 0])
    found[-1] = unit(middle[-1, 0] - middle[-3, 0])
    return found


def _between(carried: Floats, flat: Floats, whose: NDArray[np.int32], step: int) -> Floats:
    """Values of pieces at pixels: each piece as an affine patch of its own.

    carried: at the corners of each piece, shape (pieces, 4, k). flat: the corners in pixels. whose:
    number of the piece that is seen, 0 for none; one for each `step` pixels.
    """
    rows, columns = np.nonzero(whose)
    at = whose[rows, columns] - 1
    middle = flat.mean(axis=1)
    along = 0.5 * (flat[:, 1] + flat[:, 2] - flat[:, 0] - flat[:, 3])
    down = 0.5 * (flat[:, 2] + flat[:, 3] - flat[:, 0] - flat[:, 1])
    area = along[:, 0] * down[:, 1] - along[:, 1] * down[:, 0]
    area = np.where(np.abs(area) < 0.05, 0.05, area)
    value = carried.mean(axis=1)
    by_along = 0.5 * (carried[:, 1] + carried[:, 2] - carried[:, 0] - carried[:, 3])
    by_down = 0.5 * (carried[:, 2] + carried[:, 3] - carried[:, 0] - carried[:, 1])
    # From pixels to shares of the piece, and what it carries there: one row a piece.
    by_area = 1 / area
    frame = np.stack(
        [middle[:, 0], middle[:, 1], down[:, 1] * by_area, down[:, 0] * by_area,
         along[:, 0] * by_area, along[:, 1] * by_area], axis=1,
    ).astype(np.float32)  # fmt: skip
    mine = np.take(frame, at, axis=0)
    x = (columns * step).astype(np.float32) + np.float32(0.5) - mine[:, 0]
    y = (rows * step).astype(np.float32) + np.float32(0.5) - mine[:, 1]
    s = np.clip(x * mine[:, 2] - y * mine[:, 3], -0.5, 0.5)
    t = np.clip(y * mine[:, 4] - x * mine[:, 5], -0.5, 0.5)
    found = np.take(value, at, axis=0)
    found += s[:, None] * np.take(by_along, at, axis=0)
    found += t[:, None] * np.take(by_down, at, axis=0)
    return np.asarray(found, np.float32)
