"""The pool that the camera sees: tiled floor and walls, the surface as a mirror or as a window.

Worked out once for each pixel of a picture of half the size, and sampled for every frame.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.camera import Camera
from norvik.model.filmlike.beams import Beams
from norvik.model.filmlike.water import REFRACTS, SUN, gathered, sky, sky_on, slopes, through
from norvik.model.scene import FLOAT_M, LANE_HALF_M, rope_colour

Floats = NDArray[np.float32]
Image = NDArray[np.uint8]
_FLOOR_M, _WALL_M = -1.85, 4.5
#: Pixels a metre of the baked tiles; they repeat after this many metres along the lane.
_FINE, _REPEATS_M = 96, 2.0
#: Baked floor: from this many metres to the right of the lane's middle to as many to the left.
_FLOOR_HALF_M = 7.0
_WALL_TOP_M = 0.35
#: Metres of water before the sky in a look up from the bottom.
_UP_M = 1.8
#: A ray that rises more steeply than this leaves the water: the cosine of the critical angle.
_WINDOW = float(np.sqrt(1 - 1 / REFRACTS**2))
#: How far beside the slope that mirrors the sun a wave still shows it, and how far beside the sun a
#: look up from under water is still dazzled.
_GLITTER, _GLARE = 0.16, 0.22
_HALL = np.array([206.0, 214.0, 208.0], np.float32)
#: Grass beside an open-air pool.
_LAWN = np.array([112.0, 158.0, 134.0], np.float32)


@dataclass(frozen=True, slots=True)
class _Rays:
    """Where each pixel's ray ends: x_m from the swimmer, baked row, metres through water, share of
    light, where it met the surface (nan where it did not), and how steeply it rises at first.
    """

    x_m: Floats
    row: Floats
    way_m: Floats
    light: Floats
    flat: Floats
    surface_x: Floats
    surface_y: Floats
    rises: Floats


class FilmPool:
    """The background of a camera. start_m: where in the lane the swimmer starts."""

    def __init__(self, camera: Camera, start_m: float, haze: float, sun: float = 0.0) -> None:
        wide, tall = camera.width_px // 2, camera.height_px // 2
        self._camera = replace(camera, width_px=wide, height_px=tall)
        self._full = camera
        self.start_m, self._haze, self._sun = start_m, haze, sun
        self._rays = _ends(self._camera)
        ones = np.ones((*self._rays.way_m.shape, 3), np.float32)
        veil = through(0 * ones, self._rays.way_m, haze)
        lets = through(ones, self._rays.way_m, haze) - veil
        self._lets, self._adds = lets * self._rays.light[..., None], veil
        self._hits = np.isfinite(self._rays.surface_x)
        self._looks_up = bool((self._rays.rises[self._hits] > _WINDOW - 0.1).any())
        self._near = np.exp(-0.18 * self._rays.way_m[self._hits])
        self._hall = _hall(self._camera, sun)
        self._sky = sky(sun)
        self._beams = Beams(camera, haze, sun) if sun and not camera.above else None
        self._toward_sun = self._along_the_sun() if sun else None

    def frame(self, travelled_m: float, time_s: float, leans_m: Floats | None = None) -> Image:
        """The background at an instant, shape (height, width, 3).

        leans_m: how much farther a camera that goes along has come as each row is read, metres,
        shape (height,).
        """
        rays, camera = self._rays, self._camera
        moved = np.float32(travelled_m if not camera.still else 0.0)
        by_row = np.float32(0) if leans_m is None or camera.still else leans_m[::2, None]
        x, y = rays.surface_x[self._hits], rays.surface_y[self._hits]
        steep = slopes(x + moved, y, time_s)
        bend_x, bend_row = self._bent(steep)
        column = np.mod(
            (rays.x_m + bend_x + self.start_m + moved + by_row) * _FINE, _REPEATS_M * _FINE
        )
        tiles = cv2.remap(
            _tiles(), column.astype(np.float32), rays.row + bend_row, cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_REPLICATE,
        ).astype(np.float32)  # fmt: skip
        small = np.s_[::2, ::2]
        light = gathered((rays.x_m + bend_x + by_row)[small] + moved, rays.flat[small], time_s)
        light = (
            0.86
            - 0.16 * self._sun
            + (0.80 + 0.75 * self._sun)
            * np.asarray(cv2.resize(light, (column.shape[1], column.shape[0])))
        )
        lit = cv2.multiply(cv2.multiply(tiles, self._lets), cv2.merge([light] * 3))
        picture = self._glints(np.asarray(cv2.add(lit, self._adds), np.float32), steep)
        if self._beams is not None:
            self._beams.shine(picture, float(moved), time_s)
        whole = cv2.resize(
            np.clip(picture, 0, 255).astype(np.uint8), (self._full.width_px, self._full.height_px),
            interpolation=cv2.INTER_LINEAR,
        )  # fmt: skip
        return np.asarray(whole, np.uint8)

    def _bent(self, steep: tuple[Floats, Floats]) -> tuple[Floats, Floats]:
        """How far waves throw a ray that met the surface: metres along the lane, baked rows."""
        rays, hits = self._rays, self._hits
        along, down = np.zeros_like(rays.x_m), np.zeros_like(rays.x_m)
        reach = np.minimum(rays.way_m[hits], 4.0) * (0.5 if self._camera.above else 1.1)
        along[hits] = reach * steep[0]
        down[hits] = reach * steep[1] * _FINE * 0.5
        return along, down

    def _along_the_sun(self) -> Floats:
        """For each look that meets the surface: from above, halfway between eye and sun, as slopes
        that would mirror it, shape (n, 2); from below, how far it goes past the sun in the window.
        """
        hits = self._hits
        there = np.stack(
            [self._rays.surface_x[hits], self._rays.surface_y[hits], np.zeros(int(hits.sum()))],
            axis=1,
        )
        toward = np.array(self._camera.position) - there
        toward /= np.linalg.norm(toward, axis=1, keepdims=True)
        if self._camera.above:
            half = toward + SUN
            return np.asarray(-half[:, :2] / half[:, 2:], np.float32)
        return np.asarray(-toward[:, :2] - SUN[:2] / REFRACTS, np.float32)

    def _glints(self, picture: Floats, steep: tuple[Floats, Floats]) -> Floats:
        """Light on the surface itself: the sky on it from above, bright ripples from below."""
        hits, rays, slope = self._hits, self._rays, steep[1]
        if self._camera.above:
            picture[hits] += (self._sky - picture[hits]) * sky_on(slope)[:, None]
            self._mirrored_sun(picture, steep, _GLITTER)
            if self._hall is not None:
                np.copyto(picture, self._hall, where=~hits[..., None])
            return picture
        if self._looks_up:
            # Steep enough, a look leaves the water: the sky in a round window with a wavy edge.
            open_ = np.clip((rays.rises[hits] + 0.45 * slope - _WINDOW) / 0.03, 0, 1)[:, None]
            # Each wave shows another part of hall and lamps; the water between takes its share.
            shown = np.clip(0.66 + 1.5 * slope + 0.8 * slope**2, 0.42, 1.1)[:, None]
            above = through(self._sky * shown, np.full(len(slope), _UP_M, np.float32), self._haze)
            picture[hits] += (above - picture[hits]) * open_
            self._mirrored_sun(picture, steep, _GLARE)
        ripple = np.clip(np.abs(slope) * 5 - 0.35, 0, 1) * self._near
        picture[hits] += (ripple * 70)[:, None] * np.array([1.0, 0.97, 0.80], np.float32)
        return picture

    def _mirrored_sun(self, picture: Floats, steep: tuple[Floats, Floats], wide: float) -> None:
        """The sun's own picture on or through the surface: a glare that waves break up, in place.

        wide: how far beside the mirror's slope a wave still shows some of it.
        """
        if self._toward_sun is None:
            return
        # The ripples that are too small to be seen are steeper than the waves that carry them.
        off = [self._toward_sun[:, k] + np.float32(2.2) * steep[k] for k in range(2)]
        share = np.exp(-(off[0] ** 2 + off[1] ** 2) / np.float32(wide) ** 2)
        shines = share * (np.float32(self._sun) * 190)
        picture[self._hits] += shines[:, None] * np.array([0.86, 0.97, 1.0], np.float32)

    def ropes(self, image: Image, travelled_m: float, leans_m: Floats | None = None) -> None:
        """Floats of the far rope; from in front and above also the near one. In place.

        leans_m: see `frame`.
        """
        camera, here = self._full, self.start_m + travelled_m
        sides = [LANE_HALF_M] if camera.view.startswith("side") else [LANE_HALF_M, -LANE_HALF_M]
        for y in sides:
            numbers = np.arange(int((here - 5) / FLOAT_M), int((here + 8) / FLOAT_M))
            along = (numbers + 0.5) * FLOAT_M - here
            centres = np.stack([along, np.full(numbers.size, y), 0 * along], axis=1)
            moved = travelled_m if camera.still else 0.0
            depth = camera.seen(centres, moved)[:, 2]
            points = camera.project(centres, moved)
            if leans_m is not None and not camera.still:
                rows = np.clip(points[:, 1], 0, camera.height_px - 1).astype(int)
                centres[:, 0] -= leans_m[rows]
                points = camera.project(centres, moved)
            order = np.argsort(-depth)
            for n in order:
                away, (px, py) = float(depth[n]), points[n]
                if away < 0.6 or not (-60 < px < camera.width_px + 60):
                    continue
                self._float(image, px, py, away, rope_colour((numbers[n] + 0.5) * FLOAT_M,
                                                             int(numbers[n])))  # fmt: skip

    def _float(
        self, image: Image, x: float, y: float, away: float, colour: tuple[int, int, int]
    ) -> None:
        camera = self._full
        size = camera.px_per_m(away) * FLOAT_M
        base = np.array(colour, np.float32)
        way = 0.4 if camera.above else away * 0.5
        shades = [
            through((base * k + add)[None], np.array([way], np.float32), self._haze)[0]
            for k, add in ((0.55, 0.0), (0.95, 6.0), (1.0, 70.0))
        ]
        for (up, long, tall), shade in zip(
            ((0.0, 0.46, 0.40), (-0.08, 0.40, 0.28), (-0.18, 0.24, 0.08)), shades, strict=True
        ):
            cv2.ellipse(
                image, (round(x * 16), round((y + up * size) * 16)),
                (round(long * size * 16), round(tall * size * 16)), 0, 0, 360,
                tuple(float(v) for v in shade), -1, cv2.LINE_AA, 4,
            )  # fmt: skip


def _ends(camera: Camera) -> _Rays:
    """Follow the ray of every pixel to the floor or a wall, by way of the surface."""
    y, x = np.mgrid[0 : camera.height_px, 0 : camera.width_px].astype(np.float64)
    right, down, forward = camera.axes
    focal = camera.focal_px
    way = (
        ((x + 0.5 - camera.width_px / 2) / focal)[..., None] * right
        + ((y + 0.5 - camera.height_px / 2) / focal)[..., None] * down
        + forward
    )
    way /= np.linalg.norm(way, axis=-1, keepdims=True)
    eye = np.broadcast_to(np.array(camera.position), way.shape)
    rising = way[..., 2] > 1e-4
    surface = np.full(way.shape[:2], np.inf)
    to_surface = -eye[..., 2] / np.where(np.abs(way[..., 2]) < 1e-4, np.nan, way[..., 2])
    meets = (rising if not camera.above else ~rising) & (to_surface > 0)
    wall_at = _to_wall(eye, way)
    meets &= to_surface < wall_at
    if not camera.above:
        # Over the water line on the lens there is air.
        meets &= y > camera.surface_px - 24
    surface[meets] = to_surface[meets]
    at = eye + way * np.where(meets, surface, 0.0)[..., None]
    after = way.copy()
    if camera.above:
        # Into the water: bent toward the vertical.
        flat = way[..., :2] / REFRACTS
        after[..., :2] = flat
        after[..., 2] = -np.sqrt(np.maximum(0.05, 1 - np.sum(flat**2, axis=-1)))
    else:
        # A flat look at the surface from below is thrown back into the pool.
        after[..., 2] = np.where(meets, -np.abs(way[..., 2]), way[..., 2])
    wall = _to_wall(at, after)
    floor = (_FLOOR_M - at[..., 2]) / np.where(after[..., 2] < -1e-4, after[..., 2], -1e-4)
    on_floor = (floor < wall) & (after[..., 2] < 0)
    end = np.minimum(np.where(on_floor, floor, wall), 30.0)
    spot = at + after * end[..., None]
    depth = np.clip(-spot[..., 2], 0, 3)
    row = np.where(
        on_floor, (spot[..., 1] + _FLOOR_HALF_M) * _FINE,
        2 * _FLOOR_HALF_M * _FINE + (spot[..., 2] - _FLOOR_M) * _FINE,
    )  # fmt: skip
    below = end + np.where(meets & (not camera.above), np.where(meets, surface, 0), 0)
    light = np.where(on_floor, 0.92, 0.80) * np.exp(-0.10 * depth)
    if not camera.above:
        light = light * np.where(meets, 0.92, 1.0)
    surface_x = np.where(meets, at[..., 0], np.nan)
    flat = np.where(on_floor, spot[..., 1], spot[..., 2] * 2)
    surface_y = np.where(meets, at[..., 1], np.nan)
    found = (spot[..., 0], row, below, light, flat, surface_x, surface_y, way[..., 2])
    return _Rays(*(np.asarray(v, np.float32) for v in found))


def _to_wall(start: NDArray[np.float64], way: NDArray[np.float64]) -> NDArray[np.float64]:
    """Metres to the long walls to either side, inf along them."""
    toward = way[..., 1]
    room = np.where(toward > 0, _WALL_M - start[..., 1], -7.0 - start[..., 1])
    along = np.abs(toward) < 1e-3
    return np.where(along, np.inf, room / np.where(along, 1, toward))


@lru_cache(maxsize=1)
def _tiles() -> Image:
    """Floor and wall baked: along the lane from left to right, floor rows, then wall rows."""
    rng = np.random.default_rng(11)
    width = round(_REPEATS_M * _FINE)
    floor_rows = round(2 * _FLOOR_HALF_M * _FINE)
    wall_rows = round((_WALL_TOP_M - _FLOOR_M) * _FINE)
    rows = floor_rows + wall_rows
    y, x = np.mgrid[0:rows, 0:width].astype(np.float32)
    picture = np.empty((rows, width, 3), np.float32)
    picture[:] = (214, 208, 186)
    tile = 0.25 * _FINE
    tones = rng.normal(1, 0.035, (rows // 8 + 2, width // 8 + 2)).astype(np.float32)
    each = tones[(y // tile).astype(int), (x // tile).astype(int)]
    picture *= each[..., None]
    grout = (np.mod(x, tile) < 1.6) | (np.mod(y, tile) < 1.6)
    picture[grout] *= 0.80
    lane = np.mod(y / _FINE - _FLOOR_HALF_M + 1.25, 2.5) - 1.25
    line = (np.abs(lane) < 0.125) & (y < floor_rows)
    picture[line] = picture[line] * np.array([0.42, 0.30, 0.16])
    # The wall has a dark row at the water and one at the foot.
    up = (y - floor_rows) / _FINE + _FLOOR_M
    band = (y >= floor_rows) & (np.abs(up + 0.10) < 0.06)
    picture[band] = picture[band] * np.array([0.62, 0.50, 0.34])
    made = cv2.GaussianBlur(np.clip(picture, 0, 255).astype(np.uint8), (0, 0), 0.7)
    return np.asarray(cv2.copyMakeBorder(made, 0, 0, 0, 2, cv2.BORDER_WRAP), np.uint8)


def _hall(camera: Camera, sun: float) -> Floats | None:
    """The hall beyond the pool for a camera in the air; None where none of it is seen."""
    if not camera.above:
        return None
    picture = np.empty((camera.height_px, camera.width_px, 3), np.float32)
    picture[:] = _HALL * (1 - sun) + _LAWN * sun
    far = camera.project(np.array([camera.position[0], _WALL_M, 0.0]))
    edge = round(float(far[1]))
    if edge > 0:
        picture[max(0, edge - 14) : edge] = (176, 190, 192)
        picture[: max(0, edge - 14)] *= np.linspace(0.86, 1.02, max(1, edge - 14))[:, None, None]
    return np.asarray(cv2.GaussianBlur(picture, (0, 0), 2.5), np.float32)


def hall_behind(camera: Camera, travelled_m: float, sun: float = 0.0) -> Image:
    """What is seen over the water from beside the pool, out of focus: wall, windows, deck; or, as
    far as there is sun, sky, trees and deck.
    """
    height, width = max(2, camera.surface_px + 40), camera.width_px
    small = np.empty((height // 4, width // 4, 3), np.float32)
    small[:] = np.linspace(232, 206, height // 4)[:, None, None] * np.array([1.0, 1.0, 0.985])
    step, shift = 90, int(-travelled_m * 22) % 90
    for left in range(shift - step, width // 4 + step, step):
        cv2.rectangle(small, (left, 0), (left + 52, height // 9), (250, 250, 246), -1)
    if sun:
        small = small * (1 - sun) + _open_air(height // 4, width // 4, travelled_m) * sun
    cv2.rectangle(small, (0, height // 4 - 16), (width // 4, height // 4), (170, 188, 194), -1)
    soft = cv2.GaussianBlur(small, (0, 0), 5)
    return np.asarray(cv2.resize(np.clip(soft, 0, 255).astype(np.uint8), (width, height)), np.uint8)


def _open_air(rows: int, columns: int, travelled_m: float) -> Floats:
    """Sky over a row of trees, shape (rows, columns, 3)."""
    share = np.linspace(0, 1, rows, dtype=np.float32)[:, None, None]
    high, low = np.array([232.0, 190.0, 136.0]), np.array([242.0, 228.0, 206.0])
    picture = np.broadcast_to(high * (1 - share) + low * share, (rows, columns, 3)).copy()
    x = np.arange(columns) + travelled_m * 9
    crowns = 0.52 + sum(
        deep * np.sin(x / wide + turn)
        for deep, wide, turn in ((0.10, 31.0, 0.4), (0.08, 13.7, 1.0), (0.06, 6.1, 2.2))
    )
    trees = np.arange(rows)[:, None] > (crowns * rows)[None]
    picture[trees] = (78, 122, 88)
    return np.asarray(picture, np.float32)
