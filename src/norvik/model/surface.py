"""The water's surface near a swimmer's head: it piles up before the crown and sinks behind it.

A moving body makes a wave of its own speed. The head pushes a crest ahead of itself; in the trough
beside the face the mouth finds air below the level of the pool.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

#: Standard gravity, m/s^2.
_G = 9.81
#: Depth of the trough as a part of the stagnation height v^2/2g. Own choice: 5 cm at 1.5 m/s, about
#: what is seen beside a crawl swimmer's face.
_TROUGH = 0.45
#: Metres from the crown back to the middle of the trough, and its half length.
_BEHIND_M, _HALF_M = 0.22, 0.30


def trough_m(speed_m_s: float) -> float:
    """How far the surface beside the face lies under the level of the pool, metres."""
    return _TROUGH * speed_m_s**2 / (2 * _G)


def height_m(behind_crown_m: NDArray[np.float64], speed_m_s: float) -> NDArray[np.float64]:
    """Height of the surface over the level of the pool, metres, shape of behind_crown_m.

    behind_crown_m: how far behind the crown; negative ahead of it.
    """
    depth = trough_m(speed_m_s)
    dip = -depth * np.exp(-(((behind_crown_m - _BEHIND_M) / _HALF_M) ** 2))
    crest = 0.7 * depth * np.exp(-(((behind_crown_m + 0.16) / 0.14) ** 2))
    return np.asarray(dip + crest, np.float64)
