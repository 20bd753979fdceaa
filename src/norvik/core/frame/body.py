"""The body as a measure of itself, where no scale is known.

Segments as shares of body height: Drillis and Contini 1966, in Winter, Biomechanics and Motor
Control of Human Movement (recalled, not looked up).
"""

from __future__ import annotations

from collections.abc import Sequence

SEGMENTS = {
    "upper-arm": 0.186,
    "forearm": 0.146,
    "hand": 0.108,
    "thigh": 0.245,
    "shank": 0.246,
    "foot": 0.152,
    "shoulder-half-width": 0.129,
    "hip-half-width": 0.0955,
}

#: Own choice: a segment that appears shorter than this share of its longest appearance in the clip
#: points towards the camera or away, and an angle at its joint cannot be trusted.
IN_PLANE = 0.85


def in_plane(length_px: float, appearances_px: Sequence[float]) -> bool:
    """Whether a segment lies near enough across the view for an angle at its joint.

    appearances_px: its lengths elsewhere in the clip; with none of them nothing speaks against it.
    """
    longest = max(appearances_px, default=length_px)
    return length_px >= IN_PLANE * longest
