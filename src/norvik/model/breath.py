"""The head on a breath: turned or lifted as far as the mouth needs to find air.

The quicker the swim, the deeper the trough beside the face, and the less the head has to do.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from norvik.model import body, proportions, surface
from norvik.model.body import Build, Seconds
from norvik.model.schedule import BreathTimes

#: Metres by which the mouth is clear as it comes out and goes in, and in the middle of the breath.
PASSING_M, CLEAR_M = 0.004, 0.026
#: The face goes back down in this part of the time that it took to come up.
_BACK = 0.8


def mouth_m(build: Build, lift: Seconds, turn: Seconds) -> Seconds:
    """Height of the mouth over the neck, metres, of a face that looks down at no turn.

    lift: radians by which the crown rises. turn: radians about the head's axis.
    """
    h = build.height_m
    along = 0.5 * proportions.NECK_TO_CROWN * h * np.sin(lift)
    return np.asarray(along - body.MOUTH * h * np.cos(lift) * np.cos(turn), np.float64)


def needed_m(speed_m_s: float, clear_m: float) -> float:
    """Height of a mouth over the pool's level that is clear of the surface beside the face."""
    return clear_m - surface.trough_m(speed_m_s)


def turned(build: Build, neck_m: float, lift: float, speed_m_s: float) -> tuple[float, float]:
    """Radians of turn at which the mouth passes the surface, and in the middle of the breath."""
    turns = np.deg2rad(np.arange(10.0, 155.0, 0.25))
    over = mouth_m(build, np.full_like(turns, lift), turns) + neck_m
    out, middle = (_least(turns, over, needed_m(speed_m_s, m)) for m in (PASSING_M, CLEAR_M))
    return out, middle


def lifted(build: Build, neck_m: float, speed_m_s: float, clear_m: float) -> float:
    """Radians by which the crown has to rise for a mouth that is clear, the face looking down."""
    lifts = np.deg2rad(np.arange(-30.0, 85.0, 0.25))
    over = mouth_m(build, lifts, np.zeros_like(lifts)) + neck_m
    return _least(lifts, over, needed_m(speed_m_s, clear_m))


def _least(angles: Seconds, height_m: Seconds, needed: float) -> float:
    """The first angle at which a mouth is high enough; the last one where none is."""
    enough = np.flatnonzero(height_m >= needed)
    return float(angles[enough[0]] if enough.size else angles[-1])


def through_breaths(
    breaths: Sequence[BreathTimes], values: Sequence[tuple[float, float, float]], t: Seconds
) -> Seconds:
    """A value that is 0 face down and takes three values a breath: mouth out, middle, face in."""
    keys: list[tuple[float, float]] = []
    for b, (out, top, down) in zip(breaths, values, strict=True):
        back = b.down + _BACK * (b.air - b.turn)
        if keys and b.turn < keys[-1][0]:
            # The next breath begins before the face is all the way down.
            keys[-1] = (0.5 * (keys[-2][0] + b.turn), 0.0)
        keys += [
            (b.turn, 0.0),
            (b.air, out),
            (0.5 * (b.air + b.down), top),
            (b.down, down),
            (back, 0.0),
        ]
    return body.steady(keys, t) if keys else np.zeros_like(t)
