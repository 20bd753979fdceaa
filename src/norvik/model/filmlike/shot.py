"""A film-like shot: take and truth as in the plain style, painted as a camera would see it."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.body import SIDES
from norvik.model.figure import DOT, DOT_RIM, RADII, Figure
from norvik.model.film import Shot, Take
from norvik.model.filmlike.body_mesh import body_mesh
from norvik.model.filmlike.lens import Lens, smeared
from norvik.model.filmlike.light import lit
from norvik.model.filmlike.pool import FilmPool, hall_behind
from norvik.model.filmlike.raster import Seen, raster
from norvik.model.filmlike.skin import PLACES, Look, atlas
from norvik.model.filmlike.spray import Spray, paint_specks
from norvik.model.filmlike.tube import Mesh
from norvik.model.filmlike.water import DEEP, slopes, swell
from norvik.model.paint import Image, disc
from norvik.model.scene import churn
from norvik.model.surface import height_m as head_wave

#: Joints that wear dots, and whose thickness gives the dot its size, as in the plain style.
_DOTTED = {"shoulder": "wrist", "elbow": "wrist", "wrist": "wrist", "hip": "ankle",
           "knee": "ankle", "ankle": "ankle"}  # fmt: skip
#: Metres from lane to lane.
_NEXT_LANE_M = 2.5
#: Colours of a dot under water, B, G, R.
_DOT_WET, _RIM_WET = (238, 236, 222), (52, 44, 20)
#: Share of the time between two frames for which the shutter is open.
_SHUTTER = 0.4


class FilmlikeShot(Shot):
    """Frames of a take in the film-like style; joints, times and truth as in the plain one."""

    def __init__(self, take: Take) -> None:
        super().__init__(take)
        self._sun = take.conditions.sun
        self._water = FilmPool(self.camera, self.start_m, take.conditions.haze, self._sun)
        speeds = np.gradient(self.travelled, self.times) if len(self.times) > 1 else [0.0]
        self._speeds = np.asarray(speeds, np.float64)
        #: Seconds after a frame's instant at which each row is read.
        self._late_s = self.rolling.late_s(np.arange(float(self.camera.height_px)))
        self._atlas = atlas(Look(take.skin, take.suit, take.cap, take.cut, take.swim.seed))
        self._spray = Spray(self.plan, self.joints, self.times, self.travelled, self.speed_m_s)
        self._lens = Lens(take.swim.seed, self.camera)
        self._kept: dict[int, list[Mesh]] = {}

    def _picture(self, n: int) -> Image:
        """Frame n from a camera that is held still."""
        take, camera = self.take, self.camera
        time_s, moved = float(self.times[n]), float(self.travelled[n])
        leans = None
        if self.rolling.read_s:
            leans = (self._late_s * float(self._speeds[n])).astype(np.float32)
        image = self._water.frame(moved, time_s, leans)
        line = self._line(n, time_s) if camera.surface_px > 0 and not camera.above else None
        if take.conditions.company:
            self._company(image, n, moved)
        self._water.ropes(image, moved, leans)
        if line is not None:
            self._air(image, line, moved)
        specks = self._spray.specks(n)
        self._body(image, n, time_s, moved)
        paint_specks(image, specks, camera, moved, DEEP)
        if line is not None:
            _meniscus(image, line)
        for number, (start, end) in enumerate(take.conditions.hidden):
            if start <= time_s < end:
                share = np.sin(np.pi * (time_s - start) / (end - start))
                churn(image, round(time_s * 30) + 1000 * number, float(share))
        return self._lens.through(image, n, take.conditions.blur)

    def surfaces(self, n: int) -> list[Mesh]:
        """The body of frame n as the camera sees it, through waves where it looks from the air."""
        meshes = self._mesh(n)
        if self.camera.above:
            meshes = _wavering(meshes, float(self.travelled[n]), float(self.times[n]))
        return meshes

    def _company(self, image: Image, n: int, moved: float) -> None:
        """Somebody in the next lane, farther on from second to second, out of focus in the haze."""
        n_there = (n + len(self.times) // 3) % len(self.times)
        past = -1.4 + 0.35 * float(self.times[n])
        shift = np.array([past, _NEXT_LANE_M, 0.0])
        there = {
            name: points[n_there][None] + (0 if name == "face" else shift)
            for name, points in self.joints.items()
        }
        clear = image.copy()
        Figure(self.take.skin, (40, 40, 150), (200, 200, 60), self.take.build.height_m).paint(
            clear, self.camera, there, 0, moved
        )
        soft = cv2.GaussianBlur(clear, (0, 0), 2.4)
        image[:] = cv2.addWeighted(image, 0.5, soft, 0.5, 0)

    def _mesh(self, n: int) -> list[Mesh]:
        """The body of a frame; the next frame's is kept, it is needed twice."""
        found = self._kept.get(n)
        if found is None:
            found = body_mesh(self.joints, n, self.take.build.height_m, self.take.build.girth)
            self._kept = {k: mesh for k, mesh in self._kept.items() if abs(k - n) < 4} | {n: found}
        return found

    def _body(self, image: Image, n: int, time_s: float, moved: float) -> None:
        camera, last = self.camera, len(self.times) - 1
        after = min(n + 1, last)
        moved_on = float(self.travelled[after]) if camera.still else moved
        now, later = self._mesh(n), self._mesh(after)
        if camera.above:
            now, later = (_wavering(mesh, moved, time_s) for mesh in (now, later))
        seen = raster(now, later, camera, moved, moved_on, PLACES)
        if seen is None:
            return
        colours = lit(
            seen, self._atlas, camera, time_s, moved, self.take.conditions.haze, self._sun
        )
        height, width = seen.solid.shape
        part = image[seen.top : seen.top + height, seen.left : seen.left + width]
        smeared(part, seen, colours, _SHUTTER)
        if self.take.dots:
            self._dots(image, seen, n, moved)

    def _dots(self, image: Image, seen: Seen, n: int, moved: float) -> None:
        """Waterproof dots over the joints, on whatever skin the camera sees there."""
        camera, size = self.camera, self.take.build.height_m / 1.78
        depths = seen.image(seen.depth)
        for side, _ in SIDES:
            for joint in _DOTTED:
                spot = self.joints[f"{side}_{joint}"][n]
                at = camera.project(spot, moved)
                away = float(camera.seen(spot, moved)[2])
                row, column = int(at[1] - seen.top) // 2, int(at[0] - seen.left) // 2
                rows, columns = depths.shape
                if not (0 <= row < rows and 0 <= column < columns):
                    continue
                skin = float(depths[row, column])
                if skin == 0 or abs(skin - away) > 1.35 * RADII[joint] * size:
                    continue
                across = RADII[_DOTTED[joint]] * size * camera.px_per_m(away)
                wet = spot[2] < 0
                disc(image, at, 0.62 * across, _RIM_WET if wet else DOT_RIM)
                disc(image, at, 0.40 * across, _DOT_WET if wet else DOT)

    def _line(self, n: int, time_s: float) -> NDArray[np.float32]:
        """Row of the water on the lens for each column."""
        camera = self.camera
        x = np.arange(camera.width_px, dtype=np.float32)
        scale = camera.px_per_m(camera.distance_m)
        metres = (x - camera.width_px / 2) / scale
        moved = np.float32(self.travelled[n])
        row = camera.surface_px - scale * swell(metres + moved, np.zeros_like(metres), time_s)
        row = row - np.tan(np.deg2rad(camera.tilt_deg)) * (x - camera.width_px / 2)
        crown = self.joints["crown"][n]
        if camera.view == "side-under" and crown[2] > -0.35:
            at = float(camera.project(crown, float(moved) if camera.still else 0.0)[0])
            share = float(np.clip((crown[2] + 0.35) / 0.2, 0, 1)) ** 0.5
            row = row - scale * head_wave((at - x.astype(np.float64)) / scale,
                                          self.speed_m_s * share)  # fmt: skip
        return np.asarray(row, np.float32)

    def _air(self, image: Image, line: NDArray[np.float32], moved: float) -> None:
        """What lies over the water line: the hall, and a bright edge where the water begins."""
        hall = hall_behind(self.camera, moved, self._sun)
        rows = min(len(hall), image.shape[0], int(line.max()) + 3)
        if rows <= 0:
            return
        share = np.clip(line[None] - np.arange(rows, dtype=np.float32)[:, None], 0, 1)[..., None]
        part = image[:rows]
        part[:] = (part * (1 - share) + hall[:rows] * share).astype(np.uint8)


