"""The swimmer as a painted figure: filled limbs, suit, cap, goggles; the far side paler."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from norvik.model.camera import Camera
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
    "thumb": 0.011,
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
#: Colours of the dots on joints, B, G, R.
DOT: Colour = (250, 252, 252)
DOT_RIM: Colour = (20, 16, 12)

Pixels = dict[str, NDArray[np.float64]]


class Figure:
    """Colours of one swimmer, and the painting of a pose."""

    def __init__(
        self, skin: Colour, suit: Colour, cap: Colour, height_m: float, dots: bool = False
    ) -> None:
        self.skin, self.suit, self.cap, self.dots = skin, suit, cap, dots
        self._size = height_m / 1.78

    def paint(
        self, image: Image, camera: Camera, pose: Pose, n: int, travelled_m: float = 0.0
    ) -> None:
        """Paint frame n of a pose, far parts first."""
        names = [name for name in pose if name != "face"]
        spots = np.array([pose[name][n] for name in names])
        depth = dict(zip(names, camera.seen(spots, travelled_m)[:, 2], strict=True))
        at = dict(zip(names, camera.project(spots, travelled_m), strict=True))
        height = {name: float(spot[2]) for name, spot in zip(names, spots, strict=True)}
        near = float(depth["neck"]) - 0.25
        view = _View(camera, at, depth, self._size)

        def haze(joints: tuple[str, ...]) -> float:
            away = float(np.mean([depth[j] for j in joints])) - near
            share = min(0.45, max(0.0, 0.55 * (away - 0.22)))
            if camera.view == "front-under":
                share = min(0.40, max(0.0, 0.22 * (away - 0.5)))
            if camera.above and np.mean([height[j] for j in joints]) < -0.03:
                share = max(share, 0.22)
            return share

        parts: list[tuple[float, Callable[[], None]]] = []

        def part(
            joints: tuple[str, ...], painting: Callable[[float], None], lift: float = 0
        ) -> None:
            away = float(np.mean([depth[j] for j in joints])) - lift
            share = haze(joints)
            parts.append((away, lambda: painting(share)))

        part(("neck", "pelvis"), lambda share: self._trunk(image, view, share))
        part(("crown", "neck"), lambda share: self._head(image, view, pose["face"][n], share), 0.02)
        for side in ("left", "right"):
            arm = tuple(f"{side}_{j}" for j in ("shoulder", "elbow", "wrist"))
            leg = tuple(f"{side}_{j}" for j in ("hip", "knee", "ankle"))
            part(arm, lambda share, s=side: self._arm(image, view, s, share), 0.01)  # type: ignore[misc]
            part(leg, lambda share, s=side: self._leg(image, view, s, share))  # type: ignore[misc]
        for _, painting in sorted(parts, key=lambda k: -k[0]):
            painting()

    def _arm(self, image: Image, view: _View, side: str, haze: float) -> None:
        colour = mix(self.skin, WATER, haze)
        at = view.at
        shoulder, elbow = at[f"{side}_shoulder"], at[f"{side}_elbow"]
        wrist, tip = at[f"{side}_wrist"], at[f"{side}_fingertip"]
        r = {
            name: view.radius(f"{side}_{joint}", name)
            for name, joint in (
                ("shoulder", "shoulder"),
                ("elbow", "elbow"),
                ("wrist", "wrist"),
                ("palm", "wrist"),
                ("fingertip", "fingertip"),
                ("thumb", "wrist"),
            )
        }
        palm = wrist + 0.42 * (tip - wrist)
        limb(
            image,
            [wrist + 0.2 * (tip - wrist), at[f"{side}_thumb"]],
            [r["thumb"] * 1.3, r["thumb"]],
            mix(colour, (60, 40, 10), 0.12),
        )
        limb(
            image,
            [shoulder, elbow, elbow + 0.28 * (wrist - elbow), wrist, palm, tip],
            [r["shoulder"], r["elbow"], r["elbow"] * 1.04, r["wrist"], r["palm"], r["fingertip"]],
            colour,
        )
        self._dot(image, (shoulder, elbow, wrist), r["wrist"])

    def _leg(self, image: Image, view: _View, side: str, haze: float) -> None:
        skin, suit = mix(self.skin, WATER, haze), mix(self.suit, WATER, haze)
        at = view.at
        hip, knee = at[f"{side}_hip"], at[f"{side}_knee"]
        ankle, toe = at[f"{side}_ankle"], at[f"{side}_toe"]
        r = {part: view.radius(f"{side}_{part}", part) for part in ("hip", "knee", "ankle", "toe")}
        calf = knee + 0.3 * (ankle - knee)
        limb(
            image,
            [hip, knee, calf, ankle, toe],
            [r["hip"], r["knee"], r["knee"], r["ankle"], r["toe"]],
            skin,
        )
        hem = hip + 0.40 * (knee - hip)
        limb(image, [hip, hem], [r["hip"] * 1.03, r["hip"] * 0.86], suit)
        self._dot(image, (hip, knee, ankle), r["ankle"])

    def _dot(self, image: Image, joints: tuple[NDArray[np.float64], ...], size: float) -> None:
        """Waterproof dots on joints, light with a dark rim, as they are worn to be followed."""
        if self.dots:
            for joint in joints:
                disc(image, joint, 0.62 * size, DOT_RIM)
                disc(image, joint, 0.40 * size, DOT)

    def _trunk(self, image: Image, view: _View, haze: float) -> None:
        skin, suit = mix(self.skin, WATER, haze), mix(self.suit, WATER, haze)
        at = view.at
        neck, pelvis = at["neck"], at["pelvis"]
        down = pelvis - neck
        chest, waist = neck + 0.22 * down, neck + 0.66 * down
        corners = [
            at[f"{s}_{j}"]
            for s, j in (
                ("left", "shoulder"),
                ("right", "shoulder"),
                ("right", "hip"),
                ("left", "hip"),
            )
        ]
        fill(image, np.array(corners), mix(skin, (60, 40, 10), 0.20))
        edge = view.radius("neck", "chest")
        for side in ("left", "right"):
            shoulder, hip = at[f"{side}_shoulder"], at[f"{side}_hip"]
            limb(image, [shoulder, shoulder + 0.55 * (hip - shoulder), hip],
                 [edge * 0.52, edge * 0.50, edge * 0.56], skin)  # fmt: skip
        throat = at["crown"] + 0.55 * (neck - at["crown"])
        limb(
            image,
            [throat, neck, chest, waist, pelvis],
            [
                view.radius("neck", "neck"),
                edge * 0.84,
                view.radius("neck", "chest"),
                view.radius("pelvis", "waist"),
                view.radius("pelvis", "seat"),
            ],
            skin,
        )
        left, right = at["left_hip"], at["right_hip"]
        limb(image, [left, right], [edge * 0.62, edge * 0.62], suit)
        limb(
            image,
            [waist + 0.12 * (pelvis - waist), pelvis],
            [view.radius("pelvis", "waist") * 1.04, view.radius("pelvis", "seat") * 1.03],
            suit,
        )

    def _head(self, image: Image, view: _View, face: NDArray[np.float64], haze: float) -> None:
        skin, cap_colour = mix(self.skin, WATER, haze), mix(self.cap, WATER, haze)
        radius = view.radius("crown", "head")
        neck, crown = view.at["neck"], view.at["crown"]
        length = float(np.hypot(*(crown - neck)))
        axis = (crown - neck) / max(length, 1e-6) * min(1.0, length / radius)
        look = view.camera.axes @ face
        flat, toward = look[:2], float(-look[2])
        centre = crown - axis * radius * 1.05
        angle = float(np.degrees(np.arctan2(axis[1], axis[0])))
        long = radius * (1 + 0.16 * float(np.hypot(*axis)))
        dark = mix(skin, (60, 40, 10), 0.3)
        ellipse(image, centre, (long, radius), angle, dark)
        ellipse(image, centre - np.array([0, 2]), (long * 0.95, radius * 0.92), angle, skin)
        if toward > -0.55:
            chin = centre + flat * radius * 0.62 - axis * radius * 0.55
            disc(image, chin, radius * 0.42, skin)
            if toward < 0.75:
                disc(
                    image, centre + flat * radius * 1.06 - axis * radius * 0.12, radius * 0.15, skin
                )
        # The cap sits on the crown and the back of the head, opposite to the face.
        facing = max(0.0, toward)
        cap = centre + (axis * (0.34 + 0.30 * facing) - flat * 0.46) * radius
        cover = 1.0 if toward < 0.35 else 1.0 - 0.35 * (toward - 0.35)
        ellipse(
            image,
            cap,
            (radius * cover, radius * 0.86 * cover),
            angle,
            mix(cap_colour, (40, 20, 0), 0.25),
        )
        ellipse(
            image,
            cap - np.array([0, 3]),
            (radius * 0.90 * cover, radius * 0.74 * cover),
            angle,
            cap_colour,
        )
        if toward < -0.45:
            return
        goggle = (
            centre
            + flat * radius * (0.80 - 0.35 * max(0.0, toward))
            + axis * radius * (0.28 - 0.2 * facing)
        )
        strap = centre - flat * radius * 0.85 + axis * radius * 0.22
        normal = np.array([-(goggle - strap)[1], (goggle - strap)[0]])
        normal = normal / max(1e-6, float(np.hypot(*normal))) * radius * 0.07
        if toward < 0.8:
            band = np.array([goggle + normal, strap + normal, strap - normal, goggle - normal])
            fill(image, band, (40, 32, 24))
        # Two lenses, as far apart as the face turns to the camera.
        across = view.camera.axes @ np.cross(face, view.head_axis)
        for sign in (-1, 1):
            lens = goggle + sign * across[:2] * radius * 0.34
            ellipse(image, lens, (radius * 0.25, radius * 0.18), angle, (48, 36, 20))
            ellipse(image, lens - 1.5, (radius * 0.12, radius * 0.08), angle, (196, 170, 90))


class _View:
    """What painting needs to know of one frame."""

    def __init__(self, camera: Camera, at: Pixels, depth: dict[str, float], size: float) -> None:
        self.camera, self.at, self._depth, self._size = camera, at, depth, size
        self.head_axis = np.array([1.0, 0.0, 0.15])

    def radius(self, joint: str, part: str) -> float:
        return RADII[part] * self._size * self.camera.px_per_m(float(self._depth[joint]))
