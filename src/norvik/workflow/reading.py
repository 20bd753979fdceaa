"""What a clip's film told by itself: proposals, their corrections, and taking them as marks."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from norvik.core.errors import MarkError
from norvik.core.reading.corrected import Shift, corrected, pairs_of
from norvik.core.reading.stroke import ReadEvent
from norvik.core.reading.tracked import Places, enough, tracked_joints
from norvik.core.reading.trust import Off, Trust, trust_of
from norvik.core.time.proposals import Proposal
from norvik.core.time.timebase import TimeBase
from norvik.store import clips, jobs, marks, readings, tracks
from norvik.store.clips import Clip
from norvik.store.jobs import Job
from norvik.store.marks import NewMark
from norvik.store.readings import ReadAs, Reading
from norvik.work_names import READ
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.side_by_side.twin_marks import in_both

#: Head and hips, x and y of each.
_TAP = 4


@dataclass(frozen=True, slots=True)
class Proposed:
    """What is still to be confirmed of a reading, and by how much each kind was moved."""

    events: tuple[ReadEvent, ...]
    shifts: tuple[Shift, ...]

    @property
    def proposals(self) -> list[Proposal]:
        return [
            Proposal(e.time_s, e.side, e.event, e.lane, e.confidence, e.u95_s, e.bridged)
            for e in self.events
        ]


def read_as(clip: Clip, base: TimeBase) -> ReadAs:
    """What a clip is for reading: a reading of anything else is out of date."""
    stretches = " ".join(f"{s.from_frame}:{s.factor:g}" for s in base.stretches)
    return ReadAs(clip.stroke, clip.view, clip.first_frame, clip.last_frame, stretches)


def reading_of(connection: sqlite3.Connection, timed: ClipTiming) -> Reading | None:
    """The clip's reading, or None where there is none or the clip has changed since."""
    found = readings.of_clip(connection, timed.clip.id)
    if found is None or found.read_as != read_as(timed.clip, timed.time_base):
        return None
    return found


def tracked_in(connection: sqlite3.Connection, clip: Clip) -> dict[str, Places]:
    """Joints that were tracked through most of a clip (source pixels); empty where too few were.

    A reading then rests on them, not on the film.
    """
    points = {
        track.name: {
            p.frame: (p.x, p.y, p.confidence)
            for p in tracks.points_of(connection, track.id)
            if p.x is not None and p.y is not None and clip.holds(p.frame)
        }
        for track in tracks.of_clip(connection, clip.id)
    }
    found = tracked_joints(points)
    return found if enough(found, range(clip.first_frame, clip.last_frame + 1)) else {}


def read_events(timed: ClipTiming, reading: Reading) -> list[ReadEvent]:
    """The events of a reading in real seconds."""
    base = timed.time_base
    frames = np.arange(base.frames, dtype=float)
    interval = base.interval_within(timed.clip.first_frame, timed.clip.last_frame) or 1 / 30
    return [
        ReadEvent(
            float(np.interp(e.frame, frames, base.real_s)), e.lane, e.side, e.event,
            e.u95 * interval, e.confidence, e.bridged,
        )
        for e in reading.events
    ]  # fmt: skip


def proposed(connection: sqlite3.Connection, timed: ClipTiming) -> Proposed:
    """What the film told and no mark says yet, moved by the coach's corrections."""
    reading = reading_of(connection, timed)
    if reading is None:
        return Proposed((), ())
    left, shifts = corrected(read_events(timed, reading), timed.events)
    inside = [e for e in left if timed.from_s <= e.time_s <= timed.to_s]
    return Proposed(tuple(inside), tuple(shifts))


def take(
    connection: sqlite3.Connection, user_id: int, clip: Clip, from_frame: int, to_frame: int
) -> int:
    """Confirm all that is proposed from one frame to another as marks, as one step.

    Gives how many. Raises MarkError where nothing is proposed there.
    """
    timed = time_clip(connection, clip)
    new = [
        NewMark(frame, e.lane, e.side, e.event)
        for e in proposed(connection, timed).events
        if from_frame <= (frame := timed.clamped(timed.frame_of(e.time_s))) <= to_frame
    ]
    if not new:
        raise MarkError("Nothing is proposed here.")
    with in_both(connection, clip):
        placed = marks.place_many(connection, clip.id, user_id, new)
        readings.add_taken(connection, clip.id, [(m.frame, m.lane, m.side, m.event) for m in new])
    return placed


