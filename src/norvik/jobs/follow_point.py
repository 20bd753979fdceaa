"""Following a point: what work/follow.py is told, and where its steps go."""

from __future__ import annotations

import sqlite3

from norvik.core.errors import NotFoundError
from norvik.footage.follow import Step
from norvik.settings import Settings
from norvik.store import clips, tracks
from norvik.store.jobs import Job
from norvik.store.tracks import TrackPoint
from norvik.work.follow import Follow, FollowedSteps
from norvik.workflow.clip_drawings import source_factor

#: Source pixels within which a way back has met what was followed before.
_MET_PX = 3.0


def order(connection: sqlite3.Connection, settings: Settings, job: Job) -> Follow:
    """args: clip_id, track_id, frame (of the place set by hand), to (the last frame to follow).

    It ends before the next place set by hand. What was followed there before is forgotten.
    """
    clip = clips.by_id(connection, job.args["clip_id"])
    track = tracks.by_id(connection, clip.id, job.args["track_id"])
    begin, to = int(job.args["frame"]), min(int(job.args["to"]), clip.last_frame)
    points = {p.frame: p for p in tracks.points_of(connection, track.id)}
    start = points.get(begin)
    if start is None or start.x is None or start.y is None:
        raise NotFoundError("The starting point of the track has been deleted. Set it again.")
    recording = clip.recording
    if recording.review_path is None:
        raise NotFoundError("The review copy of this clip is missing. Prepare the clip again.")
    factor = source_factor(recording)
    interval = clips.time_base(connection, clip).interval_within(clip.first_frame, clip.last_frame)
    anchors = sorted(f for f, p in points.items() if p.state == "anchor")
    after = next((f for f in anchors if f > begin), None)
    before = next((f for f in reversed(anchors) if f < begin), None)
    end = min(to, after - 1 if after is not None else to)
    there = {
        f: (p.x / factor, p.y / factor, p.confidence)
        for f, p in points.items() if p.x is not None and p.y is not None
    }  # fmt: skip
    tracks.forget(connection, track.id, begin + 1, end)
    return Follow(
        recording.review_path, recording.rate, begin, end, before, start.x / factor,
        start.y / factor, interval or 1 / 30, _MET_PX / factor, there,
    )  # fmt: skip


def keep_part(
    connection: sqlite3.Connection, settings: Settings, job: Job, followed: FollowedSteps
) -> None:
    """What was followed stays when the job is cancelled. Places set by hand stay in any case."""
    clip = clips.by_id(connection, job.args["clip_id"])
    factor = source_factor(clip.recording)
    try:
        tracks.put_followed(
            connection, job.args["track_id"], [_kept(s, factor) for s in followed.steps]
        )
    except sqlite3.IntegrityError as error:
        raise NotFoundError("This track has been deleted.") from error


def keep(
    connection: sqlite3.Connection, settings: Settings, job: Job, followed: FollowedSteps
) -> None:
    """All of it once more: a part may have been lost on its way."""
    keep_part(connection, settings, job, followed)


def _kept(step: Step, factor: float) -> TrackPoint:
    if step.x is None or step.y is None:
        return TrackPoint(step.frame, None, None, "lost", 0.0)
    return TrackPoint(
        step.frame, round(step.x * factor, 2), round(step.y * factor, 2), "followed",
        round(step.confidence, 3),
    )  # fmt: skip
