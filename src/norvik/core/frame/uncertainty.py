"""How sure a measure is: what the error of every click makes of it.

Each click has a standard error in pixels, alike in both directions and independent of the others.
A measure q of clicks at c has u(q) = error * |dq/dc| (JCGM 100:2008, 5.1.2). The derivatives are
central differences over a hundredth of a pixel: measures are smooth there, and one rule holds for
all of them.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point

#: Own choice, a setting: standard error of a click, pixels at the clip's own resolution.
CLICK_ERROR_PX = 3.0
_STEP_PX = 0.01


def slopes(measure: Callable[[Sequence[Point]], float], clicks: Sequence[Point]) -> list[float]:
    """How `measure` moves with each click's x and y, in its own unit a pixel; two for each click.

    Near a place where a measure has a corner (a straight elbow, whose angle cannot pass 180; a line
    that is level) the true spread is smaller than what this leads to, never larger.
    """
    here = measure(clicks)
    found = []
    for n, click in enumerate(clicks):
        for moved in (lambda p, d: Point(p.x + d, p.y), lambda p, d: Point(p.x, p.y + d)):
            low, high = (
                measure([*clicks[:n], moved(click, step), *clicks[n + 1 :]])
                for step in (-_STEP_PX, _STEP_PX)
            )
            # Both sides agree where a measure is smooth. At a corner (a line that lies exactly
            # level, taken without its sign) they cancel: the steeper side counts there.
            both = (high - low) / (2 * _STEP_PX)
            steeper = max(high - here, here - low, key=abs) / _STEP_PX
            found.append(steeper if abs(both) < 0.5 * abs(steeper) else both)
    return found


def uncertainty(
    measure: Callable[[Sequence[Point]], float],
    clicks: Sequence[Point],
    error_px: float = CLICK_ERROR_PX,
) -> float:
    """Standard uncertainty of `measure` at these clicks, in its own unit.

    error_px: standard error of each coordinate of a click, 0 or more (MeasureError otherwise).
    """
    return checked_error(error_px) * math.hypot(*slopes(measure, clicks))


def checked_error(error_px: float) -> float:
    """Raises MeasureError for what is no error of a click."""
    if not (math.isfinite(error_px) and error_px >= 0):
        raise MeasureError("The click error must be a number of pixels, 0 or more.")
    return error_px
