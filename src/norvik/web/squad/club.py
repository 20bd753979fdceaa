"""The club: what holds for everybody unless a swimmer has something else."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from norvik.catalogue.loader import schools
from norvik.store import club
from norvik.web.shared.approach import approach_from_form
from norvik.web.shared.database import database

blueprint = Blueprint("club", __name__, url_prefix="/club")


@blueprint.route("/", methods=["GET", "POST"])
def show() -> ResponseReturnValue:
    """The coaching approach that new swimmers start from."""
    if request.method == "POST":
        club.set_approach(database(), approach_from_form())
        return redirect(url_for("swimmers.index"))
    chosen = club.approach(database())
    return render_template(
        "squad/club.html", questions=[(q, q.chosen(chosen).id) for q in schools()]
    )
