"""A hand as cross-sections from wrist to fingertips: broad from the palm, thin from its edge.

So that it can be seen what touches the water first and which way the palm faces.
"""

from __future__ import annotations

import numpy as np

from norvik.core.strokes.names import Side
from norvik.model.body import Pose
from norvik.model.trunk import Section

#: Way from wrist to fingertips as a share, half width and half thickness in body heights: a palm of
#: some 8 cm across at a height of 1.78 m (own choice).
_SHAPE = (
    (0.00, 0.006, 0.0150),
    (0.20, 0.017, 0.0105),
    (0.52, 0.021, 0.0085),
    (0.76, 0.0175, 0.0070),
    (0.90, 0.012, 0.0062),
    (0.98, 0.005, 0.0055),
)


def hand_sections(pose: Pose, side: Side, n: int, height_m: float) -> list[Section]:
    """The sections of a hand in frame n, from the wrist on."""
    wrist, tip = pose[f"{side}_wrist"][n], pose[f"{side}_fingertip"][n]
    fingers = tip - wrist
    along = fingers / max(1e-9, float(np.linalg.norm(fingers)))
    thumb = pose[f"{side}_thumb"][n] - wrist
    across = thumb - along * float(thumb @ along)
    across = across / max(1e-9, float(np.linalg.norm(across)))
    found = []
    for share, half, thick in _SHAPE:
        middle, reach = wrist + share * fingers, across * half * height_m
        found.append(Section(middle + reach, middle - reach, thick * height_m, False))
    return found
