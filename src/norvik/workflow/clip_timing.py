"""The timing of a stored clip."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.events import Mark
from norvik.core.timebase import TimeBase
from norvik.core.timing import Timing, compute_timing
from norvik.store import clips, marks
from norvik.store.clips import Clip
from norvik.store.marks import StoredMark


@dataclass(frozen=True)
class ClipTiming:
    """A clip with its time base, its marks as stored and as events, and what they say."""

    clip: Clip
    time_base: TimeBase
    marks: tuple[StoredMark, ...]
    events: tuple[Mark, ...]
    timing: Timing

    def frame_of(self, time_s: float) -> int:
        """The frame of an instant that the core handed back."""
        return self.time_base.frame_nearest(time_s)

    def mark_problems(self) -> dict[int, str]:
        """Mark id to what is wrong with it."""
        return {p.mark.key: p.reason for p in self.timing.problems if p.mark.key is not None}


def time_clip(connection: sqlite3.Connection, clip: Clip) -> ClipTiming:
    """Compute a clip's timing from its stored marks; never decodes video.

    Raises NotFoundError while the clip has no frame table.
    """
    time_base = clips.time_base(connection, clip)
    stored = tuple(marks.of_clip(connection, clip.id))
    events = tuple(
        Mark(
            time_s=time_base.time_of(m.frame),
            lane=m.lane,
            side=m.side,
            event=m.event,
            frame=m.frame,
            note=m.note,
            key=m.id,
        )
        for m in stored
        if m.frame < time_base.frames
    )
    timing = compute_timing(events, clip.stroke, time_base.frame_interval_s)
    return ClipTiming(clip, time_base, stored, events, timing)
