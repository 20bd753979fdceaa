"""What a clip's film told by itself: asked for, stopped, confirmed and answered."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.store import jobs, readings
from norvik.store.clips import Clip
from norvik.web.clip.bench import changed_parts
from norvik.web.clip.drawing_forms import points_of_form
from norvik.web.clip.reading_card import reading_card
from norvik.web.shared import asked
from norvik.web.shared.database import database, queue
from norvik.web.shared.language import times
from norvik.workflow import first_answer, read_measures
from norvik.workflow.clip_timing import time_clip
from norvik.workflow.reading import ask_to_read, cycle_at, job_of, proposed, take

blueprint = Blueprint("reading", __name__, url_prefix="/clips/<int:clip_id>/reading")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    """The card alone, while the film is being read."""
    return _card(asked.ready_clip(clip_id))


@blueprint.post("/")
def read(clip_id: int) -> ResponseReturnValue:
    """Read the film now; of the swimmer whose head and hips were clicked, where they were."""
    clip = asked.ready_clip(clip_id)
    points = points_of_form(clip) if "points" in request.form else []
    shown = [v for point in points for v in (point.x, point.y)]
    job_id = ask_to_read(database(), clip, request.form.get("frame", type=int), shown)
    if job_id is not None:
        queue().put(job_id)
    if request.form.get("from") == "points":
        # Asked for from another panel: the page shows how far it is.
        return redirect(url_for("bench.show", clip_id=clip_id))
    return _card(clip)


@blueprint.post("/stop")
def stop(clip_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    job = job_of(database(), clip.id)
    if job is not None:
        jobs.ask_cancel(database(), job.id)
    return _card(clip)


@blueprint.post("/take")
def confirm(clip_id: int) -> ResponseReturnValue:
    """Confirm what is proposed of the cycle that is seen, or of the whole clip."""
    clip = asked.ready_clip(clip_id)
    frame = request.form.get("frame", clip.first_frame, type=int)
    first, last, of = clip.first_frame, clip.last_frame, "clip"
    if request.form.get("what") == "cycle":
        timed = time_clip(database(), clip)
        first, last = cycle_at(timed, proposed(database(), timed).events, frame)
        of = "cycle"
    count = take(database(), current_user.id, clip, first, last)
    return changed_parts(clip, frame, f"{times(count, 'mark')} of this {of} confirmed")


@blueprint.post("/answer")
def answer(clip_id: int) -> ResponseReturnValue:
    """Yes, no or not sure to something to look at."""
    clip, form = asked.ready_clip(clip_id), request.form
    timed = time_clip(database(), clip)
    first_answer.answer(
        database(), current_user.id, timed, form.get("what", ""), form.get("side", ""),
        form.get("said", ""),
    )  # fmt: skip
    return _card(clip)


@blueprint.post("/measures/pass")
def pass_measure(clip_id: int) -> ResponseReturnValue:
    """Pass over one proposed measure, here and after the next reading too."""
    clip, form = asked.ready_clip(clip_id), request.form
    read_measures.pass_over(
        database(), time_clip(database(), clip), form.get("measure", ""), form.get("side", ""),
        form.get("frame", -1, type=int),
    )  # fmt: skip
    return "", 204


@blueprint.post("/measures/again")
def measures_again(clip_id: int) -> ResponseReturnValue:
    """Propose again what was passed over."""
    clip = asked.ready_clip(clip_id)
    readings.ask_again(database(), clip.id)
    return _card(clip)


def _card(clip: Clip) -> ResponseReturnValue:
    timed = time_clip(database(), clip)
    return render_template(
        "bench/_reading.html",
        clip=clip,
        reading=reading_card(timed),
        timed_marks=len(timed.marks),
    )
