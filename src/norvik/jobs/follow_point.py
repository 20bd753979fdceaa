"""The job that follows one point of a clip: on from a place set by hand, and back to repair."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import islice
from sqlite3 import IntegrityError

from norvik.core.errors import NotFoundError
from norvik.core.frame.movement import UNSURE
from norvik.footage.follow import Step, follow, grey_frames
from norvik.jobs.report import Report
from norvik.settings import Settings
from norvik.store import clips, tracks
from norvik.store.jobs import Job
from norvik.store.tracks import TrackPoint
from norvik.workflow.clip_drawings import source_factor

FOLLOW = "follow-point"
#: Frames that are kept at once.
_BATCH = 24
#: Source pixels within which a way back has met what was followed before.
_MET_PX = 3.0


def follow_point(settings: Settings, job: Job, report: Report) -> None:
    """args: clip_id, track_id, frame (of the place set by hand), to (the last frame to follow).

    Goes on to the next place set by hand, or to `to`; then back, as long as what was followed there
    is unsure or disagrees, at most to the place set by hand before. What was followed stays when it
    is cancelled.
    """
    connection = report.connection
    clip = clips.by_id(connection, job.args["clip_id"])
    track = tracks.by_id(connection, clip.id, job.args["track_id"])
    begin, to = int(job.args["frame"]), min(int(job.args["to"]), clip.last_frame)
    points = {p.frame: p for p in tracks.points_of(connection, track.id)}
    start = points.get(begin)
    if start is None or start.x is None or start.y is None:
        raise NotFoundError("The starting point of the track has been deleted. Set it again.")
    recording = clip.recording
    copy = settings.data / recording.review_path if recording.review_path else None
    if copy is None or not copy.is_file():
        raise NotFoundError("The review copy of this clip is missing. Prepare the clip again.")
    factor = source_factor(recording)
    rate = recording.rate
    base = clips.time_base(connection, clip)
    interval = base.interval_within(clip.first_frame, clip.last_frame) or 1 / 30
    anchors = sorted(f for f, p in points.items() if p.state == "anchor")
    after = next((f for f in anchors if f > begin), None)
    before = next((f for f in reversed(anchors) if f < begin), None)
    end = min(to, after - 1 if after is not None else to)
    at = start.x / factor, start.y / factor
    work = max(1, end - begin)

    def keep(steps: Iterator[Step], done: int = 0) -> int | None:
        """Store steps as they come; the last frame that was reached."""
        last = None
        while batch := list(islice(steps, _BATCH)):
            report("following", done + abs(batch[-1].frame - begin), work)
            try:
                tracks.put_followed(connection, track.id, [_kept(s, factor) for s in batch])
            except IntegrityError as error:
                raise NotFoundError("This track has been deleted.") from error
            last = batch[-1].frame
        return last

    tracks.forget(connection, track.id, begin + 1, end)
    if end > begin:
        keep(follow(grey_frames(copy, rate, begin, end), *at, interval))
    if before is not None and begin - before > 1:
        back = follow(grey_frames(copy, rate, begin, before + 1), *at, interval)
        keep(_until_met(back, points, factor))


def _until_met(
    steps: Iterator[Step], points: dict[int, TrackPoint], factor: float
) -> Iterator[Step]:
    """Steps of a way back until they lie on what was surely followed before, or are lost."""
    for step in steps:
        if step.x is None or step.y is None:
            return
        there = points.get(step.frame)
        if (
            there is not None
            and there.x is not None
            and there.y is not None
            and there.confidence >= UNSURE
            and math.hypot(step.x * factor - there.x, step.y * factor - there.y) <= _MET_PX
        ):
            return
        yield step


def _kept(step: Step, factor: float) -> TrackPoint:
    if step.x is None or step.y is None:
        return TrackPoint(step.frame, None, None, "lost", 0.0)
    return TrackPoint(
        step.frame, round(step.x * factor, 2), round(step.y * factor, 2), "followed",
        round(step.confidence, 3),
    )  # fmt: skip
