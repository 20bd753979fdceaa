"""How much each part of a film's picture stirs, taken beside whatever else is read of it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.reading.followed import READ_FPS

Image = NDArray[np.uint8]
Series = NDArray[np.float64]

#: A picture as it is compared, and its parts, across and down.
_SMALL, _PARTS = (160, 90), (10, 6)
#: What is broader than this, in pixels of the small picture, is light and no movement.
_BROAD = 6.0


class Stir:
    """Looks at pictures that are on their way to somebody else."""

    def __init__(self) -> None:
        self._before: NDArray[np.float32] | None = None
        self._times: list[float] = []
        self._parts: list[NDArray[np.float32]] = []

    def beside(
        self, pictures: Iterable[tuple[int, float, Image]]
    ) -> Iterator[tuple[int, float, Image]]:
        """The same pictures, each looked at as it passes."""
        for number, time_s, picture in pictures:
            self._look(time_s, picture)
            yield number, time_s, picture

    def _look(self, time_s: float, picture: Image) -> None:
        small = cv2.resize(picture, _SMALL, interpolation=cv2.INTER_AREA)
        grey = cv2.cvtColor(small, cv2.COLOR_RGB2GRAY).astype(np.float32)
        now = np.asarray(grey - cv2.GaussianBlur(grey, (0, 0), _BROAD), np.float32)
        if self._before is not None:
            changed = cv2.resize(np.abs(now - self._before), _PARTS, interpolation=cv2.INTER_AREA)
            self._times.append(time_s)
            self._parts.append(np.sqrt(changed).ravel())
        self._before = now

    def evenly(self) -> tuple[Series, float]:
        """How much each part changed, shape (n, parts), and the seconds from one to the next."""
        apart = 1 / READ_FPS
        if len(self._times) < 2:
            return np.zeros((0, _PARTS[0] * _PARTS[1])), apart
        grid = np.arange(self._times[0], self._times[-1] + apart / 2, apart)
        parts = np.array(self._parts, float)
        even = [np.interp(grid, self._times, one) for one in parts.T]
        return np.stack(even, axis=1), apart
