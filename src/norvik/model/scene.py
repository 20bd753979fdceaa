"""The pool behind the swimmer: tiled wall, water, surface, lane rope."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.camera import SideCamera
from norvik.model.paint import Colour, Image, disc, ellipse

WALL_M = 4.5
TILE_M = 0.5
ROPE_M = 1.1
FLOAT_M = 0.16
BAND_M = 1.28
WATER: Colour = (150, 118, 38)
_ROPE_COLOURS: tuple[Colour, Colour] = ((188, 205, 214), (74, 96, 205))


class Pool:
    """Paints the background for a camera that has moved travelled_m along the lane."""

    def __init__(self, camera: SideCamera) -> None:
        self.camera = camera
        self._tile_px = camera.px_per_m(WALL_M) * TILE_M
        # Two tiles repeat: a width of whole pixels, so that scrolling has no seam.
        self._period = round(self._tile_px * 2)
        self._wide = self._backdrop(camera.width_px + self._period)
        self._rope_period = round(camera.px_per_m(ROPE_M) * 2 * BAND_M)
        self._strip = self._rope_strip(camera.width_px + self._rope_period)

    def _backdrop(self, width: int) -> Image:
        camera = self.camera
        height, surface = camera.height_px, camera.surface_px
        rows = np.linspace(0, 1, height - surface)[:, None]
        top, bottom = np.array([196.0, 168.0, 84.0]), np.array([104.0, 74.0, 18.0])
        water = top + (bottom - top) * rows**0.8
        picture = np.empty((height, width, 3), np.float64)
        picture[surface:] = water[:, None, :]
        picture[:surface] = np.array([226.0, 228.0, 220.0])
        step = self._period / 2
        for x in np.arange(0, width + step, step):
            cv2.line(picture, (round(x), surface), (round(x), height), (168, 140, 66), 1)
            cv2.line(picture, (round(x), 0), (round(x), surface), (210, 212, 202), 1)
        for y in np.arange(surface + step * 0.7, height, step):
            share = (y - surface) / (height - surface)
            shade = tuple(float(v) for v in (top + (bottom - top) * share) * 1.09)
            cv2.line(picture, (0, round(y)), (width, round(y)), shade, 1)
        cv2.rectangle(picture, (0, height - 30), (width, height), (84, 58, 16), -1)
        cv2.rectangle(picture, (0, height - 21), (width, height - 9), (58, 34, 8), -1)
        return np.clip(picture, 0, 255).astype(np.uint8)

    def frame(self, travelled_m: float, time_s: float) -> Image:
        """A fresh background, shape (height, width, 3)."""
        moved = round(travelled_m * self.camera.px_per_m(WALL_M)) % self._period
        image = self._wide[:, moved : moved + self.camera.width_px].copy()
        self._rope(image, travelled_m)
        return image

    def _rope_strip(self, width: int) -> tuple[Image, NDArray[np.bool_]]:
        """The lane rope as a picture that repeats, and where it covers the background."""
        strip = np.zeros((18, width, 3), np.uint8)
        cover = np.zeros((18, width, 3), np.uint8)
        step = self._rope_period / (4 * BAND_M / FLOAT_M) * 2
        for n in range(round(width / step) + 1):
            centre = np.array([(n + 0.5) * step, 9.0])
            red = int(n / (BAND_M / FLOAT_M)) % 2
            ellipse(strip, centre, (step * 0.42, 8.0), 0, _ROPE_COLOURS[red])
            ellipse(cover, centre, (step * 0.42, 8.0), 0, (255, 255, 255))
        return strip, cover > 127

    def _rope(self, image: Image, travelled_m: float) -> None:
        moved = round(travelled_m * self.camera.px_per_m(ROPE_M)) % self._rope_period
        across = slice(moved, moved + self.camera.width_px)
        strip, cover = self._strip
        top = self.camera.surface_px - 6
        np.copyto(image[top : top + 18], strip[:, across], where=cover[:, across])

    def surface(self, image: Image, time_s: float) -> None:
        """The water line in front of everything, gently moving."""
        x = np.arange(0, self.camera.width_px + 8, 8)
        y = (
            self.camera.surface_px
            + 2.2 * np.sin(x / 61 + time_s * 3.1)
            + 1.4 * np.sin(x / 23 - time_s * 4.3)
        )
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


def bubbles(image: Image, mouth: NDArray[np.float64], time_s: float, scale: float) -> None:
    """A stream that rises and trails behind while the swimmer breathes out."""
    for n in range(14):
        age = (time_s * 1.9 + n / 14) % 1.0
        wobble = np.sin(n * 2.4 + age * 9) * 5
        at = mouth + np.array([-age * 0.42 * scale + wobble * 0.4, -age * 0.10 * scale + wobble])
        radius = 1.5 + 3.6 * age * (0.6 + 0.4 * np.sin(n * 1.7) ** 2)
        disc(image, at, radius, (226, 214, 170))
        disc(image, at - 0.3 * radius, radius * 0.45, (250, 248, 236))
