"""What is seen at an instant of a talk, as one picture: films in place, drawings, pointer."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from markupsafe import escape
from numpy.typing import NDArray

from norvik.core.talk.score import FilmShown, Seen
from norvik.painting.figure_colours import figure_rules
from norvik.painting.overlay import stylesheet
from norvik.painting.raster import as_pixels

Image = NDArray[np.uint8]
#: Source pixels into a box: a b c d e f as in SVG.
Matrix = tuple[float, float, float, float, float, float]

#: Ground of a picture, blue-green-red: deep water.
GROUND = (31, 26, 6)
_AMBER = (31, 174, 244)
_SAME = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
#: Height of the line with what a film is, for a picture 720 pixels high.
_LINE = 40


@dataclass(frozen=True, slots=True)
class Shape:
    """A picture's size in pixels. Both even: the encoder wants that."""

    name: str
    width: int
    height: int


#: For a laptop or a television, and for a phone that is held upright.
SHAPES = {s.name: s for s in (Shape("wide", 1280, 720), Shape("tall", 720, 1280))}


@dataclass(frozen=True, slots=True)
class Cell:
    """Where one film lies in the picture, in pixels."""

    x: int
    y: int
    width: int
    height: int


def cells(layout: str, films: int, shape: Shape) -> list[Cell]:
    """Each film's part of the picture: beside each other, on a phone above each other."""
    if layout != "beside" or films <= 1:
        return [Cell(0, 0, shape.width, shape.height)] * max(1, films)
    if shape.width >= shape.height:
        w = shape.width // films
        return [Cell(n * w, 0, w, shape.height) for n in range(films)]
    h = shape.height // films
    return [Cell(0, n * h, shape.width, h) for n in range(films)]


class ScenePainter:
    """Paints what is seen.

    frame(film): its picture, blue-green-red, in any size of the film's shape; None when it is gone.
    ink: key of a drawing to its SVG in source pixels. words(ms) is none of its business: captions
    travel beside the picture.
    """

    def __init__(
        self, shape: Shape, frame: Callable[[FilmShown], Image | None], ink: Mapping[int, str]
    ) -> None:
        self.shape, self._frame, self._ink = shape, frame, ink
        self._drawn = lru_cache(maxsize=24)(self._drawn_anew)
        self._ground = np.full((shape.height, shape.width, 3), GROUND, np.uint8)

    def paint(self, seen: Seen) -> Image:
        """The picture, shape (height, width, 3), blue-green-red, 0-255."""
        places = cells(seen.layout, len(seen.films), self.shape)
        lyings = [lies(film, cell) for film, cell in zip(seen.films, places, strict=False)]
        if len(seen.films) == 1 and lyings[0].fills(places[0]):
            # The whole picture is one film: nothing has to be laid anywhere.
            out = self._picture(seen.films[0], places[0], lyings[0])
            rest: list[FilmShown] = []
        else:
            out = self._ground.copy()
            rest = list(seen.films)
        for n, (film, cell, lying) in enumerate(zip(rest, places, lyings, strict=False)):
            part = out[cell.y : cell.y + cell.height, cell.x : cell.x + cell.width]
            picture = self._picture(film, cell, lying)
            if n == 0 or seen.layout == "beside":
                part[:] = picture
            elif seen.layout == "over":
                cv2.addWeighted(part, 1 - seen.blend, picture, seen.blend, 0, dst=part)
            else:
                cv2.absdiff(part, picture, dst=part)
        for n, (film, cell, lying) in enumerate(zip(seen.films, places, lyings, strict=False)):
            part = out[cell.y : cell.y + cell.height, cell.x : cell.x + cell.width]
            if film.ink:
                _lay(part, self._drawn(film.ink, film.size, cell.width, cell.height, lying.matrix))
            if seen.spot and seen.spot[0] == n:
                _spot(part, lying.in_cell(seen.spot[1], seen.spot[2]))
            if seen.layout == "beside" or n == 0:
                titles = [f.title for f in seen.films] if seen.layout != "beside" else [film.title]
                words = " · ".join(t for t in titles if t)
                below = min(cell.height, lying.box[3] + _line_height(self.shape.height))
                _lay(part[:below], _line(words, speed_words(seen), cell.width, below,
                                         self.shape.height))  # fmt: skip
        return out

    def _picture(self, film: FilmShown, cell: Cell, lying: Lying) -> Image:
        image = self._frame(film)
        if image is None:
            return self._ground[: cell.height, : cell.width].copy()
        a, b, c, d, e, f = lying.matrix
        # The review copy may be smaller than the source, in whose pixels places are told.
        sx, sy = film.size[0] / image.shape[1], film.size[1] / image.shape[0]
        into = np.array([[a * sx, c * sy, e], [b * sx, d * sy, f]])
        if image.shape[:2] == (cell.height, cell.width) and np.allclose(into, _SAME, atol=1e-3):
            return image.copy()
        moved = np.asarray(
            cv2.warpAffine(
                image, into, (cell.width, cell.height), flags=cv2.INTER_LINEAR,
                borderMode=cv2.BORDER_CONSTANT, borderValue=GROUND,
            ),
            np.uint8,
        )  # fmt: skip
        if lying.fills(cell):
            return moved
        out = self._ground[: cell.height, : cell.width].copy()
        x0, y0, x1, y1 = lying.box
        out[y0:y1, x0:x1] = moved[y0:y1, x0:x1]
        return out

    def _drawn_anew(
        self, keys: tuple[int, ...], size: tuple[int, int], width: int, height: int, matrix: Matrix
    ) -> Drawn | None:
        inside = "".join(self._ink.get(key, "") for key in keys)
        numbers = " ".join(f"{v:.6f}" for v in matrix)
        return drawn_in(
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}">'
            f"<style>{stylesheet(size[0] / 1000)}{figure_rules()}</style>"
            f'<g transform="matrix({numbers})">{inside}</g></svg>'
        )


