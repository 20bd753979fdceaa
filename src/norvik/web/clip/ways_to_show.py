"""What a coach shows on the picture, and the points that are asked for it."""

from __future__ import annotations

from dataclasses import dataclass

from norvik.core.frame.drawings import KINDS, DrawingKind


@dataclass(frozen=True, slots=True)
class Way:
    """kind: what is drawn. points: what each is called while it is asked for; the last one stays
    for all that follow.
    """

    id: str
    name: str
    kind: DrawingKind
    points: tuple[str, ...]


def _way(id: str, name: str, kind: str, *points: str) -> Way:
    return Way(id, name, KINDS[kind], points)


#: Shown by a picture each (web/draw/shown_ways.py).
PICTURED = (
    _way("angle", "Angle at a joint", "angle",
         "one end, such as the shoulder", "the joint, such as the elbow",
         "the other end, such as the hand"),
    _way("slope", "Slope", "line", "one end, such as the hip", "the other end, such as the head"),
    _way("distance", "Distance", "line", "where it begins", "where it ends"),
    _way("path", "Path", "curve", "the first point", "the next point"),
    _way("good", "Good figure", "ghost", "the neck", "the middle of the hips"),
    _way("here", "Look here", "circle", "the middle of what to look at", "its rim"),
)  # fmt: skip
MORE = tuple(
    Way(kind, KINDS[kind].name, KINDS[kind], points)
    for kind, points in (
        ("arrow", ("where it begins", "its tip")),
        ("text", ("where the words stand",)),
        ("freehand", ("on the picture",)),
        ("polyline", ("the first joint", "the next joint")),
        ("level", ("a point of the level line",)),
        ("plumb", ("a point of the vertical line",)),
        ("midline", ("one end of the body's middle", "the other end")),
        ("clock", ("the middle of the clock", "twelve o'clock, straight ahead")),
        ("trunk", ("the shoulder", "the hip")),
    )
)
