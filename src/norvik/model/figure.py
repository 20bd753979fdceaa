"""The swimmer as a painted figure: filled limbs, suit, cap, goggles; the far side paler."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from norvik.core.strokes.names import Side
from norvik.model.camera import Camera
from norvik.model.hand import hand_sections
from norvik.model.head import paint_head
from norvik.model.paint import Colour, Image, disc, hulls, limb, mix
from norvik.model.pose import Pose
from norvik.model.scene import WATER
from norvik.model.trunk import Section, sections

#: Half thickness of the body in metres for a height of 1.78 m.
RADII = {
    "shoulder": 0.056,
    "elbow": 0.042,
    "wrist": 0.030,
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
        head = np.array([pose["crown"][n], pose["neck"][n]])
        body = sections(pose, n, 1.78 * self._size)

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

        part(("neck", "pelvis"), lambda share: self._trunk(image, view, body, travelled_m, share))
        part(
            ("crown", "neck"),
            lambda share: self._head(image, view, head, pose["face"][n], share),
            0.02,
        )
        for side in ("left", "right"):
            arm = tuple(f"{side}_{j}" for j in ("shoulder", "elbow", "wrist"))
            leg = tuple(f"{side}_{j}" for j in ("hip", "knee", "ankle"))
            hand = hand_sections(pose, side, n, 1.78 * self._size)
            part(
                arm,
                lambda share, s=side, h=hand: self._arm(image, view, s, h, travelled_m, share),  # type: ignore[misc]
                0.01,
            )
            part(leg, lambda share, s=side: self._leg(image, view, s, share))  # type: ignore[misc]
        for _, painting in sorted(parts, key=lambda k: -k[0]):
            painting()

    def _arm(
        self, image: Image, view: _View, side: Side, hand: list[Section], travelled_m: float,
        haze: float,
    ) -> None:  # fmt: skip
        colour = mix(self.skin, WATER, haze)
        at = view.at
        shoulder, elbow, wrist = (at[f"{side}_{j}"] for j in ("shoulder", "elbow", "wrist"))
        thumb = at[f"{side}_thumb"]
        r = {j: view.radius(f"{side}_{j}", j) for j in ("shoulder", "elbow", "wrist")}
        thin = view.radius(f"{side}_wrist", "thumb")
        base = wrist + 0.16 * (at[f"{side}_fingertip"] - wrist)
        limb(image, [base, thumb], [thin * 1.7, thin], mix(colour, (60, 40, 10), 0.12))
        limb(
            image,
            [shoulder, elbow, elbow + 0.28 * (wrist - elbow), wrist],
            [r["shoulder"], r["elbow"], r["elbow"] * 1.04, r["wrist"] * 0.9],
            colour,
        )
        spots, radii, _ = view.across(hand, travelled_m)
        hulls(image, [(spots[k : k + 2], radii[k : k + 2]) for k in range(len(hand) - 1)], colour)
        self._dot(image, (shoulder, elbow, wrist), r["wrist"])

    def _leg(self, image: Image, view: _View, side: Side, haze: float) -> None:
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
        hem = hip + 0.36 * (knee - hip)
        thick = r["hip"] + 0.36 * (r["knee"] - r["hip"])
        limb(image, [hip, hem], [r["hip"] * 1.02, thick * 1.04], suit)
        self._dot(image, (hip, knee, ankle), r["ankle"])

    def _dot(self, image: Image, joints: tuple[NDArray[np.float64], ...], size: float) -> None:
        """Waterproof dots on joints, light with a dark rim, as they are worn to be followed."""
        if self.dots:
            for joint in joints:
                disc(image, joint, 0.62 * size, DOT_RIM)
                disc(image, joint, 0.40 * size, DOT)

    def _trunk(
        self, image: Image, view: _View, parts: list[Section], travelled_m: float, haze: float
    ) -> None:
        """One closed body; along the line of sight the farthest of it first."""
        skin, suit = mix(self.skin, WATER, haze), mix(self.suit, WATER, haze)
        spots, radii, depths = view.across(parts, travelled_m)
        neck, crown = view.at["neck"], view.at["crown"]
        throat = crown + 0.55 * (neck - crown)
        limb(image, [throat, neck], [view.radius("neck", "neck")] * 2, skin)
        pieces = [(spots[k : k + 2], radii[k : k + 2]) for k in range(len(parts) - 1)]
        if float(np.ptp(depths)) < 0.3:
            # Seen across the body all of it lies equally deep.
            for worn, colour in ((False, skin), (True, suit)):
                own = [x for x, part in zip(pieces, parts, strict=False) if part.suit == worn]
                hulls(image, own, colour)
            return
        for k in sorted(range(len(pieces)), key=lambda k: -float(depths[k] + depths[k + 1])):
            hulls(image, pieces[k : k + 1], suit if parts[k].suit else skin)

    def _head(
        self, image: Image, view: _View, spots: NDArray[np.float64], face: NDArray[np.float64],
        haze: float,
    ) -> None:  # fmt: skip
        """spots: crown and neck, metres. face: where it looks."""
        radius = view.radius("crown", "head")
        along = spots[0] - spots[1]
        axis = along / float(np.linalg.norm(along))
        look = face - axis * float(face @ axis)
        look = look / float(np.linalg.norm(look))
        turned = view.camera.axes @ axis
        # The crown is the top of the ball.
        centre = view.at["crown"] - turned[:2] * radius * 1.05
        colours = mix(self.skin, WATER, haze), mix(self.cap, WATER, haze)
        paint_head(image, centre, radius, turned, view.camera.axes @ look, *colours)


class _View:
    """What painting needs to know of one frame."""

    def __init__(self, camera: Camera, at: Pixels, depth: dict[str, float], size: float) -> None:
        self.camera, self.at, self._depth, self._size = camera, at, depth, size

    def radius(self, joint: str, part: str) -> float:
        return RADII[part] * self._size * self.camera.px_per_m(float(self._depth[joint]))

    def across(
        self, parts: list[Section], travelled_m: float
    ) -> tuple[NDArray[np.float64], list[float], NDArray[np.float64]]:
        """Ends of sections in pixels, shape (n, 2, 2), their half thickness and their depths."""
        ends = np.array([(x.left, x.right) for x in parts])
        depths = self.camera.seen(ends, travelled_m)[..., 2].mean(axis=1)
        radii = [
            x.radius_m * self.camera.px_per_m(float(d)) for x, d in zip(parts, depths, strict=True)
        ]
        return self.camera.project(ends, travelled_m), radii, depths
