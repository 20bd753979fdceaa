"""Angles, lines and distances on a frame, in pixels of the source: x to the right, y downwards."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

from norvik.core.errors import MeasureError


class Point(NamedTuple):
    """A place on a frame in source pixels; the centre of the first pixel is (0.5, 0.5)."""

    x: float
    y: float


def distance(a: Point, b: Point) -> float:
    """Pixels from a to b."""
    return math.hypot(b.x - a.x, b.y - a.y)


def inner_angle(a: Point, corner: Point, b: Point) -> float:
    """Degrees between the legs from `corner` to a and to b, 0 to 180; 180 is straight.

    Raises MeasureError when a leg has no length.
    """
    ux, uy, vx, vy = a.x - corner.x, a.y - corner.y, b.x - corner.x, b.y - corner.y
    if (ux == 0 and uy == 0) or (vx == 0 and vy == 0):
        raise MeasureError("Two points of this angle lie on each other. Move one of them.")
    # atan2 keeps its accuracy where an arc cosine loses it: near 0 and 180 degrees.
    return math.degrees(math.atan2(abs(ux * vy - uy * vx), ux * vx + uy * vy))


def rise(a: Point, b: Point, horizon_deg: float = 0.0) -> float:
    """Degrees by which the line from a to b climbs above the horizontal, -180 to 180.

    horizon_deg: how far the picture's true horizontal itself climbs to the right (see References).
    Raises MeasureError when the line has no length.
    """
    if a == b:
        raise MeasureError("The two points of this line lie on each other. Move one of them.")
    return _turned(math.degrees(math.atan2(a.y - b.y, b.x - a.x)) - horizon_deg)


def steepness(a: Point, b: Point, horizon_deg: float = 0.0) -> float:
    """Degrees between a line and the horizontal, whichever way it points: 0 to 90."""
    away = abs(rise(a, b, horizon_deg))
    return 180 - away if away > 90 else away


def between_lines(a: Point, b: Point, c: Point, d: Point) -> float:
    """Degrees between the directions a to b and c to d, 0 to 180."""
    return abs(_turned(rise(a, b) - rise(c, d)))


def off_line(p: Point, a: Point, b: Point) -> float:
    """Pixels from p to the straight line through a and b; above it (towards smaller y) positive.

    Above and below change over for a line straight up and down; there the left is positive.
    Raises MeasureError when the line has no length.
    """
    length = distance(a, b)
    if length == 0:
        raise MeasureError("The two points of this line lie on each other. Move one of them.")
    if (a.x, a.y) > (b.x, b.y):
        a, b = b, a
    return ((p.x - a.x) * (b.y - a.y) - (p.y - a.y) * (b.x - a.x)) / length


def above(a: Point, b: Point, horizon_deg: float = 0.0) -> float:
    """Pixels by which a lies higher than b, across the true horizontal."""
    tilt = math.radians(horizon_deg)
    return (b.y - a.y) * math.cos(tilt) - (a.x - b.x) * math.sin(tilt)


def best_line_spread(points: Sequence[Point]) -> float:
    """Largest distance of points from the straight line that fits them best, in pixels.

    The line is that of least squares across itself, through the middle of the points.
    Raises MeasureError for fewer than three points.
    """
    if len(points) < 3:
        raise MeasureError("This needs at least three points.")
    n = len(points)
    mx, my = math.fsum(p.x for p in points) / n, math.fsum(p.y for p in points) / n
    xx = math.fsum((p.x - mx) ** 2 for p in points)
    yy = math.fsum((p.y - my) ** 2 for p in points)
    xy = math.fsum((p.x - mx) * (p.y - my) for p in points)
    along = 0.5 * math.atan2(2 * xy, xx - yy)
    nx, ny = -math.sin(along), math.cos(along)
    return max(abs((p.x - mx) * nx + (p.y - my) * ny) for p in points)


def _turned(degrees: float) -> float:
    """The same direction within -180 to 180."""
    return (degrees + 180) % 360 - 180
