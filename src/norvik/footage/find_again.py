"""Finding a point again that was lost: what was around it is looked for nearby."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

Grey = NDArray[np.uint8]

# All in pixels of the review copy, own choices.
#: Half the side of what is looked for: small, so that a limb that turned meanwhile still looks
#: alike; turned copies of it are tried as well.
CORE = 9
_TURNS_DEG = (0, 60, 120, 180, 240, 300)
#: How far it is looked for at first, how much farther with each frame, and at most.
_REACH, _REACH_A_FRAME, FARTHEST = 40, 16, 200
#: For how many frames a point is taken to go on as it went.
_GOES_ON = 4
#: Likeness of two pictures (normalised correlation, -1 to 1) that counts as found again.
ALIKE = 0.80
#: How much more alike the best place has to be than any other.
_AHEAD = 0.06


def search(
    picture: Grey, sought: list[Grey], at: tuple[float, float], speed: tuple[float, float],
    frames: int,
) -> tuple[tuple[float, float] | None, float]:  # fmt: skip
    """The place that looks like one of the pictures sought, and its likeness; None where none does.

    at, speed: where the point was last, and its pixels a frame; frames: how long ago that was.
    """
    x, y = (a + v * min(frames, _GOES_ON) for a, v in zip(at, speed, strict=True))
    reach = min(FARTHEST, _REACH + _REACH_A_FRAME * (frames - 1))
    place, alike = _match(picture, sought, x, y, reach)
    return (None, 0.0) if place is None or alike < ALIKE else (place, alike)


def patch_of(picture: Grey, x: float, y: float, half: int) -> Grey | None:
    """The picture around a point, half a side to every side of it; None too near the edge."""
    height, width = picture.shape
    if not (half <= x < width - half - 1 and half <= y < height - half - 1):
        return None
    size = (2 * half + 1, 2 * half + 1)
    return cv2.getRectSubPix(picture, size, (float(x), float(y))).astype(np.uint8, copy=False)


def turned(around: Grey | None) -> list[Grey]:
    """The middle of a picture, turned by each of _TURNS_DEG; none where there is no picture."""
    if around is None:
        return []
    middle = around.shape[0] // 2
    inside = slice(middle - CORE, middle + CORE + 1)
    made = []
    for degrees in _TURNS_DEG:
        turn = cv2.getRotationMatrix2D((middle, middle), degrees, 1.0)
        turned = np.asarray(cv2.warpAffine(around, turn, around.shape), np.uint8)
        made.append(np.ascontiguousarray(turned[inside, inside]))
    return made


def _match(
    picture: Grey, sought: list[Grey], x: float, y: float, reach: int
) -> tuple[tuple[float, float] | None, float]:
    """The place most like any of the pictures within `reach` of (x, y), and its likeness.

    None where another place is nearly as alike: water looks like water everywhere.
    """
    height, width = picture.shape
    left, top = max(0, int(x) - reach - CORE), max(0, int(y) - reach - CORE)
    right = min(width, int(x) + reach + CORE + 1)
    bottom = min(height, int(y) + reach + CORE + 1)
    if not sought or right - left < 2 * CORE + 1 or bottom - top < 2 * CORE + 1:
        return None, 0.0
    part = picture[top:bottom, left:right]
    scores = cv2.matchTemplate(part, sought[0], cv2.TM_CCOEFF_NORMED)
    for other in sought[1:]:
        scores = np.maximum(scores, cv2.matchTemplate(part, other, cv2.TM_CCOEFF_NORMED))
    _, score, _, (mx, my) = cv2.minMaxLoc(scores)
    near = slice(max(0, my - CORE), my + CORE + 1), slice(max(0, mx - CORE), mx + CORE + 1)
    scores[near] = -1
    if score - float(scores.max()) < _AHEAD:
        return None, float(score)
    return (left + mx + CORE, top + my + CORE), float(score)
