"""A clip that turns out to be of another swimmer: what hangs on it, and what goes along."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence

from norvik.store import judged, observations, plans, reviews
from norvik.store.clips import Clip

#: Parts of an undoable step.
Parts = list[tuple[str, str, int | str]]


def what_hangs(connection: sqlite3.Connection, clip: Clip) -> list[str]:
    """What was judged and written on a clip, line by line; empty when nothing was."""
    review = reviews.of_clip(connection, clip.id)
    ticks = len(observations.of_clip(connection, clip.id))
    answers = judged.answers(connection, clip.id)
    found = [
        _count(ticks, "tick") if ticks else "",
        _count(len(review.focuses), "chosen point") if review.focuses else "",
        _count(answers, "answer about points in training", "answers about points in training")
        if answers
        else "",
        f"words of the review: “{review.words[:80]}”" if review.words else "",
        "the review is finished" if review.done_at else "",
    ]
    return [line for line in found if line]


def plans_on(connection: sqlite3.Connection, clip: Clip) -> int:
    """Running plans that were made from the review of this clip."""
    if clip.swimmer_id is None:
        return 0
    mine = plans.of_swimmer(connection, clip.swimmer_id)
    return sum(p.clip_id == clip.id and p.ended_on is None for p in mine)


def parts_of(clip_id: int) -> Parts:
    """What moving a clip may change, for the step that undoes it."""
    return [("clips", "id", clip_id), *((table, "clip_id", clip_id) for table in judged.TABLES)]


def with_judgement(connection: sqlite3.Connection, clips: Sequence[Clip]) -> list[Clip]:
    """Those of the clips on which something was judged or written."""
    return [clip for clip in clips if what_hangs(connection, clip)]


def _count(n: int, word: str, words: str = "") -> str:
    return f"{n} {word if n == 1 else words or word + 's'}"