def _wavering(meshes: list[Mesh], moved: float, time_s: float) -> list[Mesh]:
    """The body as it is seen through the waves from above: what lies deeper wavers more."""
    found = []
    for mesh in meshes:
        x, y, z = (mesh.points[..., k].astype(np.float32) for k in range(3))
        along, across = slopes(x + np.float32(moved), y, time_s)
        deep = np.clip(-z, 0, 0.6) * 0.22
        shifted = mesh.points + np.stack([along * deep, across * deep, 0 * deep], axis=-1)
        found.append(replace(mesh, points=shifted))
    return found


def _meniscus(image: Image, line: NDArray[np.float32]) -> None:
    """The water that stands on the lens: a dark edge over a bright one, out of focus."""
    height, width = image.shape[:2]
    top = max(0, int(line.min()) - 6)
    bottom = min(height, int(line.max()) + 16)
    if bottom <= top:
        return
    rows = np.arange(top, bottom, dtype=np.float32)[:, None]
    away = rows - line[None, :width]
    bright = 78 * np.exp(-(((away - 3.0) / 2.6) ** 2)) + 34 * np.exp(-(((away - 9) / 5.0) ** 2))
    dark = 46 * np.exp(-(((away + 0.6) / 1.5) ** 2))
    part = image[top:bottom].astype(np.float32) + (bright - dark)[..., None]
    image[top:bottom] = np.clip(part, 0, 255).astype(np.uint8)