@dataclass(frozen=True, slots=True)
class Lying:
    """How a film lies in its cell.

    matrix: source pixels into the cell. box: left, top, right and bottom of what is seen of the
    film, in the cell. seen_box: size of the box on the screen; its upper left corner lies at corner
    in the cell, and it is scale times as large there.
    """

    matrix: Matrix
    box: tuple[int, int, int, int]
    seen_box: tuple[float, float]
    corner: tuple[float, float]
    scale: float

    def fills(self, cell: Cell) -> bool:
        return self.box == (0, 0, cell.width, cell.height)

    def in_cell(self, x: float, y: float) -> tuple[float, float]:
        """A place told in shares of the box on the screen."""
        return (
            self.corner[0] + x * self.seen_box[0] * self.scale,
            self.corner[1] + y * self.seen_box[1] * self.scale,
        )


def lies(film: FilmShown, cell: Cell) -> Lying:
    """Into the cell as it was seen in its box; as a whole where no place was told.

    What of the box was black beside the picture is left out where that makes the picture larger.
    """
    if film.place is None:
        seen = float(film.size[0]), float(film.size[1])
        matrix: Matrix = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
    else:
        seen = film.place[0], film.place[1]
        matrix = film.place[2:8]  # type: ignore[assignment]
    cut_x, cut_y, bw, bh = _without_bars(seen, matrix, film.size)
    scale = min(cell.width / bw, cell.height / bh)
    left, top = (cell.width - scale * bw) / 2, (cell.height - scale * bh) / 2
    corner = left - scale * cut_x, top - scale * cut_y
    a, b, c, d, e, f = (scale * v for v in matrix)
    right, bottom = round(left + scale * bw), round(top + scale * bh)
    box = (max(0, round(left)), max(0, round(top)),
           min(cell.width, right), min(cell.height, bottom))  # fmt: skip
    return Lying((a, b, c, d, e + corner[0], f + corner[1]), box, seen, corner, scale)


