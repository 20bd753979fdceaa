"""Remarks in the coach's own words: said on a frame, changed, worked on, doubts answered."""

from __future__ import annotations

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.store import remarks
from norvik.store.undo import Step
from norvik.web.review.judge import context
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.undo import with_toast
from norvik.workflow.remark import answer, change, say, work_on

blueprint = Blueprint("remarks", __name__, url_prefix="/clips/<int:clip_id>/remarks")


@blueprint.post("/")
def add(clip_id: int) -> ResponseReturnValue:
    """Keep what was typed; it begins with + for praise, ? for a doubt."""
    form, clip = request.form, asked.ready_clip(clip_id)
    step = say(
        database(), current_user.id, clip, form.get("text", ""), form.get("side", ""),
        form.get("frame", type=int), form.get("drawn") != "no", form.get("view", ""),
        form.get("kind", ""),
    )  # fmt: skip
    if form.get("on") == "bench":
        return jsonify(text=step.text, id=step.id)
    return _body(clip_id, step)


@blueprint.post("/<int:remark_id>")
def edit(clip_id: int, remark_id: int) -> ResponseReturnValue:
    """Other words or another side; without words the remark goes."""
    form, clip = request.form, asked.ready_clip(clip_id)
    step = change(
        database(), current_user.id, clip, remark_id, form.get("text", ""), form.get("side", "")
    )
    return _body(clip_id, step)


@blueprint.post("/<int:remark_id>/work")
def work(clip_id: int, remark_id: int) -> ResponseReturnValue:
    """Cue and drills of a point in own words."""
    form, here = request.form, asked.clip_in_review(clip_id)
    drills = tuple(dict.fromkeys(d for d in form.getlist("drill") if d))
    step = work_on(
        database(), current_user.id, here.clip, remark_id, form.get("cue", ""), drills,
        here.section.catalogue,
    )  # fmt: skip
    return _body(clip_id, step)


@blueprint.post("/<int:remark_id>/answer")
def answer_doubt(clip_id: int, remark_id: int) -> ResponseReturnValue:
    """What this clip shows of a doubt that was left on another one (`of`)."""
    clip = asked.ready_clip(clip_id)
    of = asked.clip(request.form.get("of", 0, type=int))
    doubt = remarks.by_id(database(), of.id, remark_id)
    step = answer(database(), current_user.id, doubt, clip, request.form.get("answer", ""))
    return _body(clip_id, step)


def _body(clip_id: int, step: Step) -> ResponseReturnValue:
    body = render_template("judge/_body.html", **context(asked.clip_in_review(clip_id)))
    return with_toast(body, step)
