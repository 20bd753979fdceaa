"""Following one point through the frames of a review copy.

From frame to frame by pyramidal Lucas-Kanade (OpenCV), in a window around the point. A step is
believed when the way back ends where it began. Every few frames the whole way back is walked again:
a point that slipped onto something else does not come home. Where a step fails, the picture around
the point, as it was when it was last sure, is looked for nearby. What is not found is lost; it is
looked for a while longer, and never made up.
"""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.footage.copy_frames import frames_of_copy
from norvik.footage.find_again import ALIKE, CORE, patch_of, search, turned
from norvik.footage.follow_surface import SurfaceTracker, is_marked

Grey = NDArray[np.uint8]

# All in pixels of the review copy (longest side at most 1280), own choices.
_WINDOW = 96
_PATCH = 15
_STEP_HOME = 1.0
_LONG_HOME = 4.0
_LOOK_BACK = 5
#: A point that is found this near to where it was going did not jump.
_NEAR = 12.0
#: Frames that stay unsure after a point was found again: the coach should look at them.
_CHECK = 8
#: Seconds for which a lost point is looked for.
SEARCH_S = 0.6
_LK_SIDE = 21
_LK_LEVELS = 3
_LK_ENOUGH = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 20, 0.02)
#: Frames that are decoded at once for going backwards.
_CHUNK = 64


@dataclass(frozen=True, slots=True)
class Step:
    """One frame of a track. x, y: pixels of the review copy, None where the point is lost.

    confidence: 0 to 1; under core.frame.movement.UNSURE the coach should look.
    """

    frame: int
    x: float | None
    y: float | None
    confidence: float


def grey_frames(copy: Path, rate: Fraction, first: int, last: int) -> Iterator[tuple[int, Grey]]:
    """Frames first to last of a review copy with their numbers, grey, shape (height, width).

    Backwards when last lies before first. Raises FootageError when the copy cannot be read.
    """
    if last >= first:
        yield from _forwards(copy, rate, first, last)
        return
    end = first
    while end >= last:
        begin = max(last, end - _CHUNK + 1)
        yield from reversed(list(_forwards(copy, rate, begin, end)))
        end = begin - 1


def _forwards(copy: Path, rate: Fraction, first: int, last: int) -> Iterator[tuple[int, Grey]]:
    for frame, picture in frames_of_copy(copy, rate, first, last):
        yield frame, _grey(picture)


def _grey(picture: av.VideoFrame) -> Grey:
    """The brightness plane as it is: no conversion, and no copy where the rows are close."""
    if picture.format.name in ("yuv420p", "yuvj420p", "nv12"):
        plane = picture.planes[0]
        rows = np.frombuffer(memoryview(plane), np.uint8).reshape(plane.height, plane.line_size)
        return np.ascontiguousarray(rows[:, : plane.width])
    return picture.to_ndarray(format="gray").astype(np.uint8, copy=False)


def follow(
    frames: Iterable[tuple[int, Grey]], x: float, y: float, seconds_a_frame: float
) -> Iterator[Step]:
    """Follow the point at (x, y) of the first frame through the others.

    Gives a step for every frame after the first; ends early when a lost point is not found again
    within SEARCH_S.
    """
    pictures = iter(frames)
    try:
        _, before = next(pictures)
    except StopIteration:
        return
    patience = max(1, round(SEARCH_S / max(seconds_a_frame, 1e-6)))
    tracker = (_Tracker if is_marked(before, x, y) else SurfaceTracker)(before, x, y, patience)
    for frame, picture in pictures:
        found, confidence = tracker.step(picture)
        if found is None:
            if tracker.given_up:
                return
            yield Step(frame, None, None, 0.0)
        else:
            yield Step(frame, found[0], found[1], confidence)


