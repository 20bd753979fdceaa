"""Pairs of a review as pictures and words: for the page, for a file that is sent, for paper."""

from __future__ import annotations

import base64
from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from flask import url_for

from norvik.core.errors import FootageError
from norvik.footage.stills import jpeg
from norvik.painting.raster import as_png
from norvik.web.beside.films import film_words
from norvik.web.beside.strip import frame_svg, strip_svg
from norvik.web.shared.database import database
from norvik.workflow.side_by_side.kept_pairs import ShownPair, shown_pairs

_PART_WIDE = 640
#: Where the picture of a row and a film is: an address, or its data.
Source = Callable[[ShownPair, int, int], str]


@dataclass(frozen=True)
class PairRow:
    """sources: a picture of each film. words: below each."""

    sources: tuple[str, ...]
    words: tuple[str, ...]


@dataclass(frozen=True)
class PairFigure:
    """heads: what each film is."""

    id: int
    caption: str
    heads: tuple[tuple[str, str], ...]
    rows: tuple[PairRow, ...]


def pair_figures(review_id: int, source: Source) -> list[PairFigure]:
    """Every pair of a review that can and may be seen."""
    found = []
    for shown in shown_pairs(database(), review_id):
        one, other = shown.films
        rows = []
        for n, row in enumerate(shown.rows):
            words = tuple(
                "" if len(shown.rows) == 1 else
                f"{row.seconds[k]:.2f} s" + (f", {row.after[k]} frames after" if n else "")
                for k in (0, 1)
            )  # fmt: skip
            named = tuple(": ".join(w for w in (row.name, said) if w) for said in words)
            rows.append(PairRow((source(shown, n, 0), source(shown, n, 1)), named))
        heads = film_words(one), film_words(other, one)
        found.append(PairFigure(shown.kept.id, shown.kept.caption, heads, tuple(rows)))
    return found


def address(shown: ShownPair, row: int, film: int) -> str:
    kept = shown.kept
    return url_for("kept_pairs.part", review_id=kept.review_id, pair_id=kept.id, row=row, film=film)


def data(shown: ShownPair, row: int, film: int) -> str:
    text = base64.b64encode(part_jpeg(shown, row, film)).decode("ascii")
    return f"data:image/jpeg;base64,{text}"


def part_jpeg(shown: ShownPair, row: int, film: int) -> bytes:
    return _as_jpeg(frame_svg(shown.films[film], shown.rows[row].frames[film]), _PART_WIDE)


def pair_svg(shown: ShownPair) -> str:
    return strip_svg(shown.films, shown.rows)


def pair_jpegs(review_id: int) -> list[tuple[bytes, str]]:
    """Every pair as one picture with its caption, for paper."""
    return [
        (_as_jpeg(pair_svg(shown), 1280), shown.kept.caption)
        for shown in shown_pairs(database(), review_id)
    ]


def _as_jpeg(svg: str, width: int) -> bytes:
    image = cv2.imdecode(np.frombuffer(as_png(svg), np.uint8), cv2.IMREAD_COLOR)
    if image is None:
        raise FootageError("This picture could not be made.")
    return jpeg(np.asarray(image, np.uint8), width)
