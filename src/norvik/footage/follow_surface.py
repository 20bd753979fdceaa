"""Following a point that nothing marks: bare skin, a suit.

Under water light wanders over a body faster than the body moves, and what is bright there leads a
single point astray. So what lies closely around the point is followed all together, in pictures
whose broad light is taken out, and moves the point where most of it agrees on how it moved, turned
and grew. Where too little agrees, or what is there no longer looks like what was pointed at, the
point is lost. A seam or a pattern is found again; on plain skin there is nothing to find it by.
"""

from __future__ import annotations

import math

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.footage.find_again import CORE, FARTHEST, patch_of, search, turned

Grey = NDArray[np.uint8]
Floats = NDArray[np.float32]

# All in pixels of the review copy (longest side at most 1280), own choices: tried on bare skin and
# suits of the film-like swimmer in four strokes, for as many places within 12 pixels as could be.
#: Half the side of the part of a picture that is looked at.
_WINDOW = 80
#: How far around the point what moves with it is looked for, and how close together.
_AROUND, _STEP = 20, 5
#: Fine detail lies between these widths; broader light is taken out.
_FINE, _BROAD = 0.8, 4.0
#: Grey values of detail that count as none: the grain of a camera.
_GRAIN = 2.5
_LK_SIDE, _LK_LEVELS = 15, 3
_LK_ENOUGH = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 20, 0.02)
#: A part moves as it seems to when the way back ends this near to where it began.
_HOME = 1.0
#: Parts agree on a movement that brings each as near as this to where it went.
_AGREES = 1.2
#: So many parts have to agree, and at least this share of those that can be followed.
_LEAST, _SHARE = 6, 0.5
#: How much nearer or farther a body can have come within a frame.
_GROWTH = 0.1
#: Half the side of what is compared with what was pointed at; how alike it has to be; for how many
#: frames it may be less.
_LIKE, _ALIKE, _UNLIKE = 15, 0.35, 2
#: How alike a place is by a wider look that is taken for the lost point.
_SAME = 0.85
#: Frames that stay unsure after a point was found again: the coach should look at them.
_CHECK = 8
#: Deviation of the detail at a dot or another mark, grey values: from 30 on at dots in murky water,
#: and at most 27 on skin and suits.
_MARK = 28.0


def is_marked(picture: Grey, x: float, y: float) -> bool:
    """Whether something stands out at a point, such as a dot on a joint."""
    half = 9
    part, left, top = _part(picture, np.array([x, y], np.float32), 32)
    detail = _detail(part)
    column, row = round(x) - left, round(y) - top
    near = detail[max(0, row - half) : row + half + 1, max(0, column - half) : column + half + 1]
    return bool(near.size and float(near.std()) >= _MARK)


class SurfaceTracker:
    """The point at (x, y) of a picture, followed by what lies around it.

    patience: for how many frames it is looked for when it is lost.
    """

    def __init__(self, picture: Grey, x: float, y: float, patience: int) -> None:
        self.at = np.array([x, y], np.float32)
        self.speed = np.zeros(2, np.float32)
        self.before = picture
        self.patience, self.lost, self.check = patience, 0, 0
        steps = np.arange(-_AROUND, _AROUND + 1, _STEP, dtype=np.float32)
        ring = np.stack(np.meshgrid(steps, steps), axis=-1).reshape(-1, 2)
        self.around = ring[np.hypot(*ring.T) <= _AROUND]
        #: How the body has turned and grown since.
        self.turned = np.eye(2, dtype=np.float32)
        self.pointed_at, self.sought = self._looks(picture)
        self.first = self.pointed_at
        self.unlike = 0

    @property
    def given_up(self) -> bool:
        return self.lost > self.patience

    def step(self, picture: Grey) -> tuple[tuple[float, float] | None, float]:
        """Where the point is in the next picture, and how sure that is, 0 to 1; None while it is
        lost.
        """
        found = self._found_again(picture) if self.lost else self._moved(picture)
        self.before = picture
        if found is None:
            self.lost += 1
            return None, 0.0
        self.lost = 0
        self.check = max(0, self.check - 1)
        place, sure = found
        return place, min(sure, 0.4 if self.check else 1.0)

    def _looks(self, picture: Grey) -> tuple[Grey, list[Grey]]:
        """What lies around the point: to be compared with, and to be looked for."""
        part, left, top = _part(picture, self.at, _WINDOW)
        part = _evened(part)
        x, y = (float(v) for v in self.at - (left, top))
        return _seen_at(part, np.array([x, y], np.float32), np.eye(2, dtype=np.float32)), turned(
            patch_of(part, x, y, 2 * CORE)
        )

    def _found_again(self, picture: Grey) -> tuple[tuple[float, float], float] | None:
        part, left, top = _part(picture, self.at, _WINDOW + FARTHEST)
        x, y = (float(v) for v in self.at - (left, top))
        speed = (float(self.speed[0]), float(self.speed[1]))
        part = _evened(part)
        place, alike = search(part, self.sought, (x, y), speed, self.lost + 1)
        if place is None or not self._is_it(part, np.array(place, np.float32)):
            return None
        self.at = np.array([place[0] + left, place[1] + top], np.float32)
        self.speed = np.zeros(2, np.float32)
        self.turned = np.eye(2, dtype=np.float32)
        self.pointed_at, _ = self._looks(picture)
        self.unlike, self.check = 0, _CHECK
        return (float(self.at[0]), float(self.at[1])), 0.6 * alike

    def _is_it(self, part: Grey, place: Floats) -> bool:
        """Whether a wider look at a place shows what was pointed at, turned in some way."""
        looks = (
            _seen_at(part, place, cv2.getRotationMatrix2D((0, 0), d, 1.0)[:, :2].astype(np.float32))
            for d in range(0, 360, 20)
        )
        return max(_likeness(look, self.first) for look in looks) >= _SAME

    def _moved(self, picture: Grey) -> tuple[tuple[float, float], float] | None:
        one, left, top = _part(self.before, self.at, _WINDOW)
        two, _, _ = _part(picture, self.at, _WINDOW)
        if min(one.shape) < 2 * _LIKE:
            return None
        one, two = _evened(one), _evened(two)
        here = self.at - np.array([left, top], np.float32)
        movement = _agreed(one, two, here + self.around, self.speed)
        if movement is None:
            return None
        matrix, share = movement
        there = (matrix[:, :2] @ here + matrix[:, 2]).astype(np.float32)
        height, width = picture.shape
        if not (0 <= there[0] + left < width and 0 <= there[1] + top < height):
            return None
        self.turned = (matrix[:, :2] @ self.turned).astype(np.float32)
        alike = _likeness(_seen_at(two, there, self.turned), self.pointed_at)
        self.unlike = self.unlike + 1 if alike < _ALIKE else 0
        if self.unlike > _UNLIKE:
            return None
        self.speed, self.at = there - here, there + np.array([left, top], np.float32)
        sure = min(1.0, share / _SHARE) * min(1.0, max(0.0, alike) / (1.2 * _ALIKE))
        return (float(self.at[0]), float(self.at[1])), sure


