"""What decoding a recording told."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True, slots=True)
class Decoded:
    """What decoding told of a recording and its review copy.

    rate: constant frames per second of the copy. width, height: of the copy in pixels. media_s:
    true times of the source's frames. constant: they lie on a constant raster. warning: a sentence
    about what was lost, if something was. copied: False when the source itself is played.
    """

    rate: Fraction
    width: int
    height: int
    source_width: int
    source_height: int
    codec: str
    media_s: NDArray[np.float64]
    constant: bool
    copied: bool
    warning: str | None = None
    times_estimated: bool = False
