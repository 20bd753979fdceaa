"""The dial as a drawing: rings from outside in, each phase a band, spread as a fan at its edges."""

from __future__ import annotations

import math
from dataclasses import dataclass

from norvik.core.time.dial import Arc, Dial, Ring
from norvik.web.clip.rope import LETTERS

SIZE = 620
_OUTER, _BAND, _GAP = 284, 40, 10
#: Spread narrower than this share of the cycle would be hidden by the line that marks the edge.
_LEAST_SD = 0.003
#: Own choice: a fan is never wider than a quarter of the circle to each side, and of fewer than
#: three cycles nobody knows the spread.
_MOST_SD, _LEAST_CYCLES = 0.125, 3


@dataclass(frozen=True, slots=True)
class Band:
    """One phase. path: its outline. x, y: where its letter stands. fans: spread at both edges."""

    kind: str
    path: str
    letter: str
    x: float
    y: float
    title: str
    fans: tuple[str, ...]
    edges: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class DrawnRing:
    """radius: of its middle. dots: (x, y) of single places."""

    name: str
    radius: float
    bands: tuple[Band, ...]
    dots: tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True)
class Drawing:
    """rings of the clip; over: edges of the other clip's phases, (path, title), other clip them."""

    rings: tuple[DrawnRing, ...]
    over: tuple[tuple[str, str], ...]
    said: str
    size: int = SIZE


def draw(dial: Dial, over: Dial | None = None) -> Drawing:
    rings = tuple(_ring(ring, n) for n, ring in enumerate(dial.rings))
    return Drawing(rings, tuple(_over(dial, over)) if over else (), _words(dial))


def _radii(n: int) -> tuple[float, float]:
    outer = _OUTER - n * (_BAND + _GAP)
    return outer - _BAND, outer


def _ring(ring: Ring, n: int) -> DrawnRing:
    inner, outer = _radii(n)
    bands = tuple(_band(arc, inner, outer) for arc in ring.arcs)
    middle = (inner + outer) / 2
    return DrawnRing(ring.name, middle, bands, tuple(_point(s, middle) for s in ring.dots))


def _point(share: float, radius: float) -> tuple[float, float]:
    """The top is 0 and it goes clockwise; y points down."""
    angle = 2 * math.pi * share
    return (
        round(SIZE / 2 + radius * math.sin(angle), 2),
        round(SIZE / 2 - radius * math.cos(angle), 2),
    )


def _sector(start: float, share: float, inner: float, outer: float) -> str:
    large = 1 if share > 0.5 else 0
    (ax, ay), (bx, by) = _point(start, outer), _point(start + share, outer)
    (cx, cy), (dx, dy) = _point(start + share, inner), _point(start, inner)
    return (
        f"M{ax} {ay}A{outer} {outer} 0 {large} 1 {bx} {by}"
        f"L{cx} {cy}A{inner} {inner} 0 {large} 0 {dx} {dy}Z"
    )


def _band(arc: Arc, inner: float, outer: float) -> Band:
    middle = arc.start.at + arc.share / 2
    x, y = _point(middle, (inner + outer) / 2)
    fans = tuple(
        _sector(p.at - min(p.sd, _MOST_SD), 2 * min(p.sd, _MOST_SD), inner - 4, outer + 4)
        for p in (arc.start, arc.end)
        if p.sd > _LEAST_SD and p.n >= _LEAST_CYCLES
    )
    edges = tuple(_edge(p.at, inner, outer) for p in (arc.start, arc.end))
    side = f", {arc.side}" if arc.side else ""
    title = (
        f"{arc.phase}{side}: {100 * arc.share:.1f} % of the cycle, from {100 * arc.start.at:.0f} %"
    )
    letter = LETTERS.get(arc.phase, "") if arc.share > 0.03 else ""
    path = _sector(arc.start.at, arc.share, inner, outer)
    return Band(arc.phase, path, letter, x, y, title, fans, edges)


def _edge(at: float, inner: float, outer: float) -> str:
    (ax, ay), (bx, by) = _point(at, inner), _point(at, outer)
    return f"M{ax} {ay}L{bx} {by}"


def _over(dial: Dial, over: Dial) -> list[tuple[str, str]]:
    """The other clip's edges, on the rings that both have."""
    found = []
    for n, ring in enumerate(dial.rings):
        inner, outer = _radii(n)
        other = next((r for r in over.rings if r.name == ring.name), None)
        for arc in other.arcs if other else ():
            title = f"{ring.name}, {arc.phase} begins at {100 * arc.start.at:.1f} %"
            found.append((_edge(arc.start.at, inner - 7, outer + 7), title))
    return found


def _words(dial: Dial) -> str:
    """For whoever does not see it."""
    rings = []
    for ring in dial.rings:
        arcs = [f"{a.phase} {100 * a.share:.0f} % from {100 * a.start.at:.0f} %" for a in ring.arcs]
        rings.append(f"{ring.name}: {', '.join(arcs) or f'{len(ring.dots)} beats'}")
    return f"One cycle of {dial.cycle_s:.2f} s. " + "; ".join(rings) + "."
