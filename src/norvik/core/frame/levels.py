"""Black and white points for a view through murky water.

Water takes away contrast and red light. Stretching each colour between its own darkest and
brightest parts brings both back, for the eye alone: nothing is measured on colours.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

#: Shares of the picture that may clip at either end, in percent.
_CLIPPED_PCT = 1.0
#: A colour is never stretched more than this: beyond it only noise is seen.
_MOST_GAIN = 3.5


@dataclass(frozen=True, slots=True)
class Levels:
    """(black, white) of red, green and blue, each 0 to 1, black below white."""

    red: tuple[float, float]
    green: tuple[float, float]
    blue: tuple[float, float]

    @classmethod
    def of(cls, pictures: Sequence[NDArray[np.uint8]]) -> Levels:
        """From pictures of one clip, each of shape (height, width, 3), blue-green-red."""
        pixels = np.concatenate([p.reshape(-1, 3) for p in pictures]).astype(np.float64) / 255
        low, high = np.percentile(pixels, [_CLIPPED_PCT, 100 - _CLIPPED_PCT], axis=0)
        least = 1 / _MOST_GAIN
        middle = (low + high) / 2
        narrow = high - low < least
        low = np.where(narrow, np.clip(middle - least / 2, 0, 1 - least), low)
        high = np.where(narrow, low + least, high)
        blue, green, red = (
            (round(float(a), 4), round(float(b), 4)) for a, b in zip(low, high, strict=True)
        )
        return cls(red, green, blue)

    def lines(self) -> list[tuple[float, float]]:
        """(slope, intercept) of red, green and blue: shown = slope * stored + intercept."""
        found = []
        for black, white in (self.red, self.green, self.blue):
            slope = 1 / (white - black)
            found.append((round(slope, 4), round(-slope * black, 4)))
        return found

    def as_list(self) -> list[list[float]]:
        return [list(self.red), list(self.green), list(self.blue)]

    @classmethod
    def from_list(cls, values: Sequence[Sequence[float]]) -> Levels:
        red, green, blue = ((float(a), float(b)) for a, b in values)
        return cls(red, green, blue)
