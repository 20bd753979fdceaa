"""Light on the body: the sky above, what the water lets through, caustics, gloss, shade."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.camera import Camera
from norvik.model.filmlike.raster import Seen
from norvik.model.filmlike.skin import SIZE
from norvik.model.filmlike.water import DEEP, SUN, gathered, sky, sky_on, slopes, through

Floats = NDArray[np.float32]
#: Light under water is a little blue.
_COOL = np.array([1.03, 1.02, 1.0], np.float32)


def lit(
    seen: Seen, atlas: NDArray[np.uint8], camera: Camera, time_s: float, travelled_m: float,
    haze: float, sunny: float = 0.0,
) -> Floats:  # fmt: skip
    """Colours of the pixels that are seen, B, G, R of 0..255, shape (n, 3).

    sunny: 0 in a hall to 1 in the open air.
    """
    normal, shade = _soft_normals(seen), _corners(seen)
    height, up = seen.place[:, 2], normal[:, 2]
    under = np.clip(0.5 - height / 0.02, 0, 1)[:, None]
    eye = np.array(camera.position, np.float32)
    if camera.still:
        eye = eye - np.array([travelled_m, 0, 0], np.float32)
    toward = _unit(eye - seen.place)
    facing = np.clip(np.einsum("ij,ij->i", normal, toward), 0, 1)
    # In the air: sky and sun, and wet skin that shines.
    sun = np.clip(normal @ SUN, 0, 1)
    gloss = np.clip(np.einsum("ij,ij->i", normal, _unit(toward + SUN)), 0, 1)
    air = 0.50 - 0.14 * sunny + 0.22 * (up * 0.5 + 0.5) + (0.50 + 0.34 * sunny) * sun
    shine = (150 + 60 * sunny) * gloss**36 + 34 * (1 - facing) ** 3
    # In the water: light from all of the surface, gathered by its waves.
    deep = np.clip(-height, 0, None)
    bundles = gathered(
        seen.place[:, 0] + np.float32(travelled_m) + 0.35 * deep,
        seen.place[:, 1] + 0.4 * deep, time_s,
    )  # fmt: skip
    below = (0.34 + 0.88 * (up * 0.5 + 0.5) ** 1.4) * np.exp(-0.18 * deep)
    below += (bundles - 0.08) * (0.8 + 0.7 * sunny) * np.clip(up + 0.3, 0, 1) * np.exp(-0.5 * deep)
    below += 0.16 * (1 - facing) ** 2
    way = deep / np.maximum(0.3, np.abs(toward[:, 2])) if camera.above else seen.depth * 0.22
    # What is left of the skin's own colour, and what is added to it.
    ones = np.ones((len(way), 3), np.float32)
    adds = through(0 * ones, way.astype(np.float32), haze)
    lets = (through(ones, way.astype(np.float32), haze) - adds) * _COOL
    keeps = lets * (below * shade)[:, None] * under + (air * shade)[:, None] * (1 - under)
    if camera.above:
        # The surface lies over what is under it.
        across = slopes(seen.place[:, 0] + np.float32(travelled_m), seen.place[:, 1], time_s)[1]
        veil = 0.22 * np.clip(deep / 0.02, 0, 1)[:, None] * under
        keeps, adds = keeps * (1 - veil), adds * (1 - veil) + DEEP * 1.2 * veil
        over = sky(sunny)
        sheen = (0.06 + 0.8 * sky_on(across))[:, None] * np.clip(deep / 0.03, 0, 1)[:, None] * under
        keeps, adds = keeps * (1 - sheen), adds * (1 - sheen) + over * 0.8 * sheen
    adds = adds * under + shine[:, None] * (1 - under)
    both = seen.fine(np.concatenate([keeps, adds], axis=1).astype(np.float32))
    albedo = _sampled(atlas, seen.uv * np.float32(SIZE))
    return np.asarray(albedo * both[:, :3] + both[:, 3:], np.float32)


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
    weight = seen.coarse.astype(np.float32)
    size = (5, 5)
    # Only over what lies about as deep: an arm before the chest keeps its own edge.
    blurred = np.asarray(cv2.blur(seen.image(seen.normal), size), np.float32)[seen.coarse]
    near = np.asarray(cv2.blur(seen.image(seen.depth), size), np.float32)[seen.coarse]
    around = near / np.asarray(cv2.blur(weight, size), np.float32)[seen.coarse]
    alike = 0.8 * np.exp(-(((seen.depth - around) / 0.03) ** 2))[:, None]
    mixed = seen.normal * (1 - alike) + _unit(blurred) * alike
    return _unit(mixed.astype(np.float32))


def _corners(seen: Seen) -> Floats:
    """Less light where something lies close before: 1 in the open, down to 0.6."""
    weight = seen.coarse.astype(np.float32)
    small = cv2.resize(seen.image(seen.depth), None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    cover = cv2.resize(weight, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    soft = cv2.GaussianBlur(small, (0, 0), 4) / np.maximum(cv2.GaussianBlur(cover, (0, 0), 4), 0.05)
    around = cv2.resize(soft, (weight.shape[1], weight.shape[0]))[seen.coarse]
    behind = np.clip((seen.depth - around) / 0.16, 0, 1)
    return np.asarray(1 - 0.42 * behind, np.float32)
