"""Marking and ticking a clip again, blind, and how well the two looks agree."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.strokes.definitions import definitions
from norvik.formats.agreement_csv import kappa_row, limits_row, write_agreement
from norvik.store import marked_again
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.downloads import table_file
from norvik.workflow import again
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.own_catalogue import tables_of

blueprint = Blueprint("again", __name__, url_prefix="/clips/<int:clip_id>/again")


def _person() -> str:
    """Who looks again: a guest at the keyboard says a name, else who is signed in."""
    return (request.values.get("person", "").strip() or current_user.name)[:60]


def _own() -> bool:
    """Did the same person place the first marks?"""
    return request.values.get("first", "me") == "me"


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    """Says what it is for, or asks for the first mark."""
    timed = time_clip(database(), asked.ready_clip(clip_id))
    if "first" not in request.args:
        return render_template("again/begin.html", clip=timed.clip, timed=timed, person=_person())
    return render_template("again/page.html", person=_person(), own=_own(), **_ask(timed))


def _ask(timed: ClipTiming) -> dict[str, object]:
    ask, of = again.asks(database(), timed, _person())
    return {
        "clip": timed.clip, "timed": timed, "ask": ask, "asked_in_all": of,
        "definitions": definitions(timed.clip.stroke),
    }  # fmt: skip


@blueprint.post("/mark")
def mark(clip_id: int) -> ResponseReturnValue:
    timed = time_clip(database(), asked.ready_clip(clip_id))
    form = request.form
    again.mark_again(
        database(), timed, _person(), _own(), form.get("mark", 0, type=int),
        form.get("frame", -1, type=int),
    )  # fmt: skip
    return render_template("again/_ask.html", person=_person(), own=_own(), **_ask(timed))


@blueprint.post("/forget")
def forget(clip_id: int) -> ResponseReturnValue:
    """What one person marked again in this clip counts for nothing any more."""
    clip = asked.ready_clip(clip_id)
    marked_again.remove(database(), clip.id, _person())
    return redirect(url_for("again.agreement", clip_id=clip_id))


@blueprint.route("/ticks", methods=["GET", "POST"])
def ticks(clip_id: int) -> ResponseReturnValue:
    timed = time_clip(database(), asked.ready_clip(clip_id))
    if request.method == "POST":
        chosen = [(what, side) for value in request.form.getlist("tick")
                  for what, _, side in [value.partition("|")]]  # fmt: skip
        again.tick_again(database(), timed, _person(), _own(), chosen)
        return redirect(url_for("again.agreement", clip_id=clip_id))
    catalogue = tables_of(database(), timed.clip.stroke)
    return render_template(
        "again/ticks.html", clip=timed.clip, timed=timed, person=_person(), own=_own(),
        points=again.to_tick(timed, catalogue),
    )  # fmt: skip


@blueprint.get("/agreement")
def agreement(clip_id: int) -> ResponseReturnValue:
    timed = time_clip(database(), asked.ready_clip(clip_id))
    return render_template(
        "again/agreement.html", clip=timed.clip, timed=timed,
        found=again.agreements(database(), timed), takings=again.takings_again(database(), timed),
    )  # fmt: skip


@blueprint.get("/agreement.csv")
def agreement_file(clip_id: int) -> ResponseReturnValue:
    timed = time_clip(database(), asked.ready_clip(clip_id))
    rows = []
    for a in again.agreements(database(), timed):
        for m in a.marks:
            rows.append(limits_row(a.person, "marks", m.name, "ms", m.ms))
            rows.append(limits_row(a.person, "marks", m.name, "frames", m.frames))
        if a.ticks is not None:
            rows.append(kappa_row(a.person, a.ticks))
    rows += [limits_row("", "measure", t.name, t.unit, t.limits, t.icc)
             for t in again.takings_again(database(), timed)]  # fmt: skip
    name = f"{timed.clip.swimmer_name or 'clip'}-{timed.clip.filmed_on}-{timed.clip.id}"
    return table_file(write_agreement(rows), f"{name}.agreement.csv")