class _Tracker:
    def __init__(self, picture: Grey, x: float, y: float, patience: int) -> None:
        self.at = (x, y)
        self.speed = (0.0, 0.0)
        self.before = picture
        self.patience = patience
        self.lost = 0
        self.patch = patch_of(picture, x, y, _PATCH)
        self.sought = turned(patch_of(picture, x, y, 2 * CORE))
        self.check = 0
        self.past: deque[tuple[Grey, tuple[float, float]]] = deque(maxlen=_LOOK_BACK)
        self.past.append((picture, (x, y)))
        self.trust = 1.0

    @property
    def given_up(self) -> bool:
        return self.lost > self.patience

    def step(self, picture: Grey) -> tuple[tuple[float, float] | None, float]:
        found, confidence = None, 0.0
        if not self.lost:
            found, home = _one_step(self.before, picture, self.at, self.speed)
            if found is not None and home <= _STEP_HOME:
                alike = _likeness(picture, found, self.patch)
                confidence = (1 - home / (2 * _STEP_HOME)) * min(1.0, max(0.0, alike) / ALIKE)
                if alike < 0.5:
                    found = None
            else:
                found = None
        if found is None:
            found, confidence = self._look_for(picture)
            if found is not None:
                ahead = (self.at[0] + self.speed[0], self.at[1] + self.speed[1])
                if self.lost or math.dist(found, ahead) > _NEAR:
                    self.check = _CHECK
                self.past.clear()
        self.before = picture
        if found is None:
            self.lost += 1
            return None, 0.0
        dx, dy = found[0] - self.at[0], found[1] - self.at[1]
        self.speed = (0.0, 0.0) if self.lost else (dx, dy)
        self.lost = 0
        self.at = found
        self.past.append((picture, found))
        self.trust = min(1.0, self.trust + 0.1, self._way_home())
        if confidence > 0.5 or self.check == _CHECK:
            self.patch = patch_of(picture, *found, _PATCH)
        self.check = max(0, self.check - 1)
        return found, min(confidence, self.trust, 0.4 if self.check else 1.0)

    def _look_for(self, picture: Grey) -> tuple[tuple[float, float] | None, float]:
        place, alike = search(picture, self.sought, self.at, self.speed, self.lost + 1)
        return (None, 0.0) if place is None else (place, 0.6 * alike)

    def _way_home(self) -> float:
        """Trust, 0 to 1, from walking back over the last frames; 1 while there are few."""
        if len(self.past) < 3:
            return 1.0
        at = self.at
        speed = (-self.speed[0], -self.speed[1])
        pictures = list(self.past)
        for (earlier, _), (later, _) in zip(
            reversed(pictures[:-1]), reversed(pictures[1:]), strict=True
        ):
            back, _ = _one_step(later, earlier, at, speed, home=False)
            if back is None:
                return 0.3
            speed = (back[0] - at[0], back[1] - at[1])
            at = back
        away = math.dist(at, pictures[0][1])
        return max(0.0, 1 - away / (2 * _LONG_HOME))


def _one_step(
    a: Grey, b: Grey, at: tuple[float, float], speed: tuple[float, float], home: bool = True
) -> tuple[tuple[float, float] | None, float]:
    """Where a point of picture a is in b, and how far from it the way back ends, in pixels."""
    x, y = at
    height, width = a.shape
    if not (0 <= x < width and 0 <= y < height):
        return None, math.inf
    left, top = max(0, int(x) - _WINDOW), max(0, int(y) - _WINDOW)
    right, bottom = min(width, int(x) + _WINDOW), min(height, int(y) + _WINDOW)
    one = np.ascontiguousarray(a[top:bottom, left:right])
    two = np.ascontiguousarray(b[top:bottom, left:right])
    start = np.array([[[x - left, y - top]]], np.float32)
    guess = start + np.array(speed, np.float32)
    there, ok = _flow(one, two, start, guess)
    if not ok:
        return None, math.inf
    away = 0.0
    if home:
        back, ok = _flow(two, one, there, start.copy())
        if not ok:
            return None, math.inf
        away = float(np.hypot(*(back - start).ravel()))
    fx, fy = (float(v) + edge for v, edge in zip(there.ravel(), (left, top), strict=True))
    if not (0 <= fx < width and 0 <= fy < height):
        return None, math.inf
    return (fx, fy), away


def _flow(
    a: Grey, b: Grey, start: NDArray[np.float32], guess: NDArray[np.float32]
) -> tuple[NDArray[np.float32], bool]:
    """One point from picture a to b, begun at a guess; all shapes (1, 1, 2)."""
    there, ok, _ = cv2.calcOpticalFlowPyrLK(
        a, b, start, guess, winSize=(_LK_SIDE, _LK_SIDE), maxLevel=_LK_LEVELS,
        criteria=_LK_ENOUGH, flags=cv2.OPTFLOW_USE_INITIAL_FLOW,
    )  # fmt: skip
    return np.asarray(there, np.float32), bool(np.asarray(ok)[0, 0])


def _likeness(picture: Grey, at: tuple[float, float], patch: Grey | None) -> float:
    """Normalised correlation of the picture at a point with a patch; 1 where there is none."""
    now = patch_of(picture, *at, _PATCH)
    if now is None or patch is None:
        return 1.0
    return float(cv2.matchTemplate(now, patch, cv2.TM_CCOEFF_NORMED)[0, 0])
