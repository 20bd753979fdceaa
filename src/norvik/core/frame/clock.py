"""The clock that a swimmer sees ahead: twelve on the midline, one before the right shoulder."""

from __future__ import annotations

import math

from norvik.core.strokes.names import Side


def hours_of(half_shoulders: float, side: Side) -> float:
    """Hours from twelve, positive to the right, of a hand that far from the midline.

    half_shoulders: half widths of the shoulders, positive on the hand's own side.
    """
    return half_shoulders if side != "left" else -half_shoulders


def oclock(half_shoulders: float, side: Side) -> str:
    """Where a hand goes in, to half an hour: "1 o'clock", "half past 11"."""
    hours = round(2 * hours_of(half_shoulders, side)) / 2
    hour = (hours - 1) % 12 + 1 if hours == int(hours) else None
    if hour is not None:
        return f"{hour:.0f} o'clock"
    low = (math.floor(hours) - 1) % 12 + 1
    return f"half past {low:.0f}"
