"""Squads and their seasons."""

from __future__ import annotations

from datetime import date

from flask import Blueprint, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.store import squads, swimmers, users
from norvik.store.connection import transaction
from norvik.store.squads import Squad
from norvik.store.users import STAFF
from norvik.web.shared.database import database
from norvik.web.shared.language import times
from norvik.workflow import people, trail

blueprint = Blueprint("squads", __name__, url_prefix="/squads")


@blueprint.get("/")
def index() -> ResponseReturnValue:
    known = {s.id: s.name for s in swimmers.names(database())}
    every = squads.every(database())
    staff = {u.id: u.name for u in users.every(database())}
    in_one = {n for q in every for n in q.swimmers}
    return render_template(
        "people/squads.html", today=date.today().isoformat(),
        squads=[(q, _names(known, q.swimmers), _names(staff, q.staff)) for q in every],
        without=[name for n, name in known.items() if n not in in_one],
    )  # fmt: skip


def _names(known: dict[int, str], ids: frozenset[int]) -> list[str]:
    """Names of those who are there, in order."""
    return sorted(known[n] for n in ids if n in known)


@blueprint.route("/new", methods=["GET", "POST"])
def new() -> ResponseReturnValue:
    return _edit(None)


@blueprint.route("/<int:squad_id>", methods=["GET", "POST"])
def edit(squad_id: int) -> ResponseReturnValue:
    return _edit(squads.by_id(database(), squad_id))


def _edit(before: Squad | None) -> ResponseReturnValue:
    everybody = swimmers.names(database())
    staff = [u for u in users.every(database()) if u.role in STAFF and u.role != "head-coach"]
    if request.method == "POST":
        form = request.form
        chosen = set(form.getlist("swimmer", type=int)) & {s.id for s in everybody}
        working = set(form.getlist("staff", type=int)) & {u.id for u in staff}
        with transaction(database()):
            people.put_squad(database(), current_user.id, Squad(
                form.get("name", ""), form.get("season", ""), form.get("starts_on", ""),
                form.get("ends_on", ""), frozenset(chosen), frozenset(working),
                before.id if before else 0,
            ))  # fmt: skip
        return redirect(url_for("squads.index"))
    return render_template("people/squad.html", squad=before, swimmers=everybody, staff=staff)


@blueprint.post("/<int:squad_id>/delete")
def delete(squad_id: int) -> ResponseReturnValue:
    with transaction(database()):
        squads.delete(database(), squads.by_id(database(), squad_id).id)
        trail.note(database(), current_user.id, "squad-changed", "squad", squad_id, words="deleted")
    return redirect(url_for("squads.index"))


@blueprint.post("/season")
def season() -> ResponseReturnValue:
    """Make the running squads anew for another season."""
    form = request.form
    with transaction(database()):
        made = people.next_season(
            database(), current_user.id, form.get("season", ""), form.get("starts_on", ""),
            form.get("ends_on", ""),
        )  # fmt: skip
    flash(f"{times(made, 'squad')} made for {form.get('season', '')}.", "people")
    return redirect(url_for("squads.index"))
