"""Films that can be made, each with how far it is, and what is asked for by its buttons."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from flask import url_for

from norvik.store import review_pairs
from norvik.web.shared.clip_words import clip_words
from norvik.web.shared.database import database
from norvik.workflow.review_judgement import ReviewJudgement
from norvik.workflow.talk.films import FilmState, clip_wish, pair_wish, state_of


@dataclass(frozen=True, slots=True)
class FilmRow:
    """words: what it shows. fields: what a form sends to ask for it. key: for the page."""

    words: str
    fields: Mapping[str, Any]
    state: FilmState
    address: str

    @property
    def key(self) -> str:
        return "-".join(str(v) for v in self.fields.values())


#: What is made of a clip: kind, shape, and what it is called.
_OF_CLIP = (
    ("clip", "wide", "Clip with its drawings"),
    ("cycle", "wide", "One cycle, MP4"),
    ("cycle", "gif", "One cycle, GIF"),
)

_OF_PAIR = (("wide", "Side by side"), ("tall", "Stacked, for a phone"))


def clip_rows(judged: ReviewJudgement) -> list[tuple[str, list[FilmRow]]]:
    """For each clip of a review: what it is, and its films."""
    found = []
    for one in judged.clips:
        rows = [
            film_row(
                judged.review.id, {"what": what, "clip": one.clip.id, "shape": shape},
                clip_wish(database(), judged.review.id, one.clip, what, shape,
                          one.clip.first_frame), words,
            )
            for what, shape, words in _OF_CLIP
            if what == "clip" or one.timed.timing.resolved.cycles
        ]  # fmt: skip
        found.append((f"{one.clip.stroke}, {clip_words(one.clip)}", rows))
    return found


def pair_rows(review_id: int) -> list[tuple[str, list[FilmRow]]]:
    found = []
    for pair in review_pairs.of_review(database(), review_id):
        rows = [
            film_row(review_id, {"what": "pair", "pair": pair.id, "shape": shape},
                     pair_wish(review_id, pair.id, shape), words)
            for shape, words in _OF_PAIR
        ]  # fmt: skip
        found.append(
            (pair.caption or f"Side by side: {pair.rows[0][2] if pair.rows else ''}", rows)
        )
    return found


def film_row(
    review_id: int, fields: Mapping[str, Any], wish: Mapping[str, Any], words: str
) -> FilmRow:
    address = url_for("making_film.of_review", review_id=review_id)
    return FilmRow(words, fields, state_of(database(), wish), address)
