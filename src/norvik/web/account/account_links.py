"""Choosing a password by a link: of an invitation, or after having forgotten it."""

from __future__ import annotations

import logging
import time

from flask import Blueprint, current_app, make_response, redirect, render_template, request
from flask import session as browser
from flask.typing import ResponseReturnValue
from flask_wtf import FlaskForm
from wtforms import EmailField, PasswordField
from wtforms.validators import EqualTo, InputRequired

from norvik.core.errors import AccountError, LinkError
from norvik.store import account_links, users
from norvik.store.connection import transaction
from norvik.web.account.account_mail import deliver, invitation, tell_of
from norvik.web.account.auth import begin
from norvik.web.shared.database import database
from norvik.web.shared.login_attempts import LoginAttempts
from norvik.workflow.passwords import LEAST_PASSWORD, strength
from norvik.workflow.people import choose_password

log = logging.getLogger(__name__)

blueprint = Blueprint("account_links", __name__)


class Choose(FlaskForm):
    new = PasswordField(
        f"Password, at least {LEAST_PASSWORD} characters",
        validators=[InputRequired("Type a password.")],
    )
    again = PasswordField(
        "Password again", validators=[EqualTo("new", "The two passwords differ.")]
    )


class Forgotten(FlaskForm):
    email = EmailField("E-mail", validators=[InputRequired("Type your e-mail address.")])


@blueprint.route("/account/<token>", methods=["GET", "POST"])
def choose(token: str) -> ResponseReturnValue:
    user_id = account_links.user_of(database(), token, time.time())
    if user_id is None:
        return _private(render_template("auth/link_closed.html"), 404)
    user, form = users.by_id(database(), user_id), Choose()
    if form.validate_on_submit():
        try:
            with transaction(database()):
                choose_password(database(), token, user, form.new.data or "")
        except AccountError as error:
            form.new.errors = [error.sentence]
        else:
            tell_of(user, "password")
            browser.clear()
            if not user.disabled_at and not user.second_factor:
                begin(user)
            return redirect("/")
    return _private(render_template("auth/choose.html", form=form, user=user, token=token),
                    422 if form.errors else 200)  # fmt: skip


@blueprint.post("/account/<token>/strength")
def choose_strength(token: str) -> ResponseReturnValue:
    """How hard the password that is being chosen is to guess; only for whoever has the link."""
    user_id = account_links.user_of(database(), token, time.time())
    if user_id is None:
        return _private("", 404)
    user, typed = users.by_id(database(), user_id), request.form.get("new", "")
    found = strength(typed, user.email, user.name)
    return _private(render_template("auth/_strength.html", found=found), 200)


@blueprint.route("/forgotten", methods=["GET", "POST"])
def forgotten() -> ResponseReturnValue:
    """Ask for a new password. What is answered does not say whether there is such an account."""
    form = Forgotten()
    if form.validate_on_submit():
        email, address = (form.email.data or "").strip(), request.remote_addr or ""
        tries: LoginAttempts = current_app.config["NORVIK_LOGIN_ATTEMPTS"]
        if not tries.too_many(address, f"forgotten {email}"):
            tries.wrong(address, f"forgotten {email}")
            _send_new(email)
        return render_template("auth/forgotten.html", form=None, email=email)
    return render_template("auth/forgotten.html", form=form), 422 if form.errors else 200


def _send_new(email: str) -> None:
    user = users.by_email(database(), email)
    if user is None or user.disabled_at:
        return
    kind: account_links.Kind = "invitation" if user.invited else "reset"
    mail = invitation(user, account_links.make(database(), user.id, kind, time.time()))
    try:
        if not deliver(mail):
            log.warning("no mail server is set: nobody was sent a link for a new password")
    except LinkError as error:
        log.warning("a link for a new password was not sent: %s", error.sentence)


def _private(page: str, code: int) -> ResponseReturnValue:
    answer = make_response(page, code)
    answer.headers["Referrer-Policy"] = "no-referrer"
    answer.headers["X-Robots-Tag"] = "noindex, nofollow"
    return answer
