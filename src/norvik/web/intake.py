"""Intake: clips come in, one request for each, as a plain stream of bytes."""

from __future__ import annotations

from datetime import date

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import FootageError, MarkError
from norvik.core.strokes import STROKES
from norvik.intake.receive import AlreadyThere, Facts, receive
from norvik.store import clips, jobs, swimmers
from norvik.store.clips import ROLES, STRETCH_RANGE, VIEWS
from norvik.store.connection import transaction
from norvik.web.database import database, queue, settings

blueprint = Blueprint("intake", __name__)


@blueprint.get("/clips/new")
def new() -> ResponseReturnValue:
    everyone = swimmers.all_by_name(database())
    chosen = request.args.get("swimmer", type=int)
    page = "intake/page.html" if everyone else "intake/no_swimmers.html"
    return render_template(
        page,
        swimmers=everyone,
        chosen=chosen,
        strokes=STROKES,
        views=VIEWS,
        roles=ROLES,
        today=date.today().isoformat(),
    )


@blueprint.post("/clips")
def upload() -> ResponseReturnValue:
    """The body is the file; what it is stands in the query. Answers with JSON."""
    try:
        facts = _facts()
        clip_id, job_id = receive(
            settings(),
            database(),
            request.stream,
            request.args.get("name", "clip"),
            facts,
            request.content_length,
        )
    except AlreadyThere as error:
        there = url_for("bench.show", clip_id=error.clip.id)
        return jsonify(sentence=error.sentence, there=there), 409
    except FootageError as error:
        return jsonify(sentence=error.sentence), 422
    queue().put(job_id)
    return jsonify(clip=clip_id, page=url_for("bench.show", clip_id=clip_id)), 201


def _facts() -> Facts:
    args = request.args
    swimmer = swimmers.by_id(database(), args.get("swimmer", 0, type=int))
    view, role = args.get("view", VIEWS[0]), args.get("role", ROLES[0])
    stroke = args.get("stroke", "freestyle")
    if view not in VIEWS or role not in ROLES or stroke not in STROKES:
        raise MarkError("This stroke, view or role is not known. Load the page again.")
    filmed_on = args.get("filmed_on", "")
    try:
        date.fromisoformat(filmed_on)
    except ValueError as error:
        raise MarkError("The date of filming must look like 2027-03-14.") from error
    stretch = args.get("stretch", 1.0, type=float)
    if not STRETCH_RANGE[0] <= stretch <= STRETCH_RANGE[1]:
        raise MarkError("The slow-motion factor must lie between 0.05 and 100.")
    return Facts(
        swimmer_id=swimmer.id,
        stroke=stroke,
        view=view,
        role=role,
        filmed_on=filmed_on,
        stretch=stretch,
        created_by=current_user.id,
    )


@blueprint.get("/clips/<int:clip_id>/progress")
def progress(clip_id: int) -> ResponseReturnValue:
    """How far the preparation is; tells htmx to load the page anew when it has ended."""
    clip = clips.by_id(database(), clip_id)
    if clip.state != "waiting":
        return "", 200, {"HX-Refresh": "true"}
    job = jobs.newest_of_clip(database(), clip_id)
    return render_template("intake/_progress.html", clip=clip, job=job)


@blueprint.post("/clips/<int:clip_id>/cancel")
def cancel(clip_id: int) -> ResponseReturnValue:
    connection = database()
    job = jobs.newest_of_clip(connection, clip_id)
    if job is not None:
        jobs.ask_cancel(connection, job.id)
        if job.state == "queued":
            clips.set_failed(connection, clip_id, "Preparing this clip was cancelled.")
    return redirect(url_for("bench.show", clip_id=clip_id))


@blueprint.post("/clips/<int:clip_id>/again")
def again(clip_id: int) -> ResponseReturnValue:
    """Prepare a clip once more whose first try failed or was cancelled."""
    connection = database()
    clip = clips.by_id(connection, clip_id)
    if clip.state == "failed" and (settings().data / clip.original_path).is_file():
        with transaction(connection):
            clips.set_waiting(connection, clip_id)
            job_id = jobs.add(connection, "prepare-clip", {"clip_id": clip_id}, clip_id)
        queue().put(job_id)
    return redirect(url_for("bench.show", clip_id=clip_id))


@blueprint.post("/clips/<int:clip_id>/delete")
def delete(clip_id: int) -> ResponseReturnValue:
    """Delete a clip with everything that hangs on it, files last."""
    connection = database()
    clip = clips.by_id(connection, clip_id)
    clips.delete(connection, clip_id)
    folder = settings().data
    for path in {clip.original_path, clip.review_path}:
        if path:
            (folder / path).unlink(missing_ok=True)
    for picture in settings().pictures.glob(f"*-{clip_id}.*"):
        picture.unlink(missing_ok=True)
    if request.headers.get("HX-Request"):
        return "", 204, {"HX-Redirect": url_for("today.show")}
    return redirect(url_for("today.show"))
