"""People: who has an account, what they may do, and inviting, changing, removing them."""

from __future__ import annotations

import time

from flask import Blueprint, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import AccountError
from norvik.store import account_links, club, sessions, squads, swimmers, users
from norvik.store.connection import transaction
from norvik.store.users import ROLES, STAFF
from norvik.web.account.account_mail import invitation, send_or_show
from norvik.web.shared.database import database
from norvik.workflow import people, trail
from norvik.workflow.people import ROLE_WORDS, Invited

blueprint = Blueprint("people", __name__, url_prefix="/people")


@blueprint.get("/")
def index() -> ResponseReturnValue:
    every, now = users.every(database()), time.time()
    teams = squads.every(database())
    named = {s.id: s.name for s in swimmers.names(database())}
    return render_template(
        "people/index.html",
        people=[
            (u, [q for q in teams if u.id in q.staff],
             [named[n] for n in squads.own_swimmers(database(), u.id) if n in named],
             sessions.of_user(database(), u.id, now))
            for u in every
        ],
        words=ROLE_WORDS,
        squads=teams,
        factor=club.house(database(), "second-factor"),
    )  # fmt: skip


@blueprint.post("/second-factor")
def factor() -> ResponseReturnValue:
    """Of whom the club asks for a second factor."""
    asked = request.form.get("second-factor", -1, type=int)
    if asked not in (0, 1, 2):
        raise AccountError("Choose who needs a second factor.")
    with transaction(database()):
        club.set_house(database(), "second-factor", asked)
        trail.note(database(), current_user.id, "settings-changed", "rule",
                   words=f"second-factor: {asked}")  # fmt: skip
    flash("Saved.", "people")
    return redirect(url_for("people.index"))


@blueprint.route("/invite", methods=["GET", "POST"])
def invite() -> ResponseReturnValue:
    form = request.form
    if request.method == "POST":
        wish = Invited(
            form.get("email", ""), form.get("name", ""), form.get("role", ""),
            *_chosen(),
        )  # fmt: skip
        with transaction(database()):
            user_id, token = people.invite(database(), current_user.id, wish)
        return send_or_show(invitation(users.by_id(database(), user_id), token))
    return _form(None)


@blueprint.route("/<int:user_id>", methods=["GET", "POST"])
def change(user_id: int) -> ResponseReturnValue:
    user = users.by_id(database(), user_id)
    if request.method == "POST":
        with transaction(database()):
            people.change_role(
                database(), current_user.id, user, request.form.get("role", ""), *_chosen()
            )
        flash(f"{user.name}: saved.", "people")
        return redirect(url_for("people.index"))
    return _form(user)


def _chosen() -> tuple[tuple[int, ...], tuple[int, ...]]:
    """Squads and swimmers of the form that are there."""
    there = {q.id for q in squads.every(database())}
    known = {s.id for s in swimmers.names(database())}
    form = request.form
    return (
        tuple(n for n in form.getlist("squad", type=int) if n in there),
        tuple(n for n in form.getlist("swimmer", type=int) if n in known),
    )


def _form(user: users.User | None) -> ResponseReturnValue:
    teams = squads.every(database())
    return render_template(
        "people/person.html",
        user=user,
        roles=[(r, *ROLE_WORDS[r], r in STAFF) for r in ROLES],
        squads=teams,
        mine={q.id for q in teams if user and user.id in q.staff},
        swimmers=swimmers.names(database()),
        own=squads.own_swimmers(database(), user.id) if user else frozenset(),
        sessions=sessions.of_user(database(), user.id, time.time()) if user else [],
    )


@blueprint.post("/<int:user_id>/<any(disable,enable):what>")
def disable(user_id: int, what: str) -> ResponseReturnValue:
    with transaction(database()):
        user = users.by_id(database(), user_id)
        people.set_disabled(database(), current_user.id, user, what == "disable")
    return redirect(url_for("people.change", user_id=user_id))


@blueprint.post("/<int:user_id>/remove")
def remove(user_id: int) -> ResponseReturnValue:
    user = users.by_id(database(), user_id)
    with transaction(database()):
        people.remove(database(), current_user.id, user)
    flash(f"{user.name} has no account any more.", "people")
    return redirect(url_for("people.index"))


@blueprint.post("/<int:user_id>/sign-out")
def sign_out(user_id: int) -> ResponseReturnValue:
    """Sign somebody out everywhere."""
    user = users.by_id(database(), user_id)
    people.sign_out_everywhere(database(), current_user.id, user.id)
    flash(f"{user.name} is signed out everywhere.", "people")
    return redirect(url_for("people.index"))


@blueprint.post("/<int:user_id>/link")
def link(user_id: int) -> ResponseReturnValue:
    """A new link by which somebody chooses a password."""
    user = users.by_id(database(), user_id)
    token = account_links.make(
        database(), user.id, "invitation" if user.invited else "reset", time.time()
    )
    return send_or_show(invitation(user, token))


@blueprint.post("/<int:user_id>/second-factor")
def second_factor_off(user_id: int) -> ResponseReturnValue:
    """For somebody who has lost the phone that shows the codes."""
    user = users.by_id(database(), user_id)
    users.set_second_factor(database(), user.id, "")
    trail.note(database(), current_user.id, "second-factor-off", "account", user.id)
    return redirect(url_for("people.change", user_id=user_id))
