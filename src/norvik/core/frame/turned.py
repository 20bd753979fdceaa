"""What it does to a measure when the swimmer is not square to the camera.

A measure takes what it measures to lie in a plane that faces the camera. Nobody swims, and no
camera is held, exactly so. The clicks are looked at as if their plane were turned by an angle about
the vertical or the horizontal, nearer on one side than on the other, and the measure is taken anew.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point
from norvik.core.frame.lens import Lens

#: Own choice: standard uncertainty of how square a swimmer lies to the camera, in degrees. With it
#: nine of ten elbows lie within plus-minus whose plane is turned at random by 15 (standard).
TURN_DEG = 18.0


def turned(
    points: Sequence[Point], lens: Lens, yaw_deg: float, pitch_deg: float, among: int | None = None
) -> list[Point]:
    """The points as they lie in a plane through their middle that is turned by these angles.

    yaw: about the picture's vertical; pitch: about its horizontal. In pixels, the middle of the
    first `among` points (of all) staying where it is; 0 and 0 change nothing. Lines that run along
    with the plane, such as a lane rope beside the swimmer, keep their direction to those in it.
    """
    yaw, pitch = math.radians(yaw_deg), math.radians(pitch_deg)
    f, middle = lens.focal_px, lens.middle
    rays = [(p.x - middle.x, p.y - middle.y) for p in points]
    own = rays[:among]
    x0, y0 = (sum(r[n] for r in own) / len(own) for n in (0, 1))
    # First the plane turns about the vertical, then about its own horizontal.
    across = (math.cos(yaw), 0.0, -math.sin(yaw))
    normal = (
        math.sin(yaw) * math.cos(pitch), math.sin(pitch), math.cos(yaw) * math.cos(pitch),
    )  # fmt: skip
    down = (-math.sin(yaw) * math.sin(pitch), math.cos(pitch), -math.cos(yaw) * math.sin(pitch))
    at = normal[0] * x0 + normal[1] * y0 + normal[2] * f
    found = []
    for x, y in rays:
        away = at / (normal[0] * x + normal[1] * y + normal[2] * f)
        offset = (away * x - x0, away * y - y0, (away - 1) * f)
        u = sum(a * b for a, b in zip(across, offset, strict=True))
        v = sum(a * b for a, b in zip(down, offset, strict=True))
        found.append(Point(middle.x + x0 + u, middle.y + y0 + v))
    return found


def turn_uncertainty(
    measure: Callable[[Sequence[Point]], float],
    points: Sequence[Point],
    lens: Lens,
    turn_deg: float = TURN_DEG,
    among: int | None = None,
) -> float:
    """Standard uncertainty of a measure from not knowing how square the swimmer lies, in its unit.

    turn_deg: standard uncertainty of the turn about each axis. A small turn does next to nothing
    and a large one much, so that the slope at 0 tells nothing: the mean square is taken with Gauss
    and Hermite's three nodes, 0 and root 3 to either side. A measure that the turned points cannot
    give counts as unchanged. among: see `turned`.
    """
    if turn_deg == 0:
        return 0.0
    here, far = measure(points), math.sqrt(3) * turn_deg
    square = 0.0
    for yaw, pitch in ((far, 0), (-far, 0), (0, far), (0, -far)):
        try:
            square += (measure(turned(points, lens, yaw, pitch, among)) - here) ** 2 / 6
        except MeasureError:
            continue
    return math.sqrt(square)
