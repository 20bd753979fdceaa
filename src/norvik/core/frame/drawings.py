"""What can be drawn on a frame: how many points each drawing has, and what it says."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point, distance, inner_angle, steepness
from norvik.core.frame.references import References

#: What a drawing means; it has its own colour, and its own kind of line for print.
STYLES = ("neutral", "good", "watch", "fault")
#: Longest text of a note.
LONGEST_TEXT = 200


@dataclass(frozen=True, slots=True)
class DrawingKind:
    """least, most: points. free: drawn in one move of the hand. worded: it carries a text."""

    id: str
    name: str
    least: int
    most: int
    free: bool = False
    worded: bool = False


KINDS = {
    k.id: k
    for k in (
        DrawingKind("line", "Line", 2, 2),
        DrawingKind("polyline", "Chain of joints", 2, 60),
        DrawingKind("angle", "Angle", 3, 3),
        DrawingKind("arrow", "Direction", 2, 2),
        DrawingKind("circle", "Ring", 2, 2),
        DrawingKind("curve", "Path", 3, 60),
        DrawingKind("freehand", "Line by hand", 2, 2000, free=True),
        DrawingKind("text", "Words", 1, 1, worded=True),
        DrawingKind("plumb", "Vertical line", 1, 1),
        DrawingKind("level", "Level line", 1, 1),
        DrawingKind("midline", "Midline", 2, 2),
        DrawingKind("clock", "Clock face", 2, 2),
        DrawingKind("ghost", "Good figure", 2, 2, worded=True),
        DrawingKind("trunk", "Trunk: shoulder, hip", 2, 2),
    )
}


def check(kind: str, points: Sequence[Point], style: str, text: str) -> None:
    """Refuse a drawing that cannot be: MeasureError says why."""
    known = KINDS.get(kind)
    if known is None:
        raise MeasureError("This drawing is not known. Reload the page.")
    if not known.least <= len(points) <= known.most:
        least = f"{known.least} point{'s' if known.least > 1 else ''}"
        raise MeasureError(f"{known.name} needs {least} at least and {known.most} at most.")
    if style not in STYLES:
        raise MeasureError("A drawing is neutral, good, watch or fault.")
    if len(text) > LONGEST_TEXT:
        raise MeasureError(f"Keep the text under {LONGEST_TEXT} letters.")
    if kind == "text" and not text.strip():
        raise MeasureError("Enter the text.")


def says(kind: str, points: Sequence[Point], references: References) -> str:
    """The number beside a drawing: an angle, a slope, a length where a scale is set; or nothing.

    Of where a straight lens would show its points.
    """
    if references.lens is not None:
        points = [references.lens.correct(p) for p in points]
        references = references.corrected(references.lens)
    if kind == "angle":
        return f"{inner_angle(*points[:3]):.0f}°"
    if kind == "line":
        slope = f"{steepness(points[0], points[1], references.horizon_deg):.0f}°"
        return f"{slope} · {_length(points, references)}".removesuffix(" · ")
    if kind in ("polyline", "curve", "arrow"):
        return _length(points, references)
    return ""


def _length(points: Sequence[Point], references: References) -> str:
    if not (references.scale or references.plane):
        return ""
    metres = [references.metres(a, b) for a, b in pairwise(points)]
    return f"{math.fsum(metres):.2f} m"


def thinned(points: Sequence[Point], off_px: float = 1.0) -> list[Point]:
    """A freehand line with fewer points, nowhere farther than `off_px` from what was drawn.

    Ramer 1972; Douglas and Peucker 1973.
    """
    if len(points) < 3:
        return list(points)
    keep = {0, len(points) - 1}
    waiting = [(0, len(points) - 1)]
    while waiting:
        a, b = waiting.pop()
        away, at = max(
            ((_off(points[n], points[a], points[b]), n) for n in range(a + 1, b)), default=(0.0, a)
        )
        if away > off_px:
            keep.add(at)
            waiting += [(a, at), (at, b)]
    return [points[n] for n in sorted(keep)]


def _off(p: Point, a: Point, b: Point) -> float:
    """Pixels from p to the piece between a and b."""
    length = distance(a, b)
    if length == 0:
        return distance(p, a)
    along = ((p.x - a.x) * (b.x - a.x) + (p.y - a.y) * (b.y - a.y)) / length**2
    along = min(1.0, max(0.0, along))
    return math.hypot(p.x - a.x - along * (b.x - a.x), p.y - a.y - along * (b.y - a.y))
