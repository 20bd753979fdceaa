"""The model figure laid on a picture, between two points of the swimmer's trunk."""

from __future__ import annotations

from collections.abc import Sequence

from norvik.core.frame.geometry import Point, distance
from norvik.core.frame.shapes import Shape, Stroke
from norvik.core.strokes.names import StrokeName
from norvik.model.stance import VIEW_OF, events_of, spine, stance


def moments(stroke: StrokeName) -> list[str]:
    """The events of a stroke at which the figure can be shown."""
    return list(events_of(stroke))


def ghost(stroke: StrokeName, view: str, moment: str, points: Sequence[Point]) -> list[Shape]:
    """Lines of the figure; points: the swimmer's neck and pelvis in source pixels.

    The figure swims the way the trunk points. An unknown moment is the first of the cycle; a view
    that the figure is not drawn from is taken from the side.
    """
    neck, pelvis = points
    if neck == pelvis:
        return []
    events = events_of(stroke)
    phase = events.get(moment, 0.0)
    seen = VIEW_OF.get(view, "side")
    (nx, ny), (px, py) = spine(stroke, phase, seen)
    own = complex(nx - px, ny - py)
    length = distance(neck, pelvis)
    if abs(own) < 0.25 * length * 0.001:
        return []
    wanted = complex(neck.x - pelvis.x, neck.y - pelvis.y)
    # The figure swims to the right; one that swims to the left is its mirror image.
    mirrored = wanted.real < 0 < own.real
    if mirrored:
        own = complex(-own.real, own.imag)
    turn = wanted / own

    def laid(x: float, y: float) -> Point:
        dx = (px - x) if mirrored else (x - px)
        at = complex(dx, y - py) * turn
        return Point(round(pelvis.x + at.real, 1), round(pelvis.y + at.imag, 1))

    return [
        Stroke((laid(p.x1, p.y1), laid(p.x2, p.y2)), thin=p.far)
        for p in stance(stroke, phase, seen).bones
        if (p.x1, p.y1) != (p.x2, p.y2)
    ]
