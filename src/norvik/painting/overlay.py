"""Drawings as SVG: over the picture of the bench, and in stills."""

from __future__ import annotations

from collections.abc import Iterable

from markupsafe import escape

from norvik.core.frame.geometry import Point
from norvik.core.frame.shapes import Ring, Shape, Stroke
from norvik.workflow.clip_drawings import Painted

#: Where the words of a drawing stand, as shares of its points: beside the middle one.
_BESIDE = (12.0, -10.0)
FONT_SIZE = 24.0


def fragment(painted: Painted, width: int) -> str:
    """One drawing as a <g>. width: of the picture in source pixels, by which words are sized."""
    unit = width / 1000
    stored = painted.stored
    parts = [_svg(shape, unit) for shape in painted.shapes]
    if painted.said and stored.points:
        x, y = stored.points[(len(stored.points) - 1) // 2]
        parts.append(_word(Point(x + _BESIDE[0] * unit, y + _BESIDE[1] * unit), painted.said, unit))
    return (
        f'<g class="drawing {escape(stored.style)}" data-drawing="{stored.id}">{"".join(parts)}</g>'
    )


def fragments(painted: Iterable[Painted], width: int) -> str:
    return "".join(fragment(p, width) for p in painted)


def _svg(shape: Shape, unit: float) -> str:
    if isinstance(shape, Stroke):
        points = " ".join(f"{p.x:.1f},{p.y:.1f}" for p in shape.points)
        thin = (" thin" if shape.thin else "") + (" solid" if shape.solid else "")
        # The dark line under the light one holds it apart from foam as well as from deep water.
        return (
            f'<polyline class="casing{thin}" points="{points}"/>'
            f'<polyline class="ink{thin}" points="{points}"/>'
        )
    if isinstance(shape, Ring):
        ring = f'cx="{shape.centre.x:.1f}" cy="{shape.centre.y:.1f}" r="{shape.radius:.1f}"'
        return f'<circle class="casing" {ring}/><circle class="ink" {ring}/>'
    return _word(shape.at, shape.text, unit, shape.centred, shape.size)


def _word(
    at: Point, text: str, unit: float, centred: bool = False, size: float | None = None
) -> str:
    anchor = ' text-anchor="middle" dominant-baseline="central"' if centred else ""
    return (
        f'<g class="word" transform="translate({at.x:.1f} {at.y:.1f})">'
        f'<text font-size="{size or FONT_SIZE * unit:.1f}"{anchor}>{escape(text)}</text></g>'
    )


#: The look of a drawing by what it means: colour, and the kind of line that print keeps apart.
LOOKS = {
    "neutral": ("#f4ae1f", ""),
    "good": ("#7fe0b0", ""),
    "watch": ("#ffd95e", "14 7"),
    "fault": ("#ff9d8f", "4 6"),
}


def stylesheet(unit: float) -> str:
    """The styles of a still that stands by itself; unit: a thousandth of the picture's width."""
    rules = [
        "polyline,circle{fill:none;stroke-linecap:round;stroke-linejoin:round}",
        f".ink{{stroke-width:{2.4 * unit:.2f}px}}",
        f".casing{{stroke:#061a1f;stroke-opacity:.6;stroke-width:{5 * unit:.2f}px}}",
        f".ink.thin{{stroke-width:{1.4 * unit:.2f}px;stroke-opacity:.85}}",
        f".casing.thin{{stroke-width:{3 * unit:.2f}px;stroke-opacity:.35}}",
        "text{font-family:'Atkinson Hyperlegible Next',sans-serif;font-weight:700;fill:#fff;"
        f"stroke:#061a1f;stroke-width:{5 * unit:.2f}px;paint-order:stroke;stroke-linejoin:round}}",
    ]
    for style, (colour, dashes) in LOOKS.items():
        scaled = " ".join(f"{float(d) * unit:.2f}" for d in dashes.split())
        dash = f";stroke-dasharray:{scaled}" if scaled else ""
        rules.append(f".{style} .ink{{stroke:{colour}{dash}}}")
    rules.append(".solid{stroke-dasharray:none!important}")
    return "".join(rules)
