"""What a coach can show on a picture, each as the model swimmer with that drawing on it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cache

from flask import render_template
from markupsafe import Markup

from norvik.core.strokes import STROKES
from norvik.core.strokes.names import StrokeName
from norvik.model.stance import VIEW_OF, Flat, events_of, joint, joint_path, stance

#: Drawing units: how far the legs of an angle are marked, how far lines go beyond their ends, half
#: the end stroke of a distance, and the ring round a hand.
_ARC, _BEYOND, _TICK, _RING = 26.0, 34.0, 14.0, 34.0
#: Drawing units of the legs behind the hips and of room all round; width to height of a picture.
_LEGS, _ROUND, _SHAPE = 25.0, 14.0, 1.7

#: From where to where a slope is drawn: the body in the water, the shoulders, the reach.
_SLOPES = {
    "side": ("pelvis", "neck"), "front": ("right_shoulder", "left_shoulder"),
    "above": ("neck", "left_fingertip"),
}  # fmt: skip


@cache
def shown_ways(stroke: StrokeName, view: str) -> dict[str, Markup]:
    """By way to show: a small picture, drawn in lines from where the clip was filmed."""
    seen_from = VIEW_OF.get(view, "side")
    phase = _under_way(stroke)

    def at(name: str) -> Flat:
        return joint(stroke, phase, seen_from, name)

    path = joint_path(stroke, seen_from, "right_fingertip")
    drawn = {
        "angle": _angle(at("right_shoulder"), at("right_elbow"), at("right_wrist")),
        "slope": _slope(*(at(name) for name in _SLOPES[seen_from])),
        "distance": _distance((at("right_fingertip")[0], 0.0), at("right_fingertip"))
        if seen_from == "side"
        else _distance(at("left_elbow"), at("right_elbow")),
        "path": {"lines": [path]},
        "good": {"figure": True},
        "here": {"rings": [(*at("right_fingertip"), _RING)]},
    }
    figure = stance(stroke, phase, seen_from)
    hand = at("right_fingertip")
    ring = [(hand[0] - _RING, hand[1] - _RING), (hand[0] + _RING, hand[1] + _RING)]
    begin = -math.inf if seen_from == "front" else at("pelvis")[0] - _LEGS
    near = [p for shape in figure.shapes for p in shape.points if p[0] >= begin]
    box, wide_box = _box([*near, *ring]), _box([*near, *ring, *path])
    return {
        way: Markup(
            render_template(
                "bench/_shown_way.html",
                stance=figure,
                drawn=parts,
                box=wide_box if way == "path" else box,
            )
        )
        for way, parts in drawn.items()
    }


def _under_way(stroke: StrokeName) -> float:
    """The middle of the pull as a share of the cycle: there the arm shows most."""
    shares = events_of(stroke)
    pull = next(p for p in STROKES[stroke].phases if p.name == "pull")
    return (shares[pull.start] + shares[pull.end]) / 2


def _box(spots: Sequence[Flat]) -> tuple[float, float, float, float]:
    """Left, top, width and height of a picture that holds all spots."""
    left, right = min(x for x, _ in spots), max(x for x, _ in spots)
    top, bottom = min(y for _, y in spots), max(y for _, y in spots)
    width, height = right - left + 2 * _ROUND, bottom - top + 2 * _ROUND
    wide, tall = max(width, height * _SHAPE), max(height, width / _SHAPE)
    return (left + right - wide) / 2, (top + bottom - tall) / 2, wide, tall


def _angle(one: Flat, corner: Flat, other: Flat) -> dict[str, object]:
    """Both legs and the arc between them, the shorter way round."""
    begin, end = (math.atan2(p[1] - corner[1], p[0] - corner[0]) for p in (one, other))
    turn = math.remainder(end - begin, 2 * math.pi)
    arc = [
        (corner[0] + _ARC * math.cos(begin + turn * n / 8),
         corner[1] + _ARC * math.sin(begin + turn * n / 8))
        for n in range(9)
    ]  # fmt: skip
    return {"lines": [(one, corner, other)], "thin": [arc]}


def _slope(one: Flat, other: Flat) -> dict[str, object]:
    """A line through both, beyond its ends, and a level one beside it."""
    length = math.dist(one, other) or 1.0
    x, y = ((b - a) / length * _BEYOND for a, b in zip(one, other, strict=True))
    begin, end = (one[0] - x, one[1] - y), (other[0] + x, other[1] + y)
    return {"lines": [(begin, end)], "thin": [(begin, (end[0], begin[1]))]}


def _distance(one: Flat, other: Flat) -> dict[str, object]:
    """A line with a short stroke across each end."""
    length = math.dist(one, other) or 1.0
    x, y = ((b - a) / length * _TICK for a, b in zip(one, other, strict=True))
    ends = [((p[0] - y, p[1] + x), (p[0] + y, p[1] - x)) for p in (one, other)]
    return {"lines": [(one, other), *ends]}
