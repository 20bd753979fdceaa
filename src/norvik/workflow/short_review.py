"""The short review by thumb: a rate from taps, a few ticks, one point, the review to send."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.judging.coaching_model import Catalogue
from norvik.core.strokes import STROKES
from norvik.store import marks
from norvik.store.clips import Clip
from norvik.store.marks import StoredMark
from norvik.workflow.mark import mark
from norvik.workflow.squad_sheet import SheetItem, items_of

#: Own choice: what fits under a thumb without searching.
MOST_OF_A_KIND = 6


@dataclass(frozen=True, slots=True)
class ShortSheet:
    """The likeliest things to tick in this view, good ones and faults."""

    good: tuple[SheetItem, ...]
    bad: tuple[SheetItem, ...]


def mark_by_tap(connection: sqlite3.Connection, user_id: int, clip: Clip, frame: int) -> StoredMark:
    """Mark the event that opens a cycle on a frame: in turns of the arms where they alternate.

    The arm follows from the mark before this frame, the right one begins. Raises as `mark` does.
    """
    stroke = STROKES[clip.stroke]
    side = ""
    if stroke.alternating:
        before = [
            m for m in marks.of_clip(connection, clip.id)
            if m.lane == "arm" and m.event == stroke.opens and m.frame < frame
        ]  # fmt: skip
        last = max(before, key=lambda m: m.frame, default=None)
        side = "left" if last is not None and last.side == "right" else "right"
    return mark(connection, user_id, clip, frame, "arm", side, stroke.opens)


def short_sheet(tables: Catalogue, view: str) -> ShortSheet:
    """The sheet of a stroke in a view, cut to what fits under a thumb."""
    items = items_of(tables, view, walls=False)
    good = tuple(i for i in items if i.praise)[:MOST_OF_A_KIND]
    bad = tuple(i for i in items if not i.praise)[:MOST_OF_A_KIND]
    return ShortSheet(good, bad)
