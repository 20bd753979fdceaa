"""The swimmer as a painted figure: filled limbs, suit, cap, goggles; the far side paler."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from norvik.model.camera import SideCamera
from norvik.model.paint import Colour, Image, disc, ellipse, fill, limb, mix
from norvik.model.pose import Pose
from norvik.model.scene import WATER

#: Half thickness of the body in metres for a height of 1.78 m.
RADII = {
    "shoulder": 0.056,
    "elbow": 0.042,
    "wrist": 0.030,
    "palm": 0.034,
    "fingertip": 0.013,
    "hip": 0.088,
    "knee": 0.055,
    "ankle": 0.036,
    "toe": 0.017,
    "chest": 0.122,
    "waist": 0.096,
    "seat": 0.104,
    "neck": 0.058,
    "head": 0.105,
}


class Figure:
    """Colours of one swimmer, and the painting of a pose."""

    def __init__(self, skin: Colour, suit: Colour, cap: Colour, height_m: float) -> None:
        self.skin, self.suit, self.cap = skin, suit, cap
        self._size = height_m / 1.78

    def paint(self, image: Image, camera: SideCamera, pose: Pose, n: int) -> None:
        """Paint frame n of a pose: far limbs first, near ones (the right) last."""
        at = {name: camera.project(points[n]) for name, points in pose.items() if name != "face"}
        self._leg(image, camera, at, pose, n, "left", 0.42)
        self._arm(image, camera, at, pose, n, "left", 0.42)
        self._head(image, camera, at, pose, n)
        self._trunk(image, camera, at)
        self._leg(image, camera, at, pose, n, "right", 0.0)
        self._arm(image, camera, at, pose, n, "right", 0.0)

    def _radius(self, camera: SideCamera, pose: Pose, n: int, joint: str, part: str) -> float:
        return RADII[part] * self._size * camera.px_per_m(float(pose[joint][n][1]))

    def _arm(
        self,
        image: Image,
        camera: SideCamera,
        at: dict[str, NDArray[np.float64]],
        pose: Pose,
        n: int,
        side: str,
        haze: float,
    ) -> None:
        colour = mix(self.skin, WATER, haze)
        r = {
            part: self._radius(camera, pose, n, f"{side}_wrist", part)
            for part in ("shoulder", "elbow", "wrist", "palm", "fingertip")
        }
        shoulder, elbow = at[f"{side}_shoulder"], at[f"{side}_elbow"]
        wrist, tip = at[f"{side}_wrist"], at[f"{side}_fingertip"]
        palm = wrist + 0.42 * (tip - wrist)
        belly = elbow + 0.28 * (wrist - elbow)
        limb(
            image,
            [shoulder, elbow, belly, wrist, palm, tip],
            [
                r["shoulder"], r["elbow"], r["elbow"] * 1.04, r["wrist"], r["palm"] * 0.95,
                r["fingertip"],
            ],
            colour,
        )  # fmt: skip

    def _leg(
        self,
        image: Image,
        camera: SideCamera,
        at: dict[str, NDArray[np.float64]],
        pose: Pose,
        n: int,
        side: str,
        haze: float,
    ) -> None:
        skin, suit = mix(self.skin, WATER, haze), mix(self.suit, WATER, haze)
        r = {
            part: self._radius(camera, pose, n, f"{side}_knee", part)
            for part in ("hip", "knee", "ankle", "toe")
        }
        hip, knee = at[f"{side}_hip"], at[f"{side}_knee"]
        ankle, toe = at[f"{side}_ankle"], at[f"{side}_toe"]
        calf = knee + 0.3 * (ankle - knee)
        limb(
            image,
            [hip, knee, calf, ankle, toe],
            [r["hip"], r["knee"], r["knee"] * 1.0, r["ankle"], r["toe"]],
            skin,
        )
        hem = hip + 0.40 * (knee - hip)
        limb(image, [hip, hem], [r["hip"] * 1.03, r["hip"] * 0.86], suit)

    def _trunk(self, image: Image, camera: SideCamera, at: dict[str, NDArray[np.float64]]) -> None:
        scale = camera.px_per_m() * self._size
        neck, pelvis = at["neck"], at["pelvis"]
        down = pelvis - neck
        chest, waist = neck + 0.22 * down, neck + 0.66 * down
        throat = at["crown"] + 0.55 * (neck - at["crown"])
        limb(
            image,
            [throat, neck, chest, waist, pelvis],
            [
                RADII["neck"] * scale, RADII["chest"] * scale * 0.84, RADII["chest"] * scale,
                RADII["waist"] * scale, RADII["seat"] * scale,
            ],
            self.skin,
        )  # fmt: skip
        limb(
            image,
            [waist + 0.12 * (pelvis - waist), pelvis],
            [RADII["waist"] * scale * 1.04, RADII["seat"] * scale * 1.03],
            self.suit,
        )

    def _head(
        self,
        image: Image,
        camera: SideCamera,
        at: dict[str, NDArray[np.float64]],
        pose: Pose,
        n: int,
    ) -> None:
        scale = camera.px_per_m() * self._size
        radius = RADII["head"] * scale
        neck, crown = at["neck"], at["crown"]
        axis = (crown - neck) / np.hypot(*(crown - neck))
        centre = crown - axis * radius * 1.05
        face = pose["face"][n]
        # Seen from the side the face shows as far as it turns to the camera (to -y).
        toward = float(-face[1])
        look = np.array([face[0], -face[2]])
        angle = float(np.degrees(np.arctan2(axis[1], axis[0])))
        ellipse(image, centre, (radius * 1.16, radius), angle, mix(self.skin, (60, 40, 10), 0.3))
        ellipse(image, centre - np.array([0, 2]), (radius * 1.10, radius * 0.92), angle, self.skin)
        chin = centre + look * radius * 0.62 - axis * radius * 0.55
        disc(image, chin, radius * 0.42, self.skin)
        nose = centre + look * radius * 1.06 - axis * radius * 0.12
        if toward < 0.75:
            disc(image, nose, radius * 0.15, self.skin)
        cap_axis = axis * 0.34 - look * 0.46
        cap = centre + cap_axis * radius
        shade = mix(self.cap, (40, 20, 0), 0.25)
        ellipse(image, cap, (radius, radius * 0.86), angle, shade)
        ellipse(image, cap - np.array([0, 3]), (radius * 0.90, radius * 0.74), angle, self.cap)
        goggle = centre + look * radius * (0.80 - 0.35 * max(0.0, toward)) + axis * radius * 0.28
        strap = centre - look * radius * 0.85 + axis * radius * 0.22
        normal = np.array([-(goggle - strap)[1], (goggle - strap)[0]])
        normal = normal / max(1e-6, float(np.hypot(*normal))) * radius * 0.07
        band = np.array([goggle + normal, strap + normal, strap - normal, goggle - normal])
        fill(image, band, (40, 32, 24))
        ellipse(image, goggle, (radius * 0.27, radius * 0.19), angle, (48, 36, 20))
        ellipse(image, goggle - 1.5, (radius * 0.13, radius * 0.08), angle, (196, 170, 90))
