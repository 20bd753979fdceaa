"""Keeping films: for how long, what is past it, and other rules of the house."""

from __future__ import annotations

from datetime import date

from flask import Blueprint, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import AccountError
from norvik.store import club, jobs
from norvik.store.connection import transaction
from norvik.web.shared.database import database, queue
from norvik.workflow import keeping, trail

blueprint = Blueprint("keeping", __name__, url_prefix="/keeping")

#: Rule: the least and the most that can be set.
_RULES = {
    "originals-months": (0, 240), "clips-months": (0, 240), "trail-days": (90, 3650),
    "backup-hours": (1, 8760), "consent-from-everybody": (0, 1), "consent-outlives": (0, 1),
}  # fmt: skip
_SHOWN = 100


@blueprint.get("/")
def show() -> ResponseReturnValue:
    found = keeping.proposed(database(), date.today())
    return render_template(
        "people/keeping.html", proposed=found, shown=_SHOWN,
        rules={name: club.house(database(), name) for name in _RULES},
        job=jobs.newest_of_kind(database(), keeping.RELEASE),
    )  # fmt: skip


@blueprint.post("/rules")
def rules() -> ResponseReturnValue:
    wanted = {}
    for name, (least, most) in _RULES.items():
        value = request.form.get(name, 0 if most == 1 else -1, type=int)
        if not least <= value <= most:
            raise AccountError(f"Each number lies between {least} and {most}. Check them.")
        wanted[name] = value
    with transaction(database()):
        for name, value in wanted.items():
            if value != club.house(database(), name):
                club.set_house(database(), name, value)
                trail.note(database(), current_user.id, "settings-changed", "rule",
                           words=f"{name}: {value}")  # fmt: skip
    flash("Saved.", "people")
    return redirect(url_for("keeping.show"))


@blueprint.post("/release")
def release() -> ResponseReturnValue:
    """Release what was chosen, by a job."""
    form = request.form
    chosen = form.getlist("recording", type=int), form.getlist("clip", type=int)
    if not any(chosen):
        raise AccountError("Nothing is chosen.")
    queue().put(keeping.release(database(), *chosen, current_user.id, date.today()))
    flash("Films are being released. The trail lists each one.", "people")
    return redirect(url_for("keeping.show"))