def cycle_at(timed: ClipTiming, events: Sequence[ReadEvent], frame: int) -> tuple[int, int]:
    """First and last frame of the stroke cycle that holds a frame, by what is proposed and marked.

    A cycle goes from an opening of the arm that opens first to the frame before its next one.
    """
    rules = timed.timing.resolved.stroke
    arm = _first_arm(timed, events)
    opened = sorted(
        timed.frame_of(time_s)
        for time_s, lane, side, event in _instants(timed, events)
        if (lane, side, event) == ("arm", arm, rules.opens)
    )
    before = [f for f in opened if f <= frame]
    after = [f for f in opened if f > frame]
    first = before[-1] if before else timed.clip.first_frame
    return first, after[0] - 1 if after else timed.clip.last_frame


def _first_arm(timed: ClipTiming, events: Sequence[ReadEvent]) -> str:
    rules = timed.timing.resolved.stroke
    if not rules.alternating:
        return ""
    opens = [
        (time_s, side) for time_s, lane, side, event in _instants(timed, events)
        if lane == "arm" and event == rules.opens
    ]  # fmt: skip
    return min(opens, default=(0.0, "right"))[1]


def _instants(timed: ClipTiming, events: Sequence[ReadEvent]) -> list[tuple[float, str, str, str]]:
    """(real seconds, lane, side, event) of what is marked and what is proposed."""
    return [
        *((m.time_s, m.lane, m.side, m.event) for m in timed.events),
        *((e.time_s, e.lane, e.side, e.event) for e in events),
    ]


def unclaimed_parts(connection: sqlite3.Connection, recording_id: int) -> list[readings.StoredPart]:
    """Stretches of a whole recording in which somebody swims and that no part holds yet."""
    whole = [c for c in clips.of_recording(connection, recording_id) if not c.is_part]
    cut = [c for c in clips.of_recording(connection, recording_id) if c.is_part]
    found = [r for c in whole if (r := readings.of_clip(connection, c.id)) is not None]

    def held(part: readings.StoredPart) -> bool:
        middle = (part.first + part.last) // 2
        return any(c.holds(middle) for c in cut)

    return [part for reading in found[:1] for part in reading.parts if not held(part)]


def job_of(connection: sqlite3.Connection, clip_id: int) -> Job | None:
    """The newest job that reads this clip."""
    return jobs.newest_of_clip(connection, READ, clip_id)


def ask_to_read(
    connection: sqlite3.Connection, clip: Clip, frame: int | None = None,
    shown: Sequence[float] = (),
) -> int | None:  # fmt: skip
    """The number of a new job that reads a clip; None where one is under way.

    shown: head and hips of the swimmer on a frame (x and y of each, source pixels), where several
    are in the picture; the clip is read from that frame on.
    """
    job = job_of(connection, clip.id)
    if job is not None and job.state in ("queued", "running"):
        return None
    args: dict[str, object] = {"clip_id": clip.id}
    if len(shown) == _TAP and frame is not None:
        clip.require(frame)
        args |= {"frame": frame, "tap": [float(v) for v in shown]}
    return jobs.add(connection, READ, args, None)


def trust(connection: sqlite3.Connection) -> dict[tuple[str, str], Trust]:
    """(view, event) to how far reading was off in the club, by its newest clips' corrections."""
    marked = readings.of_marked(connection)
    taken = readings.taken(connection, list(marked))
    offs = []
    for clip_id, reading in marked.items():
        if not reading.events or reading.by_points:
            continue
        clip = clips.by_id(connection, clip_id)
        timed = time_clip(connection, clip)
        for pair in pairs_of(read_events(timed, reading), timed.events):
            mark = pair.mark
            if (mark.frame, mark.lane, mark.side, mark.event) not in taken[clip_id]:
                offs.append(Off(reading.read_as.view, mark.event, pair.off_s, pair.event.u95_s))
    return trust_of(offs)
