"""A clip that turns out to be of another swimmer: what hangs on it, and what goes along."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence

from norvik.store import clips, judged, observations, plans, remarks, reviews
from norvik.store.clips import Clip, Facts
from norvik.store.reviews import Review

#: Parts of an undoable step.
Parts = list[tuple[str, str, int | str]]


def what_hangs(connection: sqlite3.Connection, clip: Clip) -> list[str]:
    """What was judged and written of a clip, line by line; empty when nothing was.

    The review counts where the clip is the only one in it; else it keeps what it says.
    """
    ticks = len(observations.of_clip(connection, clip.id))
    said = len(remarks.of_clip(connection, clip.id))
    found = [_count(ticks, "tick") if ticks else "", _count(said, "remark") if said else ""]
    review = alone_in(connection, clip)
    if review is not None:
        answers = reviews.answers(connection, review.id)
        found += [
            _count(len(review.focuses), "chosen point") if review.focuses else "",
            _count(answers, "answer about points in training", "answers about points in training")
            if answers
            else "",
            f"words of the review: “{review.words[:80]}”" if review.words else "",
            "the review is finished" if review.done_at else "",
        ]
    return [line for line in found if line]


def alone_in(connection: sqlite3.Connection, clip: Clip) -> Review | None:
    """The review that holds this clip and no other; None where it shares one or has none."""
    review_id = reviews.id_of_clip(connection, clip.id)
    if review_id is None:
        return None
    review = reviews.by_id(connection, review_id)
    return review if review.clip_ids == [clip.id] else None


def plans_on(connection: sqlite3.Connection, clip: Clip) -> int:
    """Running plans that were made from the review of this clip."""
    review_id = reviews.id_of_clip(connection, clip.id)
    if clip.swimmer_id is None or review_id is None:
        return 0
    mine = plans.of_swimmer(connection, clip.swimmer_id)
    return sum(p.review_id == review_id and p.ended_on is None for p in mine)


def parts_of(connection: sqlite3.Connection, clip_id: int) -> Parts:
    """What moving a clip may change, for the step that undoes it."""
    review_id = reviews.id_of_clip(connection, clip_id)
    return [
        ("clips", "id", clip_id),
        *((table, "clip_id", clip_id) for table in judged.TABLES),
        ("review_clips", "clip_id", clip_id),
        *([("reviews", "id", review_id)] if review_id is not None else []),
    ]


def move(connection: sqlite3.Connection, clip: Clip, said: Facts, along: bool | None) -> None:
    """Give a clip its new facts.

    along: its ticks, and the review that holds it alone, go to the new swimmer; False: they do not,
    and the review stays with the old one; None: nothing was judged. Call inside a transaction.
    """
    review = alone_in(connection, clip) if along else None
    if review is not None and said.swimmer_id is not None:
        reviews.give_to(connection, review.id, said.swimmer_id)
    if along is False:
        judged.remove(connection, clip.id)
    clips.set_facts(connection, clip.id, said)


def with_judgement(connection: sqlite3.Connection, clips: Sequence[Clip]) -> list[Clip]:
    """Those of the clips on which something was judged or written."""
    return [clip for clip in clips if what_hangs(connection, clip)]


def _count(n: int, word: str, words: str = "") -> str:
    return f"{n} {word if n == 1 else words or word + 's'}"
