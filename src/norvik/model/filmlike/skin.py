"""Textures of a swimmer: mottled skin, a suit of some cut, cap, face and goggles."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.paint import Colour

Image = NDArray[np.uint8]
Floats = NDArray[np.float32]
#: Edge of the atlas, pixels, and where each part lies on it: left, top, width, height, 0..1.
SIZE = 1024
PLACES: dict[str, tuple[float, float, float, float]] = {
    "trunk": (0.002, 0.002, 0.496, 0.496),
    "head": (0.002, 0.502, 0.496, 0.496),
    "arm": (0.502, 0.002, 0.246, 0.496),
    "leg": (0.752, 0.002, 0.246, 0.496),
    "hand": (0.502, 0.502, 0.246, 0.246),
    "foot": (0.752, 0.502, 0.246, 0.246),
}
SUITS = ("jammer", "brief", "one-piece", "kneeskin")


@dataclass(frozen=True, slots=True)
class Look:
    """Colours of a swimmer (B, G, R), the cut of the suit, and the seed of skin and pattern."""

    skin: Colour
    suit: Colour
    cap: Colour
    cut: str = "jammer"
    seed: int = 1


def atlas(look: Look) -> Image:
    """All textures of a swimmer on one picture, shape (SIZE, SIZE, 3)."""
    rng = np.random.default_rng(look.seed)
    made = np.zeros((SIZE, SIZE, 3), np.float32)
    for part, (left, top, width, height) in PLACES.items():
        box = (round(width * SIZE), round(height * SIZE))
        picture = _skin(look, box, rng)
        if part in ("trunk", "leg"):
            picture = _suited(picture, look, part, rng)
        if part == "head":
            picture = _face(picture, look, rng)
        if part in ("hand", "foot"):
            picture *= np.array([0.97, 0.95, 1.02], np.float32)
        x, y = round(left * SIZE), round(top * SIZE)
        # Drawn a little over its edges, where neighbouring pixels are mixed.
        over = cv2.copyMakeBorder(picture, 2, 2, 2, 2, cv2.BORDER_REPLICATE)
        made[y - 2 : y + box[1] + 2, x - 2 : x + box[0] + 2] = over
    return np.clip(made, 0, 255).astype(np.uint8)


def noise(shape: tuple[int, int], cell: float, rng: np.random.Generator) -> Floats:
    """Smooth noise of mean 0 and deviation 1 that repeats at its edges. cell: pixels."""
    raw = rng.standard_normal(shape).astype(np.float32)
    reach = int(3 * cell) + 1
    wide = cv2.copyMakeBorder(raw, reach, reach, reach, reach, cv2.BORDER_WRAP)
    soft = cv2.GaussianBlur(wide, (0, 0), cell)[reach:-reach, reach:-reach]
    return np.asarray(soft / max(1e-6, float(soft.std())), np.float32)


def _skin(look: Look, box: tuple[int, int], rng: np.random.Generator) -> Floats:
    width, height = box
    shape = (height, width)
    tone = (
        0.045 * noise(shape, 26, rng) + 0.055 * noise(shape, 9, rng)
        + 0.05 * noise(shape, 4.5, rng)
    )  # fmt: skip
    red = 0.035 * noise(shape, 18, rng)
    picture = np.empty((height, width, 3), np.float32)
    picture[:] = look.skin
    picture *= (1 + tone)[..., None]
    picture[..., 2] *= 1 + red
    picture[..., 0] *= 1 - red
    # Moles and freckles: few that stand out, many faint ones.
    area = width * height
    for count, radius, depth in ((area // 4500, 2, 0.46), (area // 800, 1, 0.24)):
        spots = np.zeros(shape, np.float32)
        for x, y in rng.integers(0, (width, height), (count, 2)):
            cv2.circle(spots, (int(x), int(y)), radius, 1.0, -1, cv2.LINE_AA)
        picture *= (1 - depth * cv2.GaussianBlur(spots, (0, 0), 0.7))[..., None]
    return picture


def _suited(picture: Floats, look: Look, part: str, rng: np.random.Generator) -> Floats:
    height, width = picture.shape[:2]
    v, u = np.mgrid[0:height, 0:width].astype(np.float32)
    v, u = v / height, u / width
    cover = _cut(look.cut, part, u, v)
    cloth = np.empty_like(picture)
    cloth[:] = look.suit
    weave = 0.10 * noise((height, width), 1.6, rng) + 0.08 * noise((height, width), 14, rng)
    cloth *= (1 + weave)[..., None]
    # A broken pattern in a lighter tone, and a bright stripe down the side.
    pattern = noise((height, width), 8, rng) > 0.7
    cloth[pattern] = cloth[pattern] * 0.35 + np.array([190, 180, 150], np.float32) * 0.65
    stripe = (np.abs(u - 0.5) < 0.018) | (np.minimum(u, 1 - u) < 0.018)
    cloth[stripe] = np.array([190, 205, 215], np.float32)
    edge = np.clip(1 - np.abs(cover - 0.5) * 4, 0, 1) * 0.5
    share = np.clip(cover, 0, 1)[..., None]
    return np.asarray((picture * (1 - share) + cloth * share) * (1 - edge[..., None]), np.float32)


def _cut(cut: str, part: str, u: Floats, v: Floats) -> Floats:
    """Where the suit lies, 0..1. u: 0 left side, 0.25 back, 0.75 belly; v: from seat or hip on."""
    soft = 0.006
    if part == "leg":
        ends = {"jammer": 0.34, "brief": 0.10, "one-piece": 0.09, "kneeskin": 0.43}[cut]
        return np.asarray(0.5 + (ends - v) / soft, np.float32)
    waist = 0.5 + (0.335 - 0.012 * np.cos(4 * np.pi * u) - v) / soft
    if cut in ("jammer", "brief"):
        return np.asarray(waist, np.float32)
    # High before the chest, low in the back, with straps over the shoulders.
    back = np.abs(u - 0.25) < 0.25
    top = np.where(back, 0.42 + 0.10 * np.abs(u - 0.25) / 0.25, 0.60)
    body = 0.5 + (top - v) / soft
    middle = np.where(back, np.abs(u - 0.25), np.abs(u - 0.75))
    strap = np.where((middle > 0.075) & (middle < 0.115) & (v < 0.82), 1.0, 0.0)
    return np.asarray(np.maximum(body, strap), np.float32)


def _face(picture: Floats, look: Look, rng: np.random.Generator) -> Floats:
    """Skin, lips, brows, goggles with strap, cap. Across: 0.5 ahead; down: 0 crown to 1 neck."""
    height, width = picture.shape[:2]

    def at(u: float, v: float) -> tuple[int, int]:
        return round(u * width), round(v * height)

    def ellipse(u: float, v: float, wide: float, tall: float, colour: Colour) -> None:
        axes = (round(wide * width), round(tall * height))
        cv2.ellipse(picture, at(u, v), axes, 0, 0, 360, colour, -1, cv2.LINE_AA)

    dark = (round(0.55 * look.skin[0]), round(0.55 * look.skin[1]), round(0.55 * look.skin[2]))
    lips = (round(0.62 * look.skin[0]), round(0.58 * look.skin[1]), round(0.86 * look.skin[2]))
    ellipse(0.5, 0.647, 0.044, 0.016, lips)
    cv2.line(picture, at(0.462, 0.648), at(0.538, 0.648), dark, 2, cv2.LINE_AA)
    for sign in (-1, 1):
        ellipse(0.5 + sign * 0.014, 0.585, 0.006, 0.007, dark)
        ellipse(0.5 + sign * 0.26, 0.53, 0.030, 0.045, dark)
    # The cap comes down to the brow, over the ears and into the neck.
    v, u = np.mgrid[0:height, 0:width].astype(np.float32)
    v, u = v / height, u / width
    rim = 0.405 + 0.13 * np.clip((np.abs(u - 0.5) - 0.12) / 0.2, 0, 1)
    cap = np.clip(0.5 + (rim - v) / 0.006, 0, 1)[..., None]
    latex = np.empty_like(picture)
    latex[:] = look.cap
    folds = 0.05 * noise((height, width), 20, rng) + 0.03 * noise((height, width), 3, rng)
    latex *= (1 + folds)[..., None]
    band = np.abs(v - 0.27 - 0.02 * np.sin(6 * np.pi * u)) < 0.022
    latex[band] = 0.35 * latex[band] + 0.65 * np.array([235, 238, 240], np.float32)
    mark = (np.abs(u - 0.27) < 0.055) & (np.abs(v - 0.34) < 0.035)
    mark |= (np.abs(u - 0.73) < 0.055) & (np.abs(v - 0.34) < 0.035)
    latex[mark] = 0.25 * latex[mark] + 0.75 * np.array([40, 40, 44], np.float32)
    picture = np.asarray(picture * (1 - cap) + latex * cap, np.float32)
    # Goggles: a strap all round, two lenses.
    strap = np.abs(v - 0.455 + 0.02 * np.cos(2 * np.pi * u)) < 0.012
    picture[strap & (np.abs(u - 0.5) > 0.1)] = (38, 34, 30)
    for sign in (-1, 1):
        centre = at(0.5 + sign * 0.058, 0.475)
        cv2.ellipse(picture, centre, at(0.050, 0.040), 0, 0, 360, (34, 30, 28), -1, cv2.LINE_AA)
        cv2.ellipse(picture, centre, at(0.038, 0.028), 0, 0, 360, (120, 78, 36), -1, cv2.LINE_AA)
        shine = (centre[0] - round(0.012 * width), centre[1] - round(0.010 * height))
        cv2.ellipse(picture, shine, at(0.010, 0.006), 0, 0, 360, (225, 220, 205), -1, cv2.LINE_AA)
    cv2.line(picture, at(0.49, 0.468), at(0.51, 0.468), (34, 30, 28), 3, cv2.LINE_AA)
    return picture
