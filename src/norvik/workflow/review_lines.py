"""Reviews in a list: their clips, and how far each has come, without judging any of them."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.store import clips, observations
from norvik.store.clips import Clip
from norvik.store.reviews import Review


@dataclass(frozen=True, slots=True)
class ReviewLine:
    """clips: that count in the review now. ticks: on all of them."""

    review: Review
    clips: tuple[Clip, ...]
    ticks: int

    @property
    def swimmer_name(self) -> str:
        return self.clips[0].swimmer_name if self.clips else ""

    @property
    def strokes(self) -> list[str]:
        return list(dict.fromkeys(c.stroke for c in self.clips))

    @property
    def begun(self) -> bool:
        """Is there anything to judge by?"""
        return bool(self.ticks or any(c.marks for c in self.clips))

    @property
    def next_clip(self) -> Clip | None:
        """The clip to go on with: one without marks or ticks first."""
        ready = [c for c in self.clips if c.watchable]
        return next((c for c in ready if not c.marks), next(iter(ready), None))


def review_lines(connection: sqlite3.Connection, found: Sequence[Review]) -> list[ReviewLine]:
    """The reviews with their clips, in the order given.

    Those without a clip only where something was chosen or written.
    """
    every = {c.id: c for c in clips.by_ids(connection, [n for r in found for n in r.clip_ids])}
    ticks = observations.counts(connection, list(every))
    lines = []
    for review in found:
        mine = tuple(
            every[n]
            for n in review.clip_ids
            if n in every
            and every[n].swimmer_id == review.swimmer_id
            and every[n].trashed_at is None
        )
        if mine or review.focuses or review.words:
            lines.append(ReviewLine(review, mine, sum(ticks.get(c.id, 0) for c in mine)))
    return lines
