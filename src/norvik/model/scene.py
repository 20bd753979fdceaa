"""The pool around the swimmer: tiles, water, surface, lane ropes, drawn for each view."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.camera import Camera, Points
from norvik.model.paint import Colour, Image, disc, ellipse
from norvik.model.surface import height_m as head_wave

WATER: Colour = (150, 118, 38)
POOL_M = 25.0
#: The lane's ropes lie this far to either side; the far wall and the bottom.
LANE_HALF_M = 1.25
WALL_M = 4.5
BOTTOM_M = -1.75
TILE_M = 0.5
FLOAT_M = 0.16
_TOP, _DEEP = np.array([196.0, 168.0, 84.0]), np.array([104.0, 74.0, 18.0])
_AIR = np.array([226.0, 228.0, 220.0])
_PLAIN: tuple[Colour, Colour] = ((188, 205, 214), (176, 122, 46))
_ENDS: Colour = (74, 96, 205)
_MARK: Colour = (60, 190, 236)


def rope_colour(x_m: float, number: int) -> Colour:
    """Floats are of one colour 5 m from each end, of two between, and marked at 15 m."""
    x = x_m % POOL_M
    if x < 5 or x > POOL_M - 5:
        return _ENDS
    if abs(x - 15) < FLOAT_M or abs(x - (POOL_M - 15)) < FLOAT_M:
        return _MARK
    return _PLAIN[number // 6 % 2]


class Pool:
    """Paints the background for a camera. start_m: where in the lane the swimmer starts."""

    def __init__(self, camera: Camera, start_m: float = 3.0) -> None:
        self.camera, self.start_m = camera, start_m
        self._level = camera.view == "side-under" and not camera.still and not camera.tilt_deg
        if self._level:
            tile_px = camera.px_per_m(camera.distance_m + WALL_M) * TILE_M
            # Two tiles repeat: a width of whole pixels, so that scrolling has no seam.
            self._period = round(tile_px * 2)
            self._wide = self._tiled(camera.width_px + self._period, self._period / 2)
            self._strip = self._rope_strip()
        else:
            self._still = self._gradient(camera.width_px)

    def frame(self, travelled_m: float) -> Image:
        """A fresh background, shape (height, width, 3)."""
        if not self._level:
            image = self._still.copy()
            self._lines(image, travelled_m)
            return image
        camera = self.camera
        scale = camera.px_per_m(camera.distance_m + WALL_M)
        moved = round(travelled_m * scale) % self._period
        image = self._wide[:, moved : moved + camera.width_px].copy()
        strip, cover = self._strip
        rope = camera.px_per_m(camera.distance_m + LANE_HALF_M)
        left = camera.position[0] - camera.width_px / 2 / rope
        at = round((self.start_m + travelled_m + left) % POOL_M * rope)
        across = slice(at, at + camera.width_px)
        top = camera.surface_px - 6
        np.copyto(image[top : top + 18], strip[:, across], where=cover[:, across])
        return image

    def _gradient(self, width: int) -> Image:
        """Water that darkens with depth; for a camera in the air, water under a far wall."""
        camera = self.camera
        height = camera.height_px
        picture = np.empty((height, width, 3))
        if camera.above:
            rows = np.linspace(0, 1, height)[:, None]
            picture[:] = (_TOP * 0.97 + (_DEEP * 1.25 - _TOP * 0.97) * rows * 0.55)[:, None, :]
            if camera.view == "side-above":
                far = camera.project(np.array([camera.position[0], WALL_M, 0.0]))
                picture[: max(0, round(float(far[1])))] = _AIR
        else:
            surface = min(max(camera.surface_px, 0), height)
            rows = np.linspace(0, 1, height - surface)[:, None]
            picture[surface:] = (_TOP + (_DEEP - _TOP) * rows**0.8)[:, None, :]
            picture[:surface] = _AIR
        return np.clip(picture, 0, 255).astype(np.uint8)

    def _tiled(self, width: int, step: float) -> Image:
        image = self._gradient(width)
        height, surface = self.camera.height_px, self.camera.surface_px
        for x in np.arange(0, width + step, step):
            cv2.line(image, (round(x), surface), (round(x), height), (168, 140, 66), 1)
            cv2.line(image, (round(x), 0), (round(x), surface), (210, 212, 202), 1)
        for y in np.arange(surface + step * 0.7, height, step):
            share = (y - surface) / (height - surface)
            shade = [float(v) for v in (_TOP + (_DEEP - _TOP) * share) * 1.09]
            cv2.line(image, (0, round(y)), (width, round(y)), shade, 1)
        cv2.rectangle(image, (0, height - 30), (width, height), (84, 58, 16), -1)
        cv2.rectangle(image, (0, height - 21), (width, height - 9), (58, 34, 8), -1)
        return image

    def _rope_strip(self) -> tuple[Image, NDArray[np.bool_]]:
        """The whole far rope as a picture, and where it covers the background."""
        camera = self.camera
        scale = camera.px_per_m(camera.distance_m + LANE_HALF_M)
        width = round(POOL_M * scale) + camera.width_px + 2
        strip = np.zeros((18, width, 3), np.uint8)
        cover = np.zeros((18, width, 3), np.uint8)
        for n in range(int(width / scale / FLOAT_M)):
            centre = np.array([(n + 0.5) * FLOAT_M * scale, 9.0])
            axes = (scale * FLOAT_M * 0.42, 8.0)
            ellipse(strip, centre, axes, 0, rope_colour((n + 0.5) * FLOAT_M, n))
            ellipse(cover, centre, axes, 0, (255, 255, 255))
        return strip, cover > 127

    def _lines(self, image: Image, travelled_m: float) -> None:
        """Tiles, lane line and ropes by projection, for cameras that are tilted or stand still."""
        camera = self.camera
        first = np.floor((self.start_m + travelled_m - 5) / TILE_M) * TILE_M
        here = self.start_m + travelled_m
        xs = np.arange(first, first + 13, TILE_M) - here
        shade = (150, 122, 52) if camera.above else (142, 112, 44)
        segments: list[tuple[tuple[float, float, float], tuple[float, float, float]]] = []
        if camera.view.startswith("side"):
            segments += [((x, WALL_M, BOTTOM_M), (x, WALL_M, 0.0)) for x in xs]
        else:
            segments += [((x, -2.6, BOTTOM_M), (x, 2.6, BOTTOM_M)) for x in xs]
            segments += [
                ((xs[0], y, BOTTOM_M), (xs[-1], y, BOTTOM_M)) for y in np.arange(-2.5, 2.6, 0.5)
            ]
        self._segments(image, segments, travelled_m, shade, 1)
        line = [((xs[0], y, BOTTOM_M), (xs[-1], y, BOTTOM_M)) for y in (-0.06, 0.0, 0.06)]
        self._segments(image, line, travelled_m, (70, 44, 12), 5)
        for y in (LANE_HALF_M, -LANE_HALF_M):
            if camera.view == "side-above" and y < 0:
                continue
            self._floats(image, y, here, travelled_m)

    def _segments(self, image: Image, segments, travelled_m: float, shade, thick: int) -> None:  # type: ignore[no-untyped-def]
        ends = np.array(segments, float)
        depth = self.camera.seen(ends, travelled_m)[..., 2]
        shown = (depth > 0.3).all(axis=1)
        points = self.camera.project(ends, travelled_m)
        limit = 4 * self.camera.width_px
        lines = [np.rint(np.clip(p, -limit, limit) * 16).astype(np.int32) for p in points[shown]]
        if lines:
            cv2.polylines(image, lines, False, shade, thick, cv2.LINE_AA, 4)

    def _floats(self, image: Image, y: float, here: float, travelled_m: float) -> None:
        numbers = np.arange(int((here - 5) / FLOAT_M), int((here + 8) / FLOAT_M))
        centres = np.stack(
            [(numbers + 0.5) * FLOAT_M - here, np.full(numbers.size, y), np.zeros(numbers.size)],
            axis=1,
        )
        depth = self.camera.seen(centres, travelled_m)[:, 2]
        points = self.camera.project(centres, travelled_m)
        for n, at, away in sorted(zip(numbers, points, depth, strict=True), key=lambda k: -k[2]):
            inside = (
                -60 < at[0] < self.camera.width_px + 60 and -60 < at[1] < self.camera.height_px + 60
            )
            if away > 0.4 and inside:
                size = self.camera.px_per_m(float(away)) * FLOAT_M
                long = size * (0.45 if self.camera.view != "front-under" else 0.36)
                ellipse(image, at, (long, size * 0.36), 0, rope_colour((n + 0.5) * FLOAT_M, int(n)))

    def surface(
        self, image: Image, time_s: float, crown_px: float | None = None, speed_m_s: float = 0.0
    ) -> None:
        """The water line on the lens in front of everything, gently moving.

        crown_px: where the head passes through it, in a view across the swimmer; there the water
        piles up and sinks with the speed.
        """
        if self.camera.above:
            return
        x = np.arange(0, self.camera.width_px + 8, 8)
        y = (
            self.camera.surface_px
            + 2.2 * np.sin(x / 61 + time_s * 3.1)
            + 1.4 * np.sin(x / 23 - time_s * 4.3)
            - np.tan(np.deg2rad(self.camera.tilt_deg)) * (x - self.camera.width_px / 2)
        )
        if crown_px is not None:
            scale = self.camera.px_per_m(self.camera.distance_m)
            y = y - scale * head_wave(np.asarray((crown_px - x) / scale, np.float64), speed_m_s)
        line = np.stack([x, y], axis=1)
        points = np.rint(line * 16).astype(np.int32)
        cv2.polylines(image, [points], False, (238, 240, 226), 3, cv2.LINE_AA, 4)
        lower = np.rint((line + np.array([0.0, 4.0])) * 16).astype(np.int32)
        cv2.polylines(image, [lower], False, (206, 186, 112), 2, cv2.LINE_AA, 4)


def splash(image: Image, at: NDArray[np.float64], age: float, size: float) -> None:
    """Drops and foam where a hand goes in; age from 0 (now) to 1 (gone)."""
    rng = np.random.default_rng(7)
    for n in range(9):
        spread = (rng.random() - 0.5) * size * (0.6 + age)
        height = rng.random() * size * 0.5 * np.sin(np.pi * min(1.0, age + 0.1))
        radius = (1 - age) * (2.2 + 2.4 * rng.random())
        disc(image, at + np.array([spread, -height if n % 2 else 3.0]), radius, (244, 246, 240))


def bubble_places(mouth: NDArray[np.float64], time_s: float, speed_m_s: float) -> Points:
    """Where the bubbles of one breath are, metres in the swimmer's frame, shape (16, 3).

    The swimmer leaves them behind while they rise, about 0.25 m/s for their size, and spread; at
    the surface they are gone.
    """
    number = np.arange(16)
    age = np.mod(time_s * 1.9 + number / 16, 1.0) * 0.5
    spread = 0.05 + 0.10 * age
    back = -age * 0.6 * speed_m_s
    places = mouth + np.stack(
        [
            back + 0.02 * np.sin(number * 1.3),
            spread * np.sin(number * 2.4),
            0.25 * age + 0.4 * spread * np.sin(number * 3.7 + 18 * age),
        ],
        axis=1,
    )
    return np.asarray(places[places[:, 2] < 0.0], np.float64)


def bubbles(image: Image, at: Points, scale: float) -> None:
    """Bubbles at these pixels. scale: pixels a metre there."""
    for n, spot in enumerate(at):
        radius = max(1.2, scale * (0.006 + 0.010 * np.sin(n * 1.7) ** 2))
        disc(image, spot, radius, (226, 214, 170))
        disc(image, spot - 0.3 * radius, radius * 0.45, (250, 248, 236))


def churn(image: Image, seed: int, strength: float) -> None:
    """Another lane's splash and bubbles that hide parts of the picture."""
    rng = np.random.default_rng(seed)
    height, width = image.shape[:2]
    for _ in range(round(130 * strength)):
        at = np.array([width * rng.beta(4, 3), height * (0.22 + 0.4 * rng.random() ** 1.4)])
        shade = 200 + int(50 * rng.random())
        disc(image, at, 4 + 26 * rng.random() ** 2, (shade, shade, shade - 16))
