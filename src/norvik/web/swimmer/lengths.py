"""Swims length by length: typed or from a table, worked out, charted."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.followup.length_log import (
    FAIR_HOLD,
    FAIR_HOLD_POOL_M,
    LengthLog,
    length_log,
)
from norvik.core.strokes import STROKES
from norvik.formats.lengths_csv import write_lengths
from norvik.store import swims
from norvik.store.connection import transaction
from norvik.store.swims import Swim
from norvik.store.undo import undoable
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.downloads import table_file
from norvik.web.shared.undo import toast_on_next_page
from norvik.web.swimmer.length_chart import chart_of
from norvik.web.swimmer.swim_form import SwimForm
from norvik.workflow.clip_lengths import filmed_lengths, swim_from_clip
from norvik.workflow.clip_timing import time_clip

blueprint = Blueprint("lengths", __name__)


@blueprint.route("/swimmers/<int:swimmer_id>/swims", methods=["GET", "POST"])
def of_swimmer(swimmer_id: int) -> ResponseReturnValue:
    """All swims of a swimmer, and the form for a new one; what was typed stays when it fails."""
    swimmer = asked.swimmer(swimmer_id)
    form = SwimForm()
    if form.validate_on_submit():
        made = swims.add(database(), swimmer_id, *form.said(), current_user.id)
        return redirect(url_for("lengths.show", swim_id=made))
    films = filmed_lengths(database(), swimmer_id)
    found = [(swim, log_of(swim)) for swim in swims.of_swimmer(database(), swimmer_id)]
    page = render_template(
        "lengths/index.html", swimmer=swimmer, swims=found, form=form, strokes=tuple(STROKES),
        films=films,
    )  # fmt: skip
    return page, 422 if form.errors else 200


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
    form = SwimForm(data={
        "swum_on": swim.swum_on, "pool_m": f"{swim.pool_m:g}", "stroke": swim.stroke,
        "total": "" if swim.total_s is None else f"{swim.total_s:g}", "note": swim.note,
        "lengths": write_lengths(swim.lengths),
    })  # fmt: skip
    if form.validate_on_submit():
        with undoable(database(), current_user.id, swims.parts_of(swim_id)) as step:
            swims.update(database(), swim_id, *form.said())
            step.text = "Swim changed."
        toast_on_next_page(step)
        return redirect(url_for("lengths.show", swim_id=swim_id))
    page = render_template(
        "lengths/edit.html", swim=swim, swimmer=asked.swimmer(swim.swimmer_id), form=form,
        strokes=tuple(STROKES),
    )  # fmt: skip
    return page, 422 if form.errors else 200


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
