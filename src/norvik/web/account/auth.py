"""Signing in and out. Everything but this page and the static files needs an account."""

from __future__ import annotations

import logging
from urllib.parse import urljoin, urlsplit

from flask import (
    Blueprint,
    Flask,
    current_app,
    jsonify,
    redirect,
    render_template,
    request,
    url_for,
)
from flask.typing import ResponseReturnValue
from flask_login import LoginManager, UserMixin, current_user, login_user, logout_user
from flask_wtf import FlaskForm
from flask_wtf.csrf import generate_csrf
from wtforms import BooleanField, EmailField, PasswordField
from wtforms.validators import EqualTo, InputRequired, Length

from norvik.core.errors import NotFoundError
from norvik.store import users
from norvik.web.account.login_attempts import MINUTES, LoginAttempts
from norvik.web.shared.database import database
from norvik.workflow.passwords import LEAST_PASSWORD, check_password, hash_password

log = logging.getLogger(__name__)

blueprint = Blueprint("auth", __name__)
_OPEN = {"auth.sign_in", "static"}


class Account(UserMixin):
    """The signed-in person, as Flask-Login wants it."""

    def __init__(self, user: users.User) -> None:
        self.id = user.id
        self.name = user.name
        self.role = user.role


class SignIn(FlaskForm):
    email = EmailField("E-mail", validators=[InputRequired("Type your e-mail address.")])
    password = PasswordField("Password", validators=[InputRequired("Type your password.")])
    remember = BooleanField("Stay signed in on this computer")


def init_app(app: Flask) -> None:
    manager = LoginManager(app)
    manager.login_view = "auth.sign_in"

    @manager.user_loader
    def load(user_id: str) -> Account | None:
        try:
            return Account(users.by_id(database(), int(user_id)))
        except (NotFoundError, ValueError):
            return None

    @app.before_request
    def ask_to_sign_in() -> ResponseReturnValue | None:
        # What a link opens is asked for there, by its token and by nothing else.
        if request.endpoint in _OPEN or request.blueprint == "link":
            return None
        if current_user.is_authenticated:
            return None
        return manager.unauthorized()


@blueprint.route("/sign-in", methods=["GET", "POST"])
def sign_in() -> ResponseReturnValue:
    form = SignIn()
    wrong = None
    if form.validate_on_submit():
        tries: LoginAttempts = current_app.config["NORVIK_LOGIN_ATTEMPTS"]
        email, address = (form.email.data or "").strip(), request.remote_addr or ""
        if tries.too_many(address, email):
            wrong = f"Too many wrong passwords. Wait {MINUTES} minutes and try again."
            return _page(form, wrong, 429)
        user = users.by_email(database(), email)
        if check_password(user, form.password.data or "") and user is not None:
            tries.right(address, email)
            login_user(Account(user), remember=form.remember.data)
            return redirect(_next_page())
        tries.wrong(address, email)
        log.warning("wrong sign-in for %r from %s", email[:80], address)
        wrong = "Wrong e-mail or password. Check both and try again."
    return _page(form, wrong, 422 if wrong or form.errors else 200)


def _page(form: SignIn, wrong: str | None, code: int) -> ResponseReturnValue:
    demo = current_app.config["NORVIK_DEMO_SIGN_IN"]
    if demo and request.method == "GET":
        form.email.data = demo[0]
    return render_template("auth/sign_in.html", form=form, wrong=wrong, demo=demo), code


class NewPassword(FlaskForm):
    now = PasswordField(
        "Current password", validators=[InputRequired("Type your current password.")]
    )
    new = PasswordField(
        f"New password, at least {LEAST_PASSWORD} characters",
        validators=[
            InputRequired("Type a new password."),
            Length(
                min=LEAST_PASSWORD,
                max=200,
                message=f"A password has {LEAST_PASSWORD} to 200 characters.",
            ),
        ],
    )
    again = PasswordField(
        "New password again", validators=[EqualTo("new", "The two new passwords differ.")]
    )


@blueprint.route("/password", methods=["GET", "POST"])
def password() -> ResponseReturnValue:
    """Change one's own password."""
    form = NewPassword()
    if form.validate_on_submit():
        tries: LoginAttempts = current_app.config["NORVIK_LOGIN_ATTEMPTS"]
        user = users.by_id(database(), current_user.id)
        address = request.remote_addr or ""
        if tries.too_many(address, user.email):
            form.now.errors = [f"Too many wrong passwords. Wait {MINUTES} minutes and try again."]
        elif not check_password(user, form.now.data or ""):
            tries.wrong(address, user.email)
            form.now.errors = ["That is not your current password. Check it and try again."]
        else:
            tries.right(address, user.email)
            users.set_password(database(), user.id, hash_password(form.new.data or ""))
            return render_template("auth/password.html", form=None)
    return render_template("auth/password.html", form=form), 422 if form.errors else 200


@blueprint.post("/sign-out")
def sign_out() -> ResponseReturnValue:
    logout_user()
    return redirect(url_for("auth.sign_in"))


def _next_page() -> str:
    """Where the person wanted to go, if that is a page of ours."""
    wanted = request.args.get("next", "")
    # Browsers drop tabs and line ends and read a backslash as a slash.
    odd = any(ord(c) < 33 or c in "\\\x7f" for c in wanted)
    here = urlsplit(request.host_url)
    there = urlsplit(urljoin(request.host_url, wanted))
    if wanted.startswith("/") and not odd and (there.scheme, there.netloc) == here[:2]:
        return wanted
    return url_for("today.show")


@blueprint.get("/token")
def token() -> ResponseReturnValue:
    """A fresh token for a page whose own has grown old, so that what it still holds can be sent."""
    answer = jsonify(token=generate_csrf())
    answer.headers["Cache-Control"] = "no-store"
    return answer
