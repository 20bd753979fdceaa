"""A drill shown: its loop as one SVG that moves by itself, and a strip of four instants."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache

from flask import url_for
from markupsafe import Markup, escape

from norvik.core.judging.coaching_model import Drill
from norvik.model.drills import MOTIONS
from norvik.model.drills.loop import DrillLoop, drill_loop
from norvik.model.outline import Shape
from norvik.painting.figure_colours import AIR, COLOURS, LINE, SEA

#: Whole numbers of the drawing to one unit of the figure's.
_FINE = 2


def has_figure(drill_id: str) -> bool:
    """Whether a drill can be shown; one that a coach made up cannot."""
    return drill_id in MOTIONS


@lru_cache(maxsize=128)
def loop_svg(drill_id: str) -> str | None:
    """The whole loop as an SVG document; frames lie below each other and the picture steps down.

    It stands still for those who asked their system for less motion. None where there is none.
    """
    loop = drill_loop(drill_id)
    if loop is None:
        return None
    width, height = (round(v * _FINE) for v in loop.box[2:])
    count = len(loop.frames)
    frames = "".join(
        f'<g transform="translate(0 {n * height})">{_paths(frame, loop)}</g>'
        for n, frame in enumerate(loop.frames)
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" '
        f'width="{width // 2}" height="{height // 2}"><style>'
        f"@keyframes r{{to{{transform:translateY(-{count * height}px)}}}}"
        f".r{{animation:r {loop.seconds:g}s steps({count}) infinite}}"
        "@media (prefers-reduced-motion:reduce){.r{animation:none}}</style>"
        f'{_behind(loop)}<g class="r">{frames}</g></svg>'
    )


def still_svg(drill_id: str) -> str | None:
    """One instant of a drill as a small SVG document. None where there is none."""
    loop = drill_loop(drill_id)
    if loop is None:
        return None
    width, height = (round(v * _FINE) for v in loop.box[2:])
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}">'
        f"{_behind(loop)}{_paths(loop.frames[loop.instants[1]], loop)}</svg>"
    )


def strip_document(drill_id: str) -> str | None:
    """The strip as a document of its own, for paper. None where there is none."""
    inside = _strip_svg(drill_id)
    return f'<svg xmlns="http://www.w3.org/2000/svg" {inside}' if inside else None


@lru_cache(maxsize=128)
def _strip_svg(drill_id: str, columns: int = 4) -> Markup:
    """Four instants in rows of so many: the SVG from its viewBox on."""
    loop = drill_loop(drill_id)
    if loop is None:
        return Markup("")
    width, height = (round(v * _FINE) for v in loop.box[2:])
    gap = round(width * 0.03)
    pictures = "".join(
        f'<g transform="translate({k % columns * (width + gap)} {k // columns * (height + gap)})">'
        f"{_behind(loop)}{_paths(loop.frames[n], loop)}</g>"
        for k, n in enumerate(loop.instants)
    )
    rows = len(loop.instants) // columns
    across, down = columns * (width + gap) - gap, rows * (height + gap) - gap
    return Markup(f'viewBox="0 0 {across} {down}">{pictures}</svg>')


def drill_strip(drill: Drill, columns: int = 4) -> Markup:
    """Four instants of a drill, for pages that are printed; empty where it has no figure."""
    if not has_figure(drill.id):
        return Markup("")
    words = escape(f"{drill.name}: four instants of the drill")
    return Markup('<svg class="w-full" role="img" aria-label="{}" {}').format(
        words, _strip_svg(drill.id, columns)
    )


def drill_loop_image(drill: Drill, inside: bool = False) -> Markup:
    """The loop of a drill; pressed, it stands still as four instants. Empty where it has no figure.

    inside: the drawing goes into the page itself, for a page that is sent away as one file.
    """
    if not has_figure(drill.id):
        return Markup("")
    source = _data(drill.id) if inside else url_for("drills.loop", drill_id=drill.id)
    return Markup(
        '<label class="drill-loop"><input type="checkbox" class="sr-only" aria-label="Show {name} '
        'as four instants"><img src="{source}" alt="{name}, shown by the model swimmer" '
        'loading="lazy" title="Tap to see it in four steps">{strip}</label>'
    ).format(name=drill.name, source=source, strip=drill_strip(drill, 2))


def drill_loop_picture(drill: Drill) -> Markup:
    """The loop alone, small, as a way to the drill's page. Empty where it has no figure."""
    if not has_figure(drill.id):
        return Markup("")
    return Markup('<img class="w-28" loading="lazy" src="{}" alt="">').format(
        url_for("drills.loop", drill_id=drill.id)
    )


def _data(drill_id: str) -> str:
    text = (loop_svg(drill_id) or "").replace('"', "'")
    for sign, code in (("%", "%25"), ("#", "%23"), ("<", "%3C"), (">", "%3E")):
        text = text.replace(sign, code)
    return f"data:image/svg+xml,{text}"


def _behind(loop: DrillLoop) -> str:
    """Air, water and what stands there."""
    _, top, width, height = (round(v * _FINE) for v in loop.box)
    parts = [f'<path fill="{AIR}" d="M0 0h{width}v{height}h-{width}z"/>']
    if loop.water:
        line = 0 if loop.surface_y is None else max(0, -top)
        if line < height:
            parts.append(f'<path fill="{SEA}" d="M0 {line}h{width}v{height - line}h-{width}z"/>')
        if loop.surface_y is not None:
            parts.append(f'<path stroke="{LINE}" stroke-width="4" d="M0 {line}h{width}"/>')
    return "".join(parts) + _paths(loop.around, loop)


def _paths(shapes: Iterable[Shape], loop: DrillLoop) -> str:
    """Neighbours of one colour as one path, each corner as a step from the one before."""
    left, top = loop.box[0], loop.box[1]
    parts: list[tuple[str, list[str]]] = []
    for shape in shapes:
        corners = [(round((x - left) * _FINE), round((y - top) * _FINE)) for x, y in shape.points]
        (x, y), *others = corners
        steps = [f"M{x} {y}l"]
        for to_x, to_y in others:
            if (to_x, to_y) != (x, y):
                steps.append(f"{to_x - x} {to_y - y} ")
                x, y = to_x, to_y
        colour = COLOURS[shape.tone]
        if not parts or parts[-1][0] != colour:
            parts.append((colour, []))
        parts[-1][1].append("".join(steps).rstrip() + "z")
    return "".join(f'<path fill="{colour}" d="{"".join(d)}"/>' for colour, d in parts)
