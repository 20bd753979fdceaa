"""Recordings: film, sound, filmstrip and original of a file, and its preparation."""

from __future__ import annotations

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from norvik.core.errors import NotFoundError, NotReadyError
from norvik.files import names
from norvik.footage.packets import packet_list
from norvik.store import clips, jobs, recordings
from norvik.store.connection import transaction
from norvik.store.recordings import Recording
from norvik.web.shared import asked
from norvik.web.shared.database import database, footage, queue
from norvik.web.shared.kept_file import kept_file
from norvik.work_names import OPEN

blueprint = Blueprint("recordings", __name__, url_prefix="/recordings/<int:recording_id>")

#: What lies under one address never changes: the number of frames is part of it.
KEPT_S = 3600


@blueprint.get("/film-<int:frames>.mp4")
def film(recording_id: int, frames: int) -> ResponseReturnValue:
    """The review copy with so many frames; answers ranges, so that only what is needed is sent."""
    path = _film(recording_id, frames)
    response = kept_file(path, mimetype="video/mp4")
    response.headers["Cache-Control"] = f"private, max-age={KEPT_S}"
    return response


def _film(recording_id: int, frames: int):  # type: ignore[no-untyped-def]
    recording = watchable(recording_id)
    if recording.frames != frames:
        stretch = footage().at_hand(names.stretch(recording_id, frames))
        if stretch.is_file():
            return stretch  # a page that has not heard of the longer one yet
    path = footage().at_hand(str(recording.review_path))
    if recording.frames != frames or not path.is_file():
        raise NotFoundError("This film has been replaced by a longer one. Reload the page.")
    return path


@blueprint.get("/packets-<int:frames>.json")
def packets(recording_id: int, frames: int) -> ResponseReturnValue:
    """Where each frame's bytes lie in the film, for a browser that decodes them itself."""
    response = jsonify(packet_list(_film(recording_id, frames)))
    response.headers["Cache-Control"] = f"private, max-age={KEPT_S}"
    return response


@blueprint.get("/sound.m4a")
def sound(recording_id: int) -> ResponseReturnValue:
    path = footage().at_hand(names.sound(asked.recording(recording_id).id))
    if not path.is_file():
        raise NotFoundError("This recording has no sound.")
    return kept_file(path, mimetype="audio/mp4", max_age=KEPT_S)


@blueprint.get("/strip-<int:frames>.jpg")
def strip(recording_id: int, frames: int) -> ResponseReturnValue:
    path = footage().at_hand(names.strip(asked.recording(recording_id).id))
    if not path.is_file():
        raise NotFoundError("This recording has no filmstrip yet.")
    return kept_file(path, mimetype="image/jpeg", max_age=60)


@blueprint.get("/original")
def original(recording_id: int) -> ResponseReturnValue:
    """The file as it was brought, byte for byte, under its own name."""
    recording = asked.recording(recording_id)
    path = footage().at_hand(recording.original_path) if recording.original_path else None
    if path is None or not path.is_file():
        raise NotFoundError("The original of this recording was deleted to make room.")
    return kept_file(path, as_attachment=True, download_name=recording.original_name)


@blueprint.get("/progress")
def progress(recording_id: int) -> ResponseReturnValue:
    """How far the preparation is; tells htmx to load the page anew when there is film to see."""
    recording = asked.recording(recording_id)
    clip_id = request.args.get("clip", type=int)
    waiting = recording.state == "waiting"
    if clip_id is not None and recording.state == "opening":
        # A part of a recording whose copy has not come that far yet.
        waiting = not asked.clip(clip_id).watchable
    if not waiting:
        return "", 200, {"HX-Refresh": "true"}
    return render_template(
        "intake/_progress.html",
        recording=recording,
        clip_id=clip_id,
        job=jobs.newest_of(database(), recording_id),
    )


@blueprint.post("/cancel")
def cancel(recording_id: int) -> ResponseReturnValue:
    connection = database()
    job = jobs.newest_of(connection, asked.recording(recording_id).id)
    if job is not None and job.state in ("queued", "running"):
        jobs.ask_cancel(connection, job.id)
        if job.state == "queued":
            for name in names.made_of(footage(), recording_id):
                footage().remove(name)
            recordings.set_failed(connection, recording_id, "Preparing this clip was cancelled.")
    return _back(recording_id)


@blueprint.post("/again")
def again(recording_id: int) -> ResponseReturnValue:
    """Prepare a recording once more whose first try failed or was cancelled."""
    connection = database()
    recording = asked.recording(recording_id)
    path = recording.original_path
    if recording.state == "failed" and path and footage().has(path):
        with transaction(connection):
            recordings.set_waiting(connection, recording_id)
            job_id = jobs.add(connection, OPEN, {"recording_id": recording_id}, recording_id)
        queue().put(job_id)
    return _back(recording_id)


def _back(recording_id: int) -> ResponseReturnValue:
    of_it = clips.of_recording(database(), recording_id, with_trash=True)
    return redirect(url_for("bench.show", clip_id=of_it[0].id))


def watchable(recording_id: int) -> Recording:
    recording = asked.recording(recording_id)
    if not recording.watchable:
        raise NotReadyError("This clip is still being prepared. Wait until it is ready.")
    return recording
