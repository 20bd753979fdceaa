"""Pairs of instants in a review: kept, shown again, and left out where they may not be seen."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, dataclass

from norvik.core.errors import ForbiddenError, MarkError, NotFoundError
from norvik.model.wish import ModelWish
from norvik.store import clips, review_pairs
from norvik.store.clips import Clip
from norvik.store.review_pairs import LONGEST_CAPTION, PairRow, ReviewPair
from norvik.workflow.clip_timing import time_clip
from norvik.workflow.review_judgement import review_of
from norvik.workflow.side_by_side.choices import require_leave
from norvik.workflow.side_by_side.film import Film, film_of_clip, film_of_model
from norvik.workflow.side_by_side.strip_rows import StripRow, rows_of


@dataclass(frozen=True)
class ShownPair:
    """films: of its two columns, the earlier one of a swimmer first. rows: what stands in them."""

    kept: ReviewPair
    films: tuple[Film, Film]
    rows: tuple[StripRow, ...]


def keep_pair(
    connection: sqlite3.Connection, one: Film, other: Film, rows: Sequence[PairRow], caption: str,
    user_id: int | None,
) -> tuple[int, int]:  # fmt: skip
    """Keep instants of two films for the review of the first one; (review, pair).

    Raises MarkError for a frame outside of a film or a caption that is too long.
    """
    caption = " ".join(caption.split())
    if len(caption) > LONGEST_CAPTION:
        raise MarkError(f"Captions have at most {LONGEST_CAPTION} letters.")
    if not rows:
        raise MarkError("Choose at least one instant.")
    for a, b, _ in rows:
        if one.clamped(a) != a or other.clamped(b) != b:
            raise MarkError("This frame is not in the film. Reload the page.")
    assert one.clip is not None
    review = review_of(connection, one.clip)
    model = asdict(other.model.wish) if other.model else None
    made = review_pairs.keep(
        connection, review.id, one.clip.id, other.clip.id if other.clip else None, model, rows,
        caption, user_id,
    )  # fmt: skip
    return review.id, made


def shown_pairs(connection: sqlite3.Connection, review_id: int) -> list[ShownPair]:
    """The pairs of a review that can and may be seen.

    Their clips are there, and their swimmers may still be shown beside each other.
    """
    found = []
    for kept in review_pairs.of_review(connection, review_id):
        films = films_of(connection, kept)
        if films is not None:
            rows = _rows(kept, films)
            if later_first(*films):
                films = films[1], films[0]
                rows = [
                    StripRow(r.name, r.frames[::-1], r.seconds[::-1], r.after[::-1]) for r in rows
                ]
            found.append(ShownPair(kept, films, tuple(rows)))
    return found


def later_first(one: Film, other: Film) -> bool:
    """Was the second film of the same swimmer made on an earlier day?"""
    return (
        one.clip is not None
        and other.clip is not None
        and one.clip.swimmer_id == other.clip.swimmer_id
        and other.clip.filmed_on < one.clip.filmed_on
    )


def films_of(connection: sqlite3.Connection, kept: ReviewPair) -> tuple[Film, Film] | None:
    try:
        one = clips.by_id(connection, kept.one_clip_id)
        if kept.other_model is not None:
            other = film_of_model(ModelWish(**kept.other_model))
        else:
            clip: Clip = clips.by_id(connection, kept.other_clip_id or 0)
            require_leave(connection, one, clip)
            if not clip.watchable or clip.trashed_at:
                return None
            other = film_of_clip(time_clip(connection, clip))
    except (NotFoundError, ForbiddenError):
        return None
    if not one.watchable or one.trashed_at:
        return None
    return film_of_clip(time_clip(connection, one)), other


def _rows(kept: ReviewPair, films: tuple[Film, Film]) -> list[StripRow]:
    begin = kept.rows[0][:2]
    return rows_of(
        (
            name,
            (a, b),
            tuple(
                film.time_of(f) - film.time_of(s)
                for film, f, s in zip(films, (a, b), begin, strict=True)
            ),
        )
        for a, b, name in kept.rows
    )
