"""Following points: set and corrected by the coach, followed by a job, charted, sent and read."""

from __future__ import annotations

import re
from collections import defaultdict

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MeasureError, TracksFileError
from norvik.core.frame.movement import UNSURE
from norvik.core.strokes.names import BODY_SIDES, Side
from norvik.formats.keypoints_csv import read_points, write_keypoints
from norvik.formats.tracks_csv import split_name
from norvik.store import jobs, tracks
from norvik.store.clips import Clip
from norvik.store.connection import transaction
from norvik.store.tracks import TrackPoint
from norvik.web.clip.drawing_forms import points_of_form
from norvik.web.clip.track_chart import HEIGHT, WIDTH, chart
from norvik.web.shared import asked
from norvik.web.shared.database import database, queue
from norvik.web.shared.downloads import attachment, table_file
from norvik.work_names import FOLLOW
from norvik.workflow.clip_tables import about, name_of, tracks_file
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.clip_tracks import SIDED, UNSIDED, ClipTracks, track_measures, tracks_of
from norvik.workflow.reading import tracked_in

blueprint = Blueprint("tracks", __name__, url_prefix="/clips/<int:clip_id>/tracks")

_NAME = re.compile(r"[\w -]{1,40}")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    """The list of followed points; while one is being followed it is asked for again and again."""
    return _list(asked.ready_clip(clip_id))


@blueprint.post("/")
def add(clip_id: int) -> ResponseReturnValue:
    """Set a point by hand, on a new or a known track, and follow it on from there."""
    clip = asked.ready_clip(clip_id)
    point, side = request.form.get("point", "").strip(), request.form.get("side", "")
    if not _NAME.fullmatch(point) or side not in BODY_SIDES:
        raise MeasureError("Name the point to track, in at most 40 letters.")
    known: Side = "" if point in UNSIDED else side
    frame, x, y = _place(clip)
    with transaction(database()):
        track_id = tracks.open_track(database(), clip_id, current_user.id, point, known)
        tracks.set_anchor(database(), track_id, frame, x, y)
    return _follow(clip, track_id, frame)


@blueprint.post("/<int:track_id>/anchor")
def anchor(clip_id: int, track_id: int) -> ResponseReturnValue:
    """Correct a point on a frame; it is followed anew from there, and back to where it agrees."""
    clip = asked.ready_clip(clip_id)
    tracks.by_id(database(), clip_id, track_id)
    frame, x, y = _place(clip)
    tracks.set_anchor(database(), track_id, frame, x, y)
    return _follow(clip, track_id, frame)


@blueprint.post("/<int:track_id>/lost")
def lost(clip_id: int, track_id: int) -> ResponseReturnValue:
    """What was followed from a frame on is wrong and goes, up to the next place set by hand."""
    clip = asked.ready_clip(clip_id)
    track = tracks.by_id(database(), clip_id, track_id)
    frame = request.form.get("frame", -1, type=int)
    later = [
        p.frame for p in tracks.points_of(database(), track_id)
        if p.state == "anchor" and p.frame > frame
    ]  # fmt: skip
    tracks.forget(database(), track_id, frame, (later[0] if later else clip.last_frame + 1) - 1)
    return _list(clip, f"{track.name.capitalize()} track removed from frame {frame} on")