def _agreed(one: Grey, two: Grey, at: Floats, speed: Floats) -> tuple[Floats, float] | None:
    """How most of some points moved from one picture to another: a matrix of shape (2, 3) that
    turns, grows and shifts, and the share of points that it holds for. None where too few agree.
    """
    start = at[:, None].astype(np.float32)
    there, ok = _flow(one, two, start, start + speed)
    back, ok_back = _flow(two, one, there, start.copy())
    away = np.hypot(*(back - start)[:, 0].T)
    good = ok & ok_back & (away < _HOME)
    if good.sum() < _LEAST:
        return None
    matrix, agree = cv2.estimateAffinePartial2D(
        start[good, 0], there[good, 0], ransacReprojThreshold=_AGREES, maxIters=300,
        confidence=0.995,
    )  # fmt: skip
    if matrix is None:
        return None
    count = int(np.asarray(agree).sum())
    grown = math.hypot(float(matrix[0, 0]), float(matrix[1, 0]))
    if count < max(_LEAST, _SHARE * good.sum()) or abs(grown - 1) > _GROWTH:
        return None
    return np.asarray(matrix, np.float32), count / len(at)


def _flow(
    a: Grey, b: Grey, start: Floats, guess: Floats
) -> tuple[Floats, NDArray[np.bool_]]:  # fmt: skip
    """Points from picture a to b, begun at guesses; all of shape (n, 1, 2)."""
    there, ok, _ = cv2.calcOpticalFlowPyrLK(
        a, b, start, guess, winSize=(_LK_SIDE, _LK_SIDE), maxLevel=_LK_LEVELS,
        criteria=_LK_ENOUGH, flags=cv2.OPTFLOW_USE_INITIAL_FLOW,
    )  # fmt: skip
    return np.asarray(there, np.float32), np.asarray(ok).ravel().astype(bool)


def _part(picture: Grey, at: Floats, half: int) -> tuple[Grey, int, int]:
    """The picture around a point, with its left and top edge."""
    height, width = picture.shape
    x, y = (int(np.clip(v, 0, most - 1)) for v, most in zip(at, (width, height), strict=True))
    left, top = max(0, x - half), max(0, y - half)
    return np.ascontiguousarray(picture[top : y + half, left : x + half]), left, top


def _detail(part: Grey) -> Floats:
    values = part.astype(np.float32)
    fine = cv2.GaussianBlur(values, (0, 0), _FINE)
    return np.asarray(fine - cv2.GaussianBlur(values, (0, 0), _BROAD), np.float32)


def _evened(part: Grey) -> Grey:
    """The detail of a picture, everywhere of about the same strength."""
    detail = _detail(part)
    strength = cv2.sqrt(cv2.GaussianBlur(detail * detail, (0, 0), 2 * _BROAD)) + _GRAIN
    return np.asarray(np.clip(128 + 45 * detail / strength, 0, 255), np.uint8)


def _seen_at(part: Grey, at: Floats, turned: Floats) -> Grey:
    """What lies around a point, turned back as it was at first."""
    across = 2 * _LIKE + 1
    matrix = np.zeros((2, 3), np.float32)
    matrix[:, :2] = turned
    matrix[:, 2] = at - turned @ np.array([_LIKE, _LIKE], np.float32)
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return np.asarray(cv2.warpAffine(part, matrix, (across, across), flags=flags), np.uint8)


def _likeness(now: Grey, then: Grey) -> float:
    """Normalised correlation of two pictures of one size, -1 to 1."""
    return float(cv2.matchTemplate(now, then, cv2.TM_CCOEFF_NORMED)[0, 0])
