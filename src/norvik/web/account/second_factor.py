"""Turning a second factor on and off: codes of an app on one's phone (RFC 6238)."""

from __future__ import annotations

import segno
from flask import Blueprint, redirect, render_template, session, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user
from flask_wtf import FlaskForm
from wtforms import PasswordField, StringField
from wtforms.validators import InputRequired

from norvik.core.errors import AccountError
from norvik.store import users
from norvik.web.account.account_mail import tell_of
from norvik.web.shared.database import database
from norvik.web.shared.proof import wrong_password
from norvik.workflow import trail
from norvik.workflow.passwords import app_address, check_code, needs_second_factor, new_secret

blueprint = Blueprint("second_factor", __name__, url_prefix="/account/second-factor")
#: The secret that is being set up, in the browser's signed cookie.
_NEW = "second-factor"


class Confirm(FlaskForm):
    password = PasswordField(
        "Current password", validators=[InputRequired("Type your current password.")]
    )
    code = StringField(
        "Code that the app shows", validators=[InputRequired("Type the six digits.")]
    )


class Off(FlaskForm):
    password = PasswordField(
        "Current password", validators=[InputRequired("Type your current password.")]
    )


@blueprint.route("/", methods=["GET", "POST"])
def on() -> ResponseReturnValue:
    user, form = users.by_id(database(), current_user.id), Confirm()
    if user.second_factor:
        return redirect(url_for("where.show"))
    secret = session.get(_NEW) or new_secret()
    session[_NEW] = secret
    if form.validate_on_submit():
        if wrong := wrong_password(form.password.data or ""):
            form.password.errors = [wrong]
        elif check_code(database(), user, secret, form.code.data or "") != "right":
            form.code.errors = [
                "That code is wrong. Check the phone's clock and type the next one."
            ]
        else:
            users.set_second_factor(database(), user.id, secret)
            session.pop(_NEW)
            trail.note(database(), user.id, "second-factor-on", "account", user.id)
            tell_of(user, "on")
            return redirect(url_for("where.show"))
    picture = segno.make(app_address(user, secret), error="m").svg_inline(
        scale=4, border=2, dark="#062a31", light="#ffffff"
    )
    page = render_template(
        "auth/second_factor.html", form=form, picture=picture, secret=secret,
        asked=needs_second_factor(database(), user.role),
    )  # fmt: skip
    return page, 422 if form.errors else 200


@blueprint.route("/off", methods=["GET", "POST"])
def off() -> ResponseReturnValue:
    user, form = users.by_id(database(), current_user.id), Off()
    if form.validate_on_submit():
        if needs_second_factor(database(), user.role):
            raise AccountError("Your club asks for a second factor. It stays on.")
        if wrong := wrong_password(form.password.data or ""):
            form.password.errors = [wrong]
        else:
            users.set_second_factor(database(), user.id, "")
            trail.note(database(), user.id, "second-factor-off", "account", user.id)
            tell_of(user, "off")
            return redirect(url_for("where.show"))
    page = render_template("auth/second_factor.html", form=form, picture=None)
    return page, 422 if form.errors else 200
