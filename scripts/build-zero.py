"""Builds the plain zero: that of Atkinson Hyperlegible Next without its slash, in two weights.

In a stopwatch time the slashed zero reads as an eight at a glance. The page's figures take their
nought from this font of one glyph; everything else stays. Needs fonttools and brotli; the result is
committed.
"""

from __future__ import annotations

from pathlib import Path

from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

FONTS = Path(__file__).parent.parent / "src/norvik/web/static/fonts"
SOURCE = FONTS / "atkinson-hyperlegible-next-latin-wght-normal.woff2"
WEIGHTS = (400, 700)


def plain(font: TTFont) -> None:
    """Replace the two halves of the counter by a whole one of the same extent."""
    table = font["glyf"]
    glyph = table["zero"]
    points, ends = list(glyph.coordinates), glyph.endPtsOfContours
    flags = glyph.flags
    outer, inner = points[: ends[0] + 1], points[ends[0] + 1 :]
    box = [min(p[0] for p in outer), max(p[0] for p in outer)]
    box += [min(p[1] for p in outer), max(p[1] for p in outer)]
    hole = [min(p[0] for p in inner), max(p[0] for p in inner)]
    hole += [min(p[1] for p in inner), max(p[1] for p in inner)]

    def into(p: tuple[int, int]) -> tuple[int, int]:
        x = hole[0] + (p[0] - box[0]) * (hole[1] - hole[0]) / (box[1] - box[0])
        y = hole[2] + (p[1] - box[2]) * (hole[3] - hole[2]) / (box[3] - box[2])
        return round(x), round(y)

    pen = TTGlyphPen(None)
    draw(pen, outer, flags)
    draw(pen, [into(p) for p in outer][::-1], list(flags[: ends[0] + 1])[::-1])
    table["zero"] = pen.glyph()
    for cmap in font["cmap"].tables:
        cmap.cmap = {0x30: "zero.tf"}


def draw(pen: TTGlyphPen, points: list[tuple[int, int]], flags: list[int]) -> None:
    """One closed contour of quadratic curves. flags: 1 for a point on the curve."""
    start = next(n for n, f in enumerate(flags[: len(points)]) if f & 1)
    order = [*range(start, len(points)), *range(start)]
    pen.moveTo(points[start])
    curve: list[tuple[int, int]] = []
    for n in [*order[1:], start]:
        curve.append(points[n])
        if flags[n] & 1:
            if len(curve) == 1:
                pen.lineTo(curve[0])
            else:
                pen.qCurveTo(*curve)
            curve = []
    pen.closePath()


for weight in WEIGHTS:
    font = instantiateVariableFont(TTFont(SOURCE), {"wght": weight})
    plain(font)
    options = Options()
    options.layout_features = []
    options.flavor = "woff2"
    options.notdef_outline = True
    subsetter = Subsetter(options)
    subsetter.populate(unicodes=[0x30])
    subsetter.subset(font)
    for record in font["name"].names:
        if record.nameID in (1, 3, 4, 6, 16):
            record.string = "Norvik Zero"
    font.flavor = "woff2"
    font.save(FONTS / f"norvik-zero-{weight}.woff2")
