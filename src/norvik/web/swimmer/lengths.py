"""Swims length by length: typed or from a table, worked out, charted."""

from __future__ import annotations

from datetime import date

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import LengthsError
from norvik.core.followup.length_log import (
    FAIR_HOLD,
    FAIR_HOLD_POOL_M,
    Length,
    LengthLog,
    length_log,
)
from norvik.core.strokes import STROKES
from norvik.formats.lengths_csv import read_lengths, write_lengths
from norvik.formats.tables import TableEncodingError, text_of
from norvik.store import swims
from norvik.store.connection import transaction
from norvik.store.swims import Swim
from norvik.store.undo import undoable
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.downloads import table_file
from norvik.web.shared.facts import number_of
from norvik.web.shared.undo import toast_on_next_page
from norvik.web.shared.uploads import sent_file
from norvik.web.swimmer.length_chart import chart_of
from norvik.workflow.clip_lengths import filmed_lengths, swim_from_clip
from norvik.workflow.clip_timing import time_clip

blueprint = Blueprint("lengths", __name__)

_MOST_BYTES = 1 << 20
_POOL_M = (10.0, 100.0)


@blueprint.route("/swimmers/<int:swimmer_id>/swims", methods=["GET", "POST"])
def of_swimmer(swimmer_id: int) -> ResponseReturnValue:
    """All swims of a swimmer, and the form for a new one; what was typed stays when it fails."""
    swimmer = asked.swimmer(swimmer_id)
    wrong = None
    if request.method == "POST":
        try:
            return redirect(url_for("lengths.show", swim_id=_take(swimmer_id)))
        except LengthsError as error:
            wrong = error.sentence
    films = filmed_lengths(database(), swimmer_id)
    found = [(swim, log_of(swim)) for swim in swims.of_swimmer(database(), swimmer_id)]
    page = render_template(
        "lengths/index.html", swimmer=swimmer, swims=found, wrong=wrong, form=request.form,
        strokes=tuple(STROKES), today=date.today().isoformat(), films=films,
    )  # fmt: skip
    return page, 422 if wrong else 200


@blueprint.get("/swimmers/<int:swimmer_id>/wall")
def wall(swimmer_id: int) -> ResponseReturnValue:
    """At the pool wall: count strokes and time lengths with two large buttons."""
    return render_template(
        "lengths/wall.html",
        swimmer=asked.swimmer(swimmer_id),
        strokes=tuple(STROKES),
        pool_m=request.args.get("pool", "25"),
    )


@blueprint.route("/swims/<int:swim_id>/edit", methods=["GET", "POST"])
def edit(swim_id: int) -> ResponseReturnValue:
    """Put a swim right; what was typed stays when it fails."""
    swim = asked.swim(swim_id)
    wrong = None
    if request.method == "POST":
        try:
            told = _told()
            with undoable(database(), current_user.id, swims.parts_of(swim_id)) as step:
                swims.update(database(), swim_id, *told)
                step.text = "Swim changed."
            toast_on_next_page(step)
            return redirect(url_for("lengths.show", swim_id=swim_id))
        except LengthsError as error:
            wrong = error.sentence
    form = request.form or {
        "swum_on": swim.swum_on, "pool_m": f"{swim.pool_m:g}", "stroke": swim.stroke,
        "total": "" if swim.total_s is None else f"{swim.total_s:g}", "note": swim.note,
        "lengths": write_lengths(swim.lengths),
    }  # fmt: skip
    page = render_template(
        "lengths/edit.html", swim=swim, swimmer=asked.swimmer(swim.swimmer_id),
        wrong=wrong, form=form, strokes=tuple(STROKES),
    )  # fmt: skip
    return page, 422 if wrong else 200


@blueprint.post("/clips/<int:clip_id>/lengths")
def from_film(clip_id: int) -> ResponseReturnValue:
    """The whole lengths on a clip become a swim of the length log."""
    clip = asked.ready_clip(clip_id)
    with transaction(database()):
        swim_id = swim_from_clip(database(), time_clip(database(), clip), current_user.id)
    return redirect(url_for("lengths.show", swim_id=swim_id))


@blueprint.get("/swims/<int:swim_id>")
def show(swim_id: int) -> ResponseReturnValue:
    swim = asked.swim(swim_id)
    log = log_of(swim)
    swimmer = asked.swimmer(swim.swimmer_id)
    counted = any(f.length.strokes is not None for f in log.lengths)
    usual = swim.stroke == "freestyle" and log.pool_m == FAIR_HOLD_POOL_M and not swimmer.minor
    return render_template(
        "lengths/show.html",
        fair_hold=FAIR_HOLD if counted and usual else None,
        by_film=any((x.kicks, x.breaths) != (None, None) for x in swim.lengths),
        swim=swim,
        log=log,
        chart=chart_of(log),
        swimmer=swimmer,
    )


@blueprint.get("/swims/<int:swim_id>/lengths.csv")
def table(swim_id: int) -> ResponseReturnValue:
    swim = asked.swim(swim_id)
    about = {
        "swum on": swim.swum_on, "stroke": swim.stroke, "pool": f"{swim.pool_m:g} m",
        "seconds": "of each length; under_water_s: of them under water",
    }  # fmt: skip
    name = f"lengths {swim.swum_on} {swim.id}.csv"
    return table_file(write_lengths(swim.lengths), name, about)


@blueprint.post("/swims/<int:swim_id>/delete")
def delete(swim_id: int) -> ResponseReturnValue:
    swim = asked.swim(swim_id)
    with undoable(database(), current_user.id, swims.parts_of(swim_id)) as step:
        swims.delete(database(), swim_id)
        step.text = "Swim deleted."
    toast_on_next_page(step)
    return redirect(url_for("lengths.of_swimmer", swimmer_id=swim.swimmer_id))


def log_of(swim: Swim) -> LengthLog:
    return length_log(swim.lengths, swim.pool_m, swim.total_s)


def _take(swimmer_id: int) -> int:
    """Store the swim in the form. Raises LengthsError with a sentence."""
    return swims.add(database(), swimmer_id, *_told(), current_user.id)


def _told() -> tuple[str, str, float, float | None, str, list[Length]]:
    """Day, stroke, pool, time of the watch, note and lengths in the form. Raises LengthsError."""
    form = request.form
    pool_m = number_of(form.get("pool_m", ""))
    if pool_m is None or not _POOL_M[0] <= pool_m <= _POOL_M[1]:
        raise LengthsError("The pool length must be a number of metres between 10 and 100.")
    if form.get("stroke") not in STROKES:
        raise LengthsError("This stroke is not known. Reload the page.")
    try:
        swum_on = date.fromisoformat(form.get("swum_on", ""))
    except ValueError as error:
        raise LengthsError("The day of the swim must look like 2027-03-14.") from error
    if swum_on > date.today() or swum_on.year < 1990:
        raise LengthsError(f"{swum_on.isoformat()} cannot be the day of a swim. Check it.")
    day = swum_on.isoformat()
    total = form.get("total", "").strip()
    total_s = read_lengths(total)[0].seconds if total else None
    lengths = read_lengths(_text())
    length_log(lengths, pool_m, total_s)  # refuses what cannot be
    return day, form["stroke"], pool_m, total_s, form.get("note", "").strip()[:200], lengths


def _text() -> str:
    data = sent_file("a table of lengths", _MOST_BYTES, LengthsError)
    try:
        return text_of(data, old_encoding=True) if data else request.form.get("lengths", "")
    except TableEncodingError as error:
        raise LengthsError(str(error)) from error
