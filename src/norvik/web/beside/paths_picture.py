"""Two paths of a point past one body, as a picture."""

from __future__ import annotations

from itertools import groupby

from markupsafe import escape

from norvik.core.frame.geometry import Point
from norvik.core.strokes.definitions import event_name
from norvik.painting.overlay import stylesheet
from norvik.web.beside.films import film_words
from norvik.web.shared.picture_svg import picture_svg
from norvik.workflow.side_by_side.paths import PointPath

_WIDE, _TALL = 1100, 700
_MARGIN, _LEGEND = 70, 84
#: Colour and dashes of the first and the second film.
_LOOK = (("#f4ae1f", ""), ("#8ed0dc", "10 6"))


def paths_svg(one: PointPath, other: PointPath) -> str:
    """Ahead is to the right, deeper is further down; the hip is at 0, the shoulder at 1 trunk."""
    points = [p for path in (one, other) for p in path.places if p is not None]
    points += [Point(0, 0), Point(1, 0)]
    left, right = min(p.x for p in points), max(p.x for p in points)
    top, bottom = min(p.y for p in points), max(p.y for p in points)
    scale = min(
        (_WIDE - 2 * _MARGIN) / max(right - left, 0.1),
        (_TALL - _LEGEND - 2 * _MARGIN) / max(bottom - top, 0.1),
    )
    x0, y0 = _MARGIN - left * scale, _LEGEND + _MARGIN - top * scale

    def at(p: Point) -> Point:
        return Point(x0 + p.x * scale, y0 + p.y * scale)

    parts = [_grid(at, left, right, top, bottom)]
    hip, shoulder = at(Point(0, 0)), at(Point(1, 0))
    parts.append(
        f'<line x1="{hip.x:.1f}" y1="{hip.y:.1f}" x2="{shoulder.x:.1f}" y2="{shoulder.y:.1f}" '
        'stroke="#5d8189" stroke-width="12" stroke-linecap="round"/>'
        + _text(hip.x, hip.y - 14, "hip", "middle")
        + _text(shoulder.x, shoulder.y - 14, "shoulder", "middle")
    )
    for n, path in enumerate((one, other)):
        parts.append(_path(path, n, at))
        title, about = film_words(path.film, one.film if n else None)
        y = 30 + 30 * n
        colour, dash = _LOOK[n]
        parts.append(
            f'<line x1="20" y1="{y - 6}" x2="70" y2="{y - 6}" stroke="{colour}" stroke-width="4" '
            f'stroke-dasharray="{dash}"/>'
            + _text(82, y, f"{title}, {about}: {path.side} {path.point}", "start")
        )
    return picture_svg((_WIDE, _TALL), "".join(parts), stylesheet(1.1))


def _grid(at, left: float, right: float, top: float, bottom: float) -> str:  # type: ignore[no-untyped-def]
    """Lines at every half trunk."""
    made = []
    for n in range(round(2 * left) - 1, round(2 * right) + 2):
        if left - 0.1 <= n / 2 <= right + 0.1:
            a, b = at(Point(n / 2, top)), at(Point(n / 2, bottom))
            made.append(_line(a, b) + _text(b.x, b.y + 34, f"{n / 2:g}", "middle", quiet=True))
    for n in range(round(2 * top) - 1, round(2 * bottom) + 2):
        if top - 0.1 <= n / 2 <= bottom + 0.1:
            a, b = at(Point(left, n / 2)), at(Point(right, n / 2))
            made.append(_line(a, b))
    corner = at(Point(right, bottom))
    made.append(_text(corner.x, corner.y + 56, "trunk lengths ahead of the hip", "end", quiet=True))
    return "".join(made)


def _line(a: Point, b: Point) -> str:
    return (
        f'<line x1="{a.x:.1f}" y1="{a.y:.1f}" x2="{b.x:.1f}" y2="{b.y:.1f}" stroke="#123f49" '
        'stroke-width="1"/>'
    )


def _path(path: PointPath, n: int, at) -> str:  # type: ignore[no-untyped-def]
    colour, dash = _LOOK[n]
    made = []
    # A lost stretch is a gap, not a straight line.
    for there, run in groupby(path.places, key=lambda p: p is not None):
        if there:
            places = " ".join(f"{q.x:.1f},{q.y:.1f}" for q in (at(p) for p in run if p))
            made.append(
                f'<polyline points="{places}" stroke="{colour}" stroke-width="4" '
                f'stroke-dasharray="{dash}"/>'
            )
    for event, k in path.events:
        place = path.places[k] if k < len(path.places) else None
        if place is None:
            continue
        dot = at(place)
        made.append(
            f'<circle cx="{dot.x:.1f}" cy="{dot.y:.1f}" r="7" style="fill:{colour}" '
            'stroke="#061a1f"/>'
        )
        if n == 0:
            made.append(_text(dot.x + 12, dot.y - 10, event_name(event), "start"))
    return "".join(made)


def _text(x: float, y: float, words: str, anchor: str, quiet: bool = False) -> str:
    fill = ' style="fill:#9fbcc0"' if quiet else ""
    return (
        f'<text class="caption" x="{x:.1f}" y="{y:.1f}" font-size="19" text-anchor="{anchor}"'
        f"{fill}>{escape(words)}</text>"
    )