@blueprint.post("/<int:track_id>/cancel")
def cancel(clip_id: int, track_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    track = tracks.by_id(database(), clip_id, track_id)
    if track.job_id is not None:
        jobs.ask_cancel(database(), track.job_id)
    return _list(clip, f"Tracking of the {track.name} stopped; what was tracked is kept")


@blueprint.post("/<int:track_id>/delete")
def delete(clip_id: int, track_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    track = tracks.by_id(database(), clip_id, track_id)
    if track.job_id is not None:
        jobs.ask_cancel(database(), track.job_id)
    tracks.delete(database(), track_id)
    return _list(clip, f"Track of the {track.name} deleted")


@blueprint.get("/points")
def points(clip_id: int) -> ResponseReturnValue:
    """Where every followed point is: [frame, x, y, state, unsure] for each of its frames."""
    timed = time_clip(database(), asked.ready_clip(clip_id))
    return jsonify(
        [
            {
                "id": t.stored.id,
                "name": t.stored.name,
                "points": [[p.frame, p.x, p.y, p.state, p.confidence < UNSURE] for p in t.points],
            }
            for t in tracks_of(database(), timed).tracks
        ]
    )


@blueprint.get("/tracks.csv")
def table(clip_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    timed = time_clip(database(), clip)
    return table_file(
        tracks_file(database(), timed), f"{name_of(clip)}.tracks.csv", about(database(), timed)
    )


@blueprint.get("/keypoints.csv")
def keypoints(clip_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    timed = time_clip(database(), clip)
    found = {
        t.stored.name: {
            p.frame: (p.x, p.y, p.confidence)
            for p in t.points
            if p.x is not None and p.y is not None
        }
        for t in tracks_of(database(), timed).tracks
    }
    if not found:
        raise MeasureError("No point is tracked in this clip yet.")
    text = write_keypoints(clip.first_frame, clip.last_frame, found)
    return attachment(text, f"{name_of(clip)}.keypoints.csv", "text/csv")


@blueprint.post("/file")
def take_in(clip_id: int) -> ResponseReturnValue:
    """Import tracks.csv or keypoints: each point takes the place of the one of its name."""
    clip = asked.ready_clip(clip_id)
    sent = request.files.get("file")
    if sent is None or not sent.filename:
        raise TracksFileError("Choose a file of tracked points first.")
    rows = read_points(sent.read(), clip.first_frame)
    outside = sorted({r.frame for r in rows if not clip.holds(r.frame)})
    if outside:
        raise TracksFileError(
            f"Frame {outside[0]} is not in this clip ({clip.first_frame} to {clip.last_frame}). "
            "Nothing was imported."
        )
    by_name: dict[str, list[TrackPoint]] = defaultdict(list)
    for r in rows:
        sure = r.confidence
        if sure is None or r.state == "lost":
            sure = 0.0 if r.state == "lost" else 1.0
        by_name[r.point].append(TrackPoint(r.frame, r.x, r.y, r.state, sure))
    with transaction(database()):
        for name, taken in by_name.items():
            side, point = split_name(name)
            track_id = tracks.open_track(database(), clip_id, current_user.id, point, side)
            tracks.replace_points(database(), track_id, taken)
    return redirect(url_for("bench.show", clip_id=clip_id, panel="follow"))


def context(timed: ClipTiming, told: str = "") -> dict[str, object]:
    """What the list of followed points shows."""
    found = tracks_of(database(), timed)
    return {
        "tracks": found,
        "track_said": track_measures(database(), found),
        "charts": _charts(found),
        "chart_size": (WIDTH, HEIGHT),
        "followable": (*SIDED, *UNSIDED),
        "track_told": told,
        "track_proposals": len(found.proposals()),
        "track_readable": not found.running and bool(tracked_in(database(), timed.clip)),
    }


def _charts(found: ClipTracks) -> list[object]:
    if found.running:
        return []
    made = [chart(s, found.times_s) for s in found.series()]
    return [c for c in made if c is not None]


def _list(clip: Clip, told: str = "") -> ResponseReturnValue:
    timed = time_clip(database(), clip)
    return render_template("bench/_tracks.html", clip=clip, **context(timed, told))


def _follow(clip: Clip, track_id: int, frame: int) -> ResponseReturnValue:
    """Begin the job that follows a point from a frame on."""
    connection = database()
    track = tracks.by_id(connection, clip.id, track_id)
    to = request.form.get("to", clip.last_frame, type=int)
    if track.job_id is not None:
        # The way that is under way begins at a place that does not count any more.
        jobs.ask_cancel(connection, track.job_id)
    args = {"clip_id": clip.id, "track_id": track_id, "frame": frame, "to": max(frame, to)}
    with transaction(connection):
        job_id = jobs.add(connection, FOLLOW, args, None)
        tracks.set_job(connection, track_id, job_id)
    queue().put(job_id)
    return _list(clip, f"Tracking the {track.name} from frame {frame}")


def _place(clip: Clip) -> tuple[int, float, float]:
    frame = request.form.get("frame", -1, type=int)
    clip.require(frame)
    found = points_of_form(clip)
    if len(found) != 1:
        raise MeasureError("Click the point once.")
    return frame, found[0].x, found[0].y
