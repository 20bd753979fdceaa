"""Light on the body: the sky above, what the water lets through, caustics, gloss, shade."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.camera import Camera
from norvik.model.filmlike.raster import Seen
from norvik.model.filmlike.skin import SIZE
from norvik.model.filmlike.water import gathered, through

Floats = NDArray[np.float32]
_SUN = np.array([-0.30, -0.42, 0.86], np.float32) / np.float32(np.sqrt(0.30**2 + 0.42**2 + 0.86**2))




def lit(
    seen: Seen, atlas: NDArray[np.uint8], camera: Camera, time_s: float, travelled_m: float,
    haze: float,
) -> Floats:  # fmt: skip
    """Colours of the pixels that are seen, B, G, R of 0..255, shape (n, 3)."""
    albedo = _sampled(atlas, seen.uv * np.float32(SIZE))
    normal, shade = _soft_normals(seen), _corners(seen)
    height, up = seen.place[:, 2], normal[:, 2]
    under = np.clip(0.5 - height / 0.02, 0, 1)[:, None]
    eye = np.array(camera.position, np.float32)
    if camera.still:
        eye = eye - np.array([travelled_m, 0, 0], np.float32)
    toward = _unit(eye - seen.place)
    facing = np.clip(np.einsum("ij,ij->i", normal, toward), 0, 1)
    # In the air: sky and sun, and wet skin that shines.
    sun = np.clip(normal @ _SUN, 0, 1)
    gloss = np.clip(np.einsum("ij,ij->i", normal, _unit(toward + _SUN)), 0, 1)
    air = 0.50 + 0.22 * (up * 0.5 + 0.5) + 0.50 * sun
    shine = 150 * gloss**36 + 34 * (1 - facing) ** 3
    # In the water: light from all of the surface, gathered by its waves.
    deep = np.clip(-height, 0, None)
    bundles = gathered(
        seen.place[:, 0] + np.float32(travelled_m) + 0.35 * deep,
        seen.place[:, 1] + 0.4 * deep, time_s,
    )  # fmt: skip
    below = (0.50 + 0.62 * (up * 0.5 + 0.5) ** 1.3) * np.exp(-0.20 * deep)
    below += (bundles - 0.10) * 1.25 * np.clip(up + 0.3, 0, 1) * np.exp(-0.6 * deep)
    below += 0.16 * (1 - facing) ** 2
    in_air = albedo * (air * shade)[:, None] + shine[:, None]
    in_water = albedo * (below * shade)[:, None] * np.array([1.08, 1.03, 0.94], np.float32)
    if camera.above:
        way = deep / np.maximum(0.3, np.abs(toward[:, 2]))
    else:
        way = seen.depth * 0.5
    in_water = through(in_water, way.astype(np.float32), haze)
    return np.asarray(in_water * under + in_air * (1 - under), np.float32)


def _sampled(picture: NDArray[np.uint8], places: Floats) -> Floats:
    """Colours of a picture at places in pixels, shape (n, 2): as a list, shape (n, 3)."""
    count = len(places)
    rows = -(-count // 512)
    u, v = (np.resize(np.ascontiguousarray(places[:, k]), (rows, 512)) for k in (0, 1))
    found = cv2.remap(picture, u, v, cv2.INTER_LINEAR)
    return found.reshape(-1, 3)[:count].astype(np.float32)


def _unit(vectors: Floats) -> Floats:
    length = np.sqrt(np.einsum("ij,ij->i", vectors, vectors))
    return np.asarray(vectors / np.maximum(length, 1e-6)[:, None], np.float32)


def _soft_normals(seen: Seen) -> Floats:
    """Directions smoothed over neighbours, so that one part flows into the next."""
    weight = seen.solid.astype(np.float32)
    size = (9, 9)
    # Only over what lies about as deep: an arm before the chest keeps its own edge.
    blurred = cv2.blur(seen.image(seen.normal), size)[seen.solid]
    around = cv2.blur(seen.image(seen.depth), size)[seen.solid] / cv2.blur(weight, size)[seen.solid]
    alike = 0.8 * np.exp(-(((seen.depth - around) / 0.03) ** 2))[:, None]
    return _unit(seen.normal * (1 - alike) + _unit(blurred) * alike)


def _corners(seen: Seen) -> Floats:
    """Less light where something lies close before: 1 in the open, down to 0.6."""
    weight = seen.solid.astype(np.float32)
    small = cv2.resize(seen.image(seen.depth), None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    cover = cv2.resize(weight, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    soft = cv2.GaussianBlur(small, (0, 0), 4) / np.maximum(cv2.GaussianBlur(cover, (0, 0), 4), 0.05)
    around = cv2.resize(soft, (weight.shape[1], weight.shape[0]))[seen.solid]
    behind = np.clip((seen.depth - around) / 0.16, 0, 1)
    return np.asarray(1 - 0.42 * behind, np.float32)
