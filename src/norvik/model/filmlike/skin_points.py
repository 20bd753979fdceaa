"""Points of skin and suit that no dot marks: where they truly are, and whether they are seen."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from norvik.model.filmlike.raster import raster
from norvik.model.filmlike.shot import FilmlikeShot
from norvik.model.filmlike.skin import PLACES

#: A point is seen where what is seen lies as deep as it, metres.
_SAME_M = 0.02


@dataclass(frozen=True, slots=True)
class SkinPoint:
    """part: number of the surface; ring: along it; around: on the ring."""

    part: int
    ring: int
    around: int


def nearest(shot: FilmlikeShot, n: int, part: str, ring: int) -> SkinPoint | None:
    """The point of a ring that lies nearest to the camera in frame n, where it can be seen.

    part: name of a surface, as in skin.PLACES; of two, the nearer one.
    """
    moved = float(shot.travelled[n])
    found: list[tuple[float, SkinPoint]] = []
    for number, mesh in enumerate(shot.surfaces(n)):
        if mesh.part == part:
            depth = shot.camera.seen(mesh.points[ring], moved)[:, 2]
            around = int(np.argmin(depth))
            point = SkinPoint(number, ring, around)
            if place(shot, n, point)[1]:
                found.append((float(depth[around]), point))
    return min(found, key=lambda k: k[0])[1] if found else None


def place(shot: FilmlikeShot, n: int, point: SkinPoint) -> tuple[tuple[float, float], bool]:
    """Where a point is in frame n, pixels of a camera held still, and whether it is seen there."""
    camera, moved = shot.camera, float(shot.travelled[n])
    meshes = shot.surfaces(n)
    spot = meshes[point.part].points[point.ring, point.around]
    x, y = (float(v) for v in camera.project(spot, moved))
    seen = raster(meshes, meshes, camera, moved, moved, PLACES)
    if seen is None:
        return (x, y), False
    row, column = int(y - seen.top), int(x - seen.left)
    rows, columns = seen.solid.shape
    if not (0 <= row < rows and 0 <= column < columns and seen.solid[row, column]):
        return (x, y), False
    there = float(seen.image(seen.depth)[row // 2, column // 2])
    return (x, y), abs(there - float(camera.seen(spot, moved)[2])) < _SAME_M
