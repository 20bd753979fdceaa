"""Things of the pool side as solids: what a swimmer holds, wears or works at in a drill."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True, slots=True)
class Solid:
    """The hull of balls of one size.

    points: metres, shape (n, 3). radius_m: of the balls. tone: kit, kit-pale, mark, bubble,
    wall or ground.
    lift_m: by how much nearer to the eye it counts than it lies: what is held hides the hand.
    """

    points: NDArray[np.float64]
    radius_m: float
    tone: str
    lift_m: float = 0.0
