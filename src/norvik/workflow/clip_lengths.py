"""Whole lengths on a clip, for the length log: nobody types what the film already shows."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.errors import LengthsError
from norvik.core.followup.length_log import Length, length_log
from norvik.core.followup.lengths_on_film import lengths_on_film
from norvik.store import clips, swims
from norvik.store.clips import Clip
from norvik.workflow.clip_timing import ClipTiming, time_clip


@dataclass(frozen=True, slots=True)
class FilmedLengths:
    """A clip with its whole lengths. swim_id: of the swim that was made from it already."""

    clip: Clip
    lengths: tuple[Length, ...]
    swim_id: int | None


def filmed_lengths(connection: sqlite3.Connection, swimmer_id: int) -> list[FilmedLengths]:
    """Clips of a swimmer that hold whole lengths, newest first."""
    found = []
    for clip in clips.with_wall_marks(connection, swimmer_id):
        if not clip.watchable:
            continue
        lengths = lengths_on_film(time_clip(connection, clip).timing.resolved)
        if lengths:
            made = swims.of_clip(connection, clip.id)
            found.append(FilmedLengths(clip, tuple(lengths), made))
    return found


def swim_from_clip(connection: sqlite3.Connection, timed: ClipTiming, user_id: int | None) -> int:
    """Store the whole lengths of a clip as a swim; made from it before, that one is replaced.

    Raises LengthsError with what is missing.
    """
    clip = timed.clip
    if clip.swimmer_id is None:
        raise LengthsError("Assign a swimmer to this clip first.")
    pool_m = clip.facts.pool_m
    if pool_m is None:
        raise LengthsError("Enter how long the pool is first, in the clip details.")
    lengths = lengths_on_film(timed.timing.resolved)
    if not lengths:
        raise LengthsError(
            "No whole length is marked: mark the push (or the signal and the block) and the next "
            "touch, with 9."
        )
    length_log(lengths, pool_m)  # refuses what cannot be
    before = swims.of_clip(connection, clip.id)
    if before is not None:
        swims.delete(connection, before)
    return swims.add(
        connection, clip.swimmer_id, clip.filmed_on, clip.stroke, pool_m, None,
        f"from the film {clip.recording.original_name}"[:200], lengths, user_id, clip.id,
    )  # fmt: skip
