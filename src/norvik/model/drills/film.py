"""Filming a drill: the painted swimmer with its kit, and the truth beside it."""

from __future__ import annotations

import json
import os
from contextlib import suppress
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.body import Build, Pose
from norvik.model.camera import Camera, camera_for
from norvik.model.drills import MOTIONS
from norvik.model.drills.course import SPEED_M_S
from norvik.model.drills.kit import around, worn
from norvik.model.drills.loop import on_land
from norvik.model.drills.motion import Motion
from norvik.model.drills.posed import pose_of
from norvik.model.figure import Figure
from norvik.model.film import Take
from norvik.model.kit import Solid
from norvik.model.paint import Colour, Image, ball_hull
from norvik.model.render import render
from norvik.model.scene import Pool
from norvik.model.schedule import Swim
from norvik.model.truth import truth_of

#: Colours of kit and surroundings, B, G, R.
_COLOURS: dict[str, Colour] = {
    "kit": (40, 150, 242), "kit-pale": (205, 230, 246), "wall": (160, 164, 152),
    "ground": (166, 176, 180), "bubble": (240, 238, 226), "mark": (60, 60, 200),
}  # fmt: skip
_ROOM: Colour = (236, 240, 238)
_CAMERA_OF = {"side": "side-under", "front": "front-under", "above": "overhead"}
#: Where the eye looks at a land drill, metres above the lowest point of the body.
_LAND_EYE_M = 0.7


@dataclass(frozen=True)
class DrillTake:
    """One drill to film. drill: its id. seconds: real time; the loop goes round in it."""

    drill: str
    seconds: float = 8.0
    fps: int = 60
    build: Build = field(default_factory=Build)
    dots: bool = False


class DrillShot:
    """A drill with everything that its frames are painted from. KeyError for an unknown drill."""

    def __init__(self, take: DrillTake) -> None:
        motion = MOTIONS[take.drill]
        self.motion = motion
        stroke = "freestyle" if motion.stroke == "wall" else motion.stroke
        view = _CAMERA_OF[motion.view]
        self.take = Take(
            Swim(stroke=stroke), take.build, take.seconds, take.fps, view=view, dots=take.dots
        )
        self.times = self.take.frame_times()
        self.joints: Pose = pose_of(motion, take.build, np.mod(self.times, motion.seconds))
        self._land, self._standing = on_land(motion), around(motion.around, self.joints)
        self.camera = self._seen_from(view)
        travels = not (motion.once or self._standing or self._land or _upright(motion))
        self.travelled: NDArray[np.float64] = self.times * (SPEED_M_S if travels else 0.0)
        self._pool = Pool(self.camera)
        self._figure = Figure(
            self.take.skin, self.take.suit, self.take.cap, take.build.height_m, take.dots
        )

    def _seen_from(self, view: str) -> Camera:
        """The usual camera, far enough away for a motion that goes somewhere."""
        camera = camera_for(view)
        # Over the whole loop, however little of it is filmed.
        loop = pose_of(self.motion, self.take.build, np.linspace(0, self.motion.seconds, 48))
        body = np.concatenate([p for name, p in loop.items() if name != "face"])
        low, high = body.min(axis=0), body.max(axis=0)
        x, y, z = camera.position
        if self._land:
            z = float(low[2]) + _LAND_EYE_M
        tall = 1.3 * float(high[2] - low[2])
        wide = max(camera.width_m, 1.15 * float(high[0] - low[0]) * (view != "front-under"),
                   tall * camera.width_px / camera.height_px * (view != "overhead"))  # fmt: skip
        if wide > camera.width_m and view != "overhead":
            z = float(low[2] + high[2]) / 2
        if self.motion.once:
            x = float(low[0] + high[0]) / 2
        return replace(camera, position=(x, y, z), width_m=wide)

    def frame(self, n: int) -> Image:
        """Frame n as a picture, shape (height, width, 3)."""
        moved = float(self.travelled[n])
        if self._land:
            image = np.full((self.camera.height_px, self.camera.width_px, 3), _ROOM, np.uint8)
        else:
            image = self._pool.frame(moved)
        for solid in self._standing:
            self._paint(image, solid, moved)
        self._figure.paint(image, self.camera, self.joints, n, moved)
        for solid in worn(self.motion.kit, self.joints, n):
            self._paint(image, solid, moved)
        if not self._land:
            self._pool.surface(image, float(self.times[n]))
        return image

    def _paint(self, image: Image, solid: Solid, moved: float) -> None:
        depth = self.camera.seen(solid.points, moved)[:, 2]
        spots = self.camera.project(solid.points, moved)
        radii = solid.radius_m * self.camera.focal_px / np.maximum(depth, 0.05)
        limit = 8.0 * self.camera.width_px
        hull = ball_hull(np.clip(spots, -limit, limit), np.maximum(radii, 0.5))
        corners = np.rint(hull * 8).astype(np.int32)
        cv2.fillConvexPoly(image, corners, _COLOURS[solid.tone], cv2.LINE_AA, 3)


def _upright(motion: Motion) -> bool:
    """Whether the body stands in the water instead of swimming."""
    pitch = motion.pitch
    return isinstance(pitch, (int, float)) and abs(pitch) > 45


def film_drill(take: DrillTake, out: Path) -> None:
    """Render a drill to out (MP4), with OUT.truth.json and OUT.events.csv beside it.

    Whole or not at all. A drill has no events to mark: the events file has its heading alone.
    """
    shot = DrillShot(take)
    part = out.with_name(out.name + ".part")
    try:
        render([shot], part)
        out.with_suffix(".events.csv").write_text(
            "frame,time_s,lane,side,event,note\r\n", encoding="utf-8"
        )
        truth = {
            "drill": take.drill,
            "view": shot.take.view,
            "loop_s": shot.motion.seconds,
            "build": asdict(take.build),
            "frame_times_s": [round(float(t), 6) for t in shot.times],
            "events": [],
            **truth_of(shot.joints, shot.camera, shot.travelled),
        }
        out.with_suffix(".truth.json").write_text(json.dumps(truth), encoding="utf-8")
        os.replace(part, out)
    finally:
        with suppress(FileNotFoundError):
            part.unlink()