def _without_bars(
    seen: tuple[float, float], matrix: Matrix, size: tuple[int, int]
) -> tuple[float, float, float, float]:
    """Left, top, width and height of what the picture fills of its box."""
    a, b, c, d, e, f = matrix
    corners = [(a * x + c * y + e, b * x + d * y + f) for x in (0, size[0]) for y in (0, size[1])]
    left, right = max(0.0, min(x for x, _ in corners)), min(seen[0], max(x for x, _ in corners))
    top, bottom = max(0.0, min(y for _, y in corners)), min(seen[1], max(y for _, y in corners))
    if right - left < 8 or bottom - top < 8:
        return 0.0, 0.0, *seen
    return left, top, right - left, bottom - top


def speed_words(seen: Seen) -> str:
    """What is said of the speed beside a film that plays."""
    if not seen.playing:
        return ""
    if seen.speed == 1:
        return "real time"
    part = {0.0625: "1/16", 0.125: "⅛", 0.25: "¼", 0.5: "½"}.get(seen.speed, f"{seen.speed:g}")
    return f"{part} of real time" if seen.speed < 1 else f"{part} times real time"


def _line_height(whole: int) -> int:
    return round(_LINE * max(1.0, whole / 900))


@lru_cache(maxsize=64)
def _line(left: str, right: str, width: int, height: int, whole: int) -> Drawn | None:
    """What a film is and how fast it plays, on the lower edge of its cell."""
    size = _line_height(whole) / 2
    base = height - size * 0.7
    words = "".join(
        f'<text x="{x:.1f}" y="{base:.1f}" font-size="{size:.1f}" text-anchor="{anchor}" '
        "style=\"font-family:'Atkinson Hyperlegible Next';font-weight:700;fill:#fff;stroke:#061a1f;"
        f'stroke-width:{size * 0.22:.1f}px;paint-order:stroke;stroke-linejoin:round">'
        f"{escape(text)}</text>"
        for x, anchor, text in ((size * 0.7, "start", left), (width - size * 0.7, "end", right))
        if text
    )
    return drawn_in(
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}">{words}</svg>'
    )


@dataclass(frozen=True)
class Drawn:
    """What is laid on a picture: where, and for every pixel there what to add to which share.

    over: colour times its share; under: share of what lies below; both 0 to 255. None: nothing.
    """

    where: tuple[slice, slice]
    over: Image
    under: Image


def drawn_in(svg: str) -> Drawn | None:
    """An SVG ready to be laid on pictures, cut to where there is something."""
    pixels = as_pixels(svg)
    alpha = pixels[:, :, 3]
    rows, columns = np.flatnonzero(alpha.any(axis=1)), np.flatnonzero(alpha.any(axis=0))
    if not rows.size:
        return None
    where = (slice(int(rows[0]), int(rows[-1]) + 1), slice(int(columns[0]), int(columns[-1]) + 1))
    share = np.repeat(alpha[where][:, :, None], 3, axis=2)
    over = cv2.multiply(pixels[where][:, :, :3], share, scale=1 / 255)
    return Drawn(where, np.asarray(over, np.uint8), 255 - share)


def _lay(part: Image, drawn: Drawn | None) -> None:
    """Lay a picture with transparency on another one."""
    if drawn is not None:
        below = cv2.multiply(np.ascontiguousarray(part[drawn.where]), drawn.under, scale=1 / 255)
        part[drawn.where] = cv2.add(below, drawn.over)


def _spot(part: Image, at: tuple[float, float]) -> None:
    """The pointer held down: a bright spot with a ring."""
    centre = (round(at[0]), round(at[1]))
    radius = max(10, round(min(part.shape[:2]) / 28))
    glow = part.copy()
    cv2.circle(glow, centre, radius, (255, 255, 255), -1, cv2.LINE_AA)
    cv2.addWeighted(glow, 0.35, part, 0.65, 0, dst=part)
    cv2.circle(part, centre, radius, _AMBER, max(2, radius // 7), cv2.LINE_AA)
