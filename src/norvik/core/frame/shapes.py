"""Drawings as strokes, rings and words, for whoever paints them: the bench, a still, paper."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

from norvik.core.frame.geometry import Point, distance
from norvik.core.frame.references import References


class Stroke(NamedTuple):
    """A line through points. thin: it only helps; solid: it is never dashed."""

    points: tuple[Point, ...]
    thin: bool = False
    solid: bool = False


class Ring(NamedTuple):
    centre: Point
    radius: float


class Word(NamedTuple):
    """size: height of the letters in source pixels; None: as all others."""

    at: Point
    text: str
    centred: bool = False
    size: float | None = None


Shape = Stroke | Ring | Word
#: Pieces of a curve between two of its points.
_PIECES = 12


def shapes(
    kind: str,
    points: Sequence[Point],
    references: References,
    size: tuple[int, int],
    mirrored_clock: bool = False,
) -> list[Shape]:
    """What a drawing is painted of, in source pixels; the words it carries come from elsewhere.

    size: of the picture, which plumb lines and midlines cross. mirrored_clock: the swimmer comes
    towards the camera, so that the clock the swimmer sees runs the other way.
    """
    p = tuple(points)
    if kind == "arrow":
        return [Stroke(p), Stroke(_head(p[0], p[1], 0.02 * size[0]), solid=True)]
    if kind == "circle":
        return [Ring(p[0], distance(p[0], p[1]))]
    if kind == "curve":
        return [Stroke(curve(p))]
    if kind == "text":
        return []
    if kind in ("plumb", "level"):
        tilt = math.radians(references.horizon_deg)
        along = (
            (math.sin(tilt), math.cos(tilt))
            if kind == "plumb"
            else (math.cos(tilt), -math.sin(tilt))
        )
        return [Stroke(_across(p[0], along, size))]
    if kind == "midline":
        length = distance(p[0], p[1]) or 1.0
        along = ((p[1].x - p[0].x) / length, (p[1].y - p[0].y) / length)
        return [Stroke(_across(p[0], along, size), thin=True), Stroke(p)]
    if kind == "clock":
        return _clock(p[0], p[1], mirrored_clock)
    if kind == "ghost":
        return []
    return [Stroke(p)]


def arc(a: Point, corner: Point, b: Point) -> Stroke:
    """The bow between the legs of an angle."""
    radius = 0.3 * min(distance(corner, a), distance(corner, b))
    begin = math.atan2(a.y - corner.y, a.x - corner.x)
    turn = math.atan2(b.y - corner.y, b.x - corner.x) - begin
    turn = (turn + math.pi) % (2 * math.pi) - math.pi
    return Stroke(
        tuple(
            Point(
                corner.x + radius * math.cos(begin + turn * n / 16),
                corner.y + radius * math.sin(begin + turn * n / 16),
            )
            for n in range(17)
        ),
        thin=True,
    )


def curve(points: Sequence[Point]) -> tuple[Point, ...]:
    """A smooth line through points (Catmull and Rom 1974)."""
    ends = (points[0], *points, points[-1])
    made = [points[0]]
    for a, b, c, d in zip(ends, ends[1:], ends[2:], ends[3:], strict=False):
        for n in range(1, _PIECES + 1):
            t = n / _PIECES
            made.append(Point(_spline(a.x, b.x, c.x, d.x, t), _spline(a.y, b.y, c.y, d.y, t)))
    return tuple(made)


def _spline(a: float, b: float, c: float, d: float, t: float) -> float:
    return 0.5 * (
        2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t**2 + (3 * b - a - 3 * c + d) * t**3
    )


def _head(a: Point, b: Point, size: float) -> tuple[Point, ...]:
    back = math.atan2(a.y - b.y, a.x - b.x)
    size = min(size, 0.5 * distance(a, b))
    left, right = (
        Point(b.x + size * math.cos(back + turn), b.y + size * math.sin(back + turn))
        for turn in (0.45, -0.45)
    )
    return left, b, right


def _across(p: Point, along: tuple[float, float], size: tuple[int, int]) -> tuple[Point, Point]:
    """The line through p in a direction, from edge to edge of the picture."""
    low, high = -math.inf, math.inf
    for at, step, end in ((p.x, along[0], size[0]), (p.y, along[1], size[1])):
        if abs(step) > 1e-12:
            a, b = sorted(((0 - at) / step, (end - at) / step))
            low, high = max(low, a), min(high, b)
    return (
        Point(p.x + low * along[0], p.y + low * along[1]),
        Point(p.x + high * along[0], p.y + high * along[1]),
    )


def _clock(centre: Point, twelve: Point, mirrored: bool) -> list[Shape]:
    radius = distance(centre, twelve)
    begin = math.atan2(twelve.y - centre.y, twelve.x - centre.x)
    turn = -1 if mirrored else 1
    made: list[Shape] = [Ring(centre, radius)]
    for hour in range(1, 13):
        angle = begin + turn * math.radians(30 * hour)
        x, y = math.cos(angle), math.sin(angle)
        made.append(
            Stroke(
                (
                    Point(centre.x + 0.9 * radius * x, centre.y + 0.9 * radius * y),
                    Point(centre.x + radius * x, centre.y + radius * y),
                ),
                thin=True,
            )
        )
        if hour % 3 == 0 or hour in (1, 11):
            made.append(
                Word(Point(centre.x + 0.76 * radius * x, centre.y + 0.76 * radius * y),
                     str(hour), centred=True, size=0.2 * radius)
            )  # fmt: skip
    return made
