"""A clip that was read, without a film or a network."""

from __future__ import annotations

import math
import sqlite3
from collections.abc import Sequence

from norvik.store import clips, readings
from norvik.store.readings import Reading, StoredCycle, StoredEvent, StoredMeasure
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.reading import read_as

#: Frames of one cycle of an arm at 30 frames/s: 1 s.
CYCLE = 30
SHARES = {"entry": 0, "catch": 6, "press": 11, "exit": 22}


def read(
    database: sqlite3.Connection, off: float = 0.0, sure: float = 0.9, u95: float = 3.0,
    clip_id: int = 1, measures: Sequence[StoredMeasure] = (),
) -> ClipTiming:  # fmt: skip
    """A reading of the small clip of 90 frames: two arms, half a cycle apart."""
    timed = time_clip(database, clips.by_id(database, clip_id))
    events = tuple(
        StoredEvent(first + CYCLE * n + at + off, "arm", side, event, u95, sure)
        for side, first in (("right", 2), ("left", 25))
        for n in range(3)
        for event, at in SHARES.items()
        if first + CYCLE * n + at < 89
    )
    made = Reading(
        read_as(timed.clip, timed.time_base), 0.95, StoredCycle(30.0, 0.3, 3.0), events,
        {"breaths": "breaths to the side can't be seen"}, measures=tuple(measures),
    )  # fmt: skip
    readings.put(database, clip_id, made, None)
    return timed


def body_lines(*frames: int, degrees: float = 14.0, u: float = 1.4) -> list[StoredMeasure]:
    """Body lines that the film proposes on these frames: shoulder, and both ankles below it."""
    down = 100 * math.tan(math.radians(degrees))
    points = ((180.0, 60.0), (80.0, 60.0 + down), (80.0, 60.0 + down))
    return [StoredMeasure(frame, "body-line", "", points, u) for frame in frames]
