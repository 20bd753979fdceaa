"""The timing of a stored clip, and whether its time base can be trusted."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

import numpy as np

from norvik.core.strokes.events import Mark, metres_in
from norvik.core.strokes.names import StrokeName
from norvik.core.time.compute import compute_timing
from norvik.core.time.timebase import TimeBase
from norvik.core.time.timecheck import TimeCheck, check_time, scale_uncertainty
from norvik.core.time.timetrust import doubts
from norvik.core.time.timing import Timing
from norvik.store import clips, marks
from norvik.store.clips import Clip
from norvik.store.marks import StoredMark
from norvik.store.recordings import Recording
from norvik.workflow.marker import marker_of


@dataclass(frozen=True)
class ClipTiming:
    """A clip with its recording's time base, its marks as stored and as events, and their timing.

    doubts: sentences that say why the time base is unsure; empty when it is not.
    """

    clip: Clip
    time_base: TimeBase
    marks: tuple[StoredMark, ...]
    events: tuple[Mark, ...]
    timing: Timing
    doubts: tuple[str, ...]

    @property
    def from_s(self) -> float:
        """Real seconds of the clip's first frame, counted from the recording's."""
        return self.time_base.time_of(self.clip.first_frame)

    @property
    def to_s(self) -> float:
        """Real seconds at the end of the clip's last frame."""
        interval = self.time_base.interval_within(self.clip.first_frame, self.clip.last_frame)
        return self.time_base.time_of(self.clip.last_frame) + (interval or 0.0)

    def clamped(self, frame: int) -> int:
        return min(max(frame, self.clip.first_frame), self.clip.last_frame)

    def frame_of(self, time_s: float) -> int:
        """The frame of an instant that the core handed back."""
        return self.time_base.frame_nearest(time_s)

    def mark_problems(self) -> dict[int, str]:
        """Mark id to what is wrong with it."""
        return {p.mark.key: p.reason for p in self.timing.problems if p.mark.key is not None}


def time_clip(connection: sqlite3.Connection, clip: Clip) -> ClipTiming:
    """Compute a clip's timing from its stored marks; never decodes video.

    Marks outside a part's edges rest where they are and count for nothing.
    Raises NotFoundError while nothing of the clip can be watched.
    """
    time_base = clips.time_base(connection, clip)
    first, last = clip.first_frame, clip.last_frame
    stored = tuple(m for m in marks.of_clip(connection, clip.id) if first <= m.frame <= last)
    times_s = time_base.times_of([m.frame for m in stored])
    events = tuple(
        Mark(time_s, lane, side, event, frame,
             metres_in(note) if lane == "course" else None, note, mark_id)
        for time_s, (mark_id, frame, lane, side, event, note) in zip(times_s, stored, strict=True)
    )  # fmt: skip
    interval_s = (
        time_base.interval_at([m.frame for m in stored])
        if time_base.ramps
        else time_base.interval_within(clip.first_frame, clip.last_frame)
    )
    check = time_check(clip.recording, time_base)
    timing = compute_timing(
        events, clip.stroke, interval_s, clip.facts.pool_m,
        marker_of(connection, clip.id),
        scale_uncertainty((s.factor for s in time_base.stretches), check),
    )  # fmt: skip
    unsure = doubts_of(clip.recording, time_base, clip.stroke, timing.resolved.mean_cycle_s)
    return ClipTiming(clip, time_base, stored, events, timing, unsure)


def doubts_of(
    recording: Recording, base: TimeBase, stroke: StrokeName, mean_cycle_s: float | None
) -> tuple[str, ...]:
    """Why the time base of a recording is unsure, with what its marks say."""
    stored = float(np.median(np.diff(base.media_s))) if base.frames > 1 else None
    return doubts(
        told_rate_fps=recording.told_rate_fps,
        stored_rate_fps=1 / stored if stored else None,
        factors=[s.factor for s in base.stretches],
        check=time_check(recording, base),
        times_estimated=recording.times_estimated,
        stroke=stroke,
        mean_cycle_s=mean_cycle_s or None,
    )


def time_check(recording: Recording, base: TimeBase) -> TimeCheck | None:
    """The time check that was kept, against the time base as it is now."""
    if recording.check is None:
        return None
    first, last, true_s = recording.check
    if max(first, last) >= base.frames:
        return None  # made on a longer copy than there is at the moment
    return check_time(base, first, last, true_s)


def note_doubts(connection: sqlite3.Connection, timed: ClipTiming) -> None:
    """Keep with the clip whether its time base is in doubt, for lists that time nothing."""
    if timed.clip.unsure != bool(timed.doubts):
        clips.set_unsure(connection, timed.clip.id, bool(timed.doubts))


def note_doubts_of_recording(connection: sqlite3.Connection, recording_id: int) -> None:
    """The same for all clips of a recording, when its time base or copy has changed."""
    for clip in clips.of_recording(connection, recording_id, with_trash=True):
        if clip.watchable:
            note_doubts(connection, time_clip(connection, clip))
