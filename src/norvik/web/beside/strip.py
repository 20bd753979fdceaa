"""Instants of two or three films in rows, one column a film, as one picture."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from functools import partial

from flask import Blueprint, request
from flask.typing import ResponseReturnValue
from markupsafe import escape

from norvik.core.errors import MarkError
from norvik.core.strokes.names import Side
from norvik.files import names
from norvik.footage.stills import frame_image
from norvik.painting.overlay import fragments, stylesheet
from norvik.painting.raster import as_png
from norvik.web.beside.films import compared, film_words
from norvik.web.shared.database import database, footage
from norvik.web.shared.picture_svg import image_in, picture_answer, picture_svg
from norvik.workflow.clip_drawings import drawings_of
from norvik.workflow.side_by_side.across import size_of
from norvik.workflow.side_by_side.film import Film
from norvik.workflow.side_by_side.strip_rows import ROWS, StripRow, strip_rows

blueprint = Blueprint("strip", __name__, url_prefix="/clips/<int:clip_id>/beside")

#: Width of a picture with two or three columns, and heights of the words under it and of the head.
_TILE, _BAR, _HEAD = {1: 960, 2: 640, 3: 480}, 34, 44


@blueprint.get("/strip.<any(png,svg):kind>")
def strip(clip_id: int, kind: str) -> ResponseReturnValue:
    """The instants of one cycle of all films, as a picture to keep or to send."""
    found = compared(clip_id)
    if not found.pairings:
        raise MarkError("A drawn figure has no film for a strip. Choose the filmed model swimmer.")
    by = request.args.get("rows", "events")
    rows = strip_rows(found.pairings, by if by in ROWS else ROWS[0])
    films = [found.one, *(p.other for p in found.pairings)]
    sides = [found.pairings[0].wish.side, *(p.wish.other_side for p in found.pairings)]
    svg = strip_svg(films, rows, sides)
    data = svg.encode() if kind == "svg" else as_png(svg)
    return picture_answer(data, kind, f"strip-{clip_id}.{kind}")


def strip_svg(
    films: Sequence[Film], rows: Sequence[StripRow], sides: Sequence[Side] = ("", "", "")
) -> str:
    """A column for each film, a row for each instant, with what is drawn on the frames."""
    wide = _TILE[len(films)]
    tall = max(_tall(film, wide) for film in films)
    parts = [
        _column(film, [films[0], film], rows, n, wide, tall, sides[n])
        for n, film in enumerate(films)
    ]
    size = len(films) * wide, _HEAD + len(rows) * (tall + _BAR)
    return picture_svg(size, "".join(parts), stylesheet(wide / 560))


def frame_svg(film: Film, frame: int) -> str:
    """One frame with what is drawn on it, without words."""
    width, height = size_of(film)
    drawn = drawings_of(database(), film.timed).on_frame(frame) if film.timed else []
    inside = image_in(picture_of(film, frame), (width, height)) + fragments(drawn, width)
    return picture_svg((width, height), inside, stylesheet(width / 560))


def _tall(film: Film, wide: int) -> int:
    width, height = size_of(film)
    return round(wide * height / width)


def _column(
    film: Film, beside: Sequence[Film], rows: Sequence[StripRow], n: int, wide: int, row_tall: int,
    side: Side,
) -> str:  # fmt: skip
    on_frame = drawings_of(database(), film.timed).on_frame if film.timed else lambda _: []
    width, tall = size_of(film)[0], _tall(film, wide)
    title, about = film_words(film, beside[0] if n else None)
    arm = side if side in ("left", "right") else ""
    head = ", ".join(w for w in (title, about, f"{arm} arm" if arm else "") if w)
    words = partial(_words, wide=wide)
    made = [words(head, n * wide, 29)]
    for k, row in enumerate(rows):
        y = _HEAD + k * (row_tall + _BAR)
        said = f"{row.name}: {row.seconds[n]:.2f} s" if len(rows) > 1 else row.name
        if k:
            frames = row.after[n]
            said += f", {frames} frame{'' if frames == 1 else 's'} after"
        made.append(
            f'<g transform="translate({n * wide} {y})">'
            f"{image_in(picture_of(film, row.frames[n]), (wide, tall))}"
            f'<g transform="scale({wide / width:.5f})">'
            f"{fragments(on_frame(row.frames[n]), width)}</g>"
            f'<rect y="{row_tall}" width="{wide}" height="{_BAR}" class="bar"/></g>'
            + words(said, n * wide, y + row_tall + 23)
        )
    return "".join(made)


def picture_of(film: Film, frame: int):  # type: ignore[no-untyped-def]
    """The picture of a frame, shape (height, width, 3)."""
    if film.model is not None:
        wish = film.model.wish
        path = footage().at_hand(names.model_film(wish.name))
        if not path.is_file():
            raise MarkError("The model swimmer is still being filmed. Try again in a moment.")
        return frame_image(path, Fraction(wish.fps), frame)
    assert film.clip is not None
    recording = film.clip.recording
    return frame_image(footage().at_hand(str(recording.review_path)), recording.rate, frame)


def _words(text: str, x: int, y: int, wide: int) -> str:
    # Bold letters are about half as wide as tall: no column writes into the next one.
    size = min(18.0, (wide - 20) / (0.53 * max(1, len(text))))
    return (
        f'<text class="caption" x="{x + 10}" y="{y}" font-size="{size:.1f}">{escape(text)}</text>'
    )
