"""Reading a clip: what work/read.py is told, and what is kept of what it read."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from norvik.core.errors import NotFoundError, ReadingError
from norvik.core.frame.measures import MEASURES
from norvik.core.reading.trust import Trust, trusted
from norvik.settings import Settings
from norvik.store import clips, readings
from norvik.store.clips import Clip
from norvik.store.jobs import Job
from norvik.store.readings import (
    ReadAs,
    Reading,
    StoredCycle,
    StoredEvent,
    StoredMeasure,
    StoredPart,
)
from norvik.work.read import FilmRead, ReadFilm
from norvik.workflow.clip_drawings import source_factor
from norvik.workflow.read_measures import trust_in_measures
from norvik.workflow.reading import read_as, tracked_in, trust

Series = NDArray[np.float64]

_SWITCHED_OFF = "proposals were wrong too often, so they are switched off"


def order(connection: sqlite3.Connection, settings: Settings, job: Job) -> ReadFilm:
    """args: clip_id; where the coach showed the swimmer: frame, and tap (head and hips, x and y in
    source pixels).
    """
    clip = clips.by_id(connection, job.args["clip_id"])
    base = clips.time_base(connection, clip)
    recording = clip.recording
    if recording.review_path is None:
        raise NotFoundError("The review copy of this clip is missing. Prepare the clip again.")
    factor = source_factor(recording)
    tap, begin = None, clip.first_frame
    if "tap" in job.args:
        x, y, hip_x, hip_y = (float(v) / factor for v in job.args["tap"])
        tap = x, y, hip_x, hip_y
        begin = min(max(clip.first_frame, int(job.args["frame"])), clip.last_frame)
    return ReadFilm(
        recording.review_path, recording.rate, recording.frames, clip.first_frame, clip.last_frame,
        base.real_s, clip.stroke, clip.view, factor, tap, begin,
        {} if tap else _tracked(connection, clip, factor),
    )  # fmt: skip


def _tracked(
    connection: sqlite3.Connection, clip: Clip, factor: float
) -> dict[str, dict[int, tuple[float, float, float]]]:
    """Joints that were tracked, in pixels of the review copy."""
    return {
        joint: {frame: (x / factor, y / factor, sure) for frame, (x, y, sure) in places.items()}
        for joint, places in tracked_in(connection, clip).items()
    }


def keep(connection: sqlite3.Connection, settings: Settings, job: Job, found: FilmRead) -> None:
    """What was read before stays where the swimmer who was shown could not be followed."""
    clip = clips.by_id(connection, job.args["clip_id"])
    base = clips.time_base(connection, clip)
    before = readings.of_clip(connection, clip.id)
    if "tap" in job.args and not found.events and before is not None and before.events:
        raise ReadingError(
            "The swimmer you clicked could not be followed. The proposals from before are kept."
        )
    # What coaches corrected of the network says nothing of points that were tracked.
    known = {} if found.by_points else trust(connection) | trust_in_measures(connection)
    stored = _stored(found, read_as(clip, base), base.real_s, known)
    readings.put(connection, clip.id, stored, found.poses)


def _stored(
    found: FilmRead, as_read: ReadAs, real_s: Series, known: Mapping[tuple[str, str], Trust]
) -> Reading:
    """In frames of the recording: those stay when the time base is set anew.

    known: how far reading was off in this club. What was off by more than it said is left out.
    """
    frames = np.arange(len(real_s), dtype=float)
    interval = float(np.median(np.diff(real_s))) if len(real_s) > 1 else 1 / 30
    events, reasons = [], dict(found.reasons)
    for e in found.events:
        sure = trusted(as_read.view, e.event, e.u95_s / 1.96, known)
        if sure is None:
            reasons[e.event] = _SWITCHED_OFF
            continue
        frame = float(np.interp(e.time_s, real_s, frames))
        confidence = min(sure[1], e.confidence)
        events.append(StoredEvent(round(frame, 2), e.lane, e.side, e.event,
                                  round(sure[0] / interval, 2), confidence, e.bridged))  # fmt: skip
    measures = []
    for m in found.measures:
        sure = trusted(as_read.view, m.measure, m.u, known)
        if sure is None:
            reasons[MEASURES[m.measure].name.lower()] = _SWITCHED_OFF
            continue
        points = tuple((round(x, 1), round(y, 1)) for x, y in m.points)
        measures.append(StoredMeasure(m.frame, m.measure, m.side, points, sure[0] / 1.96))
    cycle = found.cycle
    kept = (
        StoredCycle(cycle.seconds / interval, cycle.u95 / interval, cycle.cycles, cycle.seconds)
        if cycle
        else None
    )
    return Reading(
        as_read,
        found.seen,
        kept,
        tuple(events),
        reasons,
        tuple(StoredPart(p.first, p.last, p.stroke, p.clear) for p in found.parts),
        found.looks_like,
        tuple(measures),
        found.by_points,
    )
