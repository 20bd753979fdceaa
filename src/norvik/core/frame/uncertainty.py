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


def uncertainty(
    measure: Callable[[Sequence[Point]], float],
    clicks: Sequence[Point],
    error_px: float = CLICK_ERROR_PX,
) -> float:
    """Standard uncertainty of `measure` at these clicks, in its own unit.

    error_px: standard error of each coordinate of a click, 0 or more (MeasureError otherwise).
    Near a place where a measure has a corner (a straight elbow, whose angle cannot pass 180; a line
    that is level) the true spread is smaller than this, never larger.
    """
    if not (math.isfinite(error_px) and error_px >= 0):
        raise MeasureError("The click error must be a number of pixels, 0 or more.")
    here = measure(clicks)
    squares = 0.0
    for n, click in enumerate(clicks):
        for moved in (lambda p, d: Point(p.x + d, p.y), lambda p, d: Point(p.x, p.y + d)):
            low, high = (
                measure([*clicks[:n], moved(click, step), *clicks[n + 1 :]])
                for step in (-_STEP_PX, _STEP_PX)
            )
            # Both sides agree where a measure is smooth. At a corner (a line that lies exactly
            # level, taken without its sign) they cancel: the steeper side counts there.
            both = abs(high - low) / (2 * _STEP_PX)
            steeper = max(abs(high - here), abs(here - low)) / _STEP_PX
            squares += (steeper if both < 0.5 * steeper else both) ** 2
    return error_px * math.sqrt(squares)
