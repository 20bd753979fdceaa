"""The job that reads a clip's film: where the swimmer is, how often, and which events."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from norvik.core.errors import NotFoundError, ReadingError
from norvik.core.reading.stroke import VIEWS
from norvik.core.reading.trust import Trust, trusted
from norvik.jobs.prepare_recording import PREPARE
from norvik.jobs.report import JobGivesWay, Report
from norvik.reading.detect import Detector, shown_by
from norvik.reading.followed import Followed, follow_film
from norvik.reading.network import LitePose
from norvik.reading.parts import SwumPart, swum_parts
from norvik.reading.pictures import clip_pictures, trunk_in_clip
from norvik.reading.read import Read, read_followed
from norvik.settings import Settings
from norvik.store import clips, jobs, readings
from norvik.store.jobs import Job
from norvik.store.readings import Reading, StoredCycle, StoredEvent, StoredPart
from norvik.workflow.clip_drawings import source_factor
from norvik.workflow.reading import read_as, trust


def read_clip(settings: Settings, job: Job, report: Report) -> None:
    """args: clip_id; where the coach showed the swimmer: frame, and tap (head and hips, x and y in
    source pixels). What was read before stays when it is cancelled, or when the swimmer who was
    shown cannot be followed.
    """
    connection = report.connection
    clip = clips.by_id(connection, job.args["clip_id"])
    base = clips.time_base(connection, clip)
    as_read = read_as(clip, base)
    if clip.view not in VIEWS:
        reasons = {"rate": _ONLY_SIDE, "events": _ONLY_SIDE}
        readings.put(connection, clip.id, Reading(as_read, 0.0, None, (), reasons), None)
        return
    recording = clip.recording
    copy = settings.data / recording.review_path if recording.review_path else None
    if copy is None or not copy.is_file():
        raise NotFoundError("The review copy of this clip is missing. Prepare the clip again.")
    try:
        network, finder = LitePose(), Detector()
    except ReadingError as error:
        reasons = {"rate": error.sentence, "events": error.sentence}
        readings.put(connection, clip.id, Reading(as_read, 0.0, None, (), reasons), None)
        return
    first, last = clip.first_frame, clip.last_frame
    factor = source_factor(recording)
    tapped, begin = None, first
    if "tap" in job.args:
        tapped = shown_by(*(float(v) / factor for v in job.args["tap"]))
        begin = min(max(first, int(job.args["frame"])), last)
    report("looking for the swimmer", 0, None)
    usual = None if tapped else trunk_in_clip(copy, finder, first, last, recording.frames)

    def told(frame: int) -> None:
        report("reading", frame - first, max(1, last - first))
        if frame % _LOOK_AROUND == 0 and jobs.waiting_of(connection, PREPARE):
            raise JobGivesWay

    followed = follow_film(
        clip_pictures(copy, recording.rate, begin, last, base.real_s), network, finder, usual,
        tapped, told,
    )  # fmt: skip
    found = read_followed(followed, clip.stroke, clip.view)
    before = readings.of_clip(connection, clip.id)
    if tapped and not found.events and before is not None and before.events:
        raise ReadingError(
            "The swimmer you clicked could not be followed. The proposals from before are kept."
        )
    parts = swum_parts(followed, clip.view)
    stored = _stored(found, as_read, base.real_s, trust(connection), parts)
    readings.put(connection, clip.id, stored, _packed(followed, factor))


Series = NDArray[np.float64]

#: Every so many frames it is looked whether a review copy waits.
_LOOK_AROUND = 16
_ONLY_SIDE = "only films from the side can be read"


def _stored(
    found: Read, as_read: readings.ReadAs, real_s: Series,
    known: Mapping[tuple[str, str], Trust], parts: Sequence[SwumPart],
) -> Reading:  # fmt: skip
    """In frames of the recording: those stay when the time base is set anew.

    known: how far reading was off in this club. What was off by more than it said is left out.
    """
    frames = np.arange(len(real_s), dtype=float)
    interval = float(np.median(np.diff(real_s))) if len(real_s) > 1 else 1 / 30
    events, reasons = [], dict(found.reasons)
    for e in found.events:
        sure = trusted(as_read.view, e.event, e.u95_s / 1.96, known)
        if sure is None:
            reasons[e.event] = "proposals were wrong too often, so they are switched off"
            continue
        frame = float(np.interp(e.time_s, real_s, frames))
        confidence = min(sure[1], e.confidence)
        events.append(StoredEvent(round(frame, 2), e.lane, e.side, e.event,
                                  round(sure[0] / interval, 2), confidence))  # fmt: skip
    cycle = found.cycle
    kept = (
        StoredCycle(cycle.seconds / interval, cycle.u95 / interval, cycle.cycles, cycle.seconds)
        if cycle
        else None
    )
    return Reading(
        as_read,
        found.followed.seen,
        kept,
        tuple(events),
        reasons,
        tuple(StoredPart(p.first, p.last, p.stroke, p.clear) for p in parts),
        found.looks_like,
    )


def _packed(followed: Followed, factor: float) -> readings.Poses | None:
    """Rows of frame, then x, y in source pixels and visibility of every joint."""
    if not followed.poses:
        return None
    rows = [
        np.concatenate([
            [pose.frame],
            np.concatenate([pose.points * factor, pose.visible[:, None]], axis=1).ravel(),
        ])
        for pose in followed.poses
    ]  # fmt: skip
    return np.asarray(rows, np.float32)
