"""Signing in and out. Everything that route_deeds.OPEN does not name needs an account.

The browser's cookie holds a random token; the session it belongs to lies in the database, so that
it can be ended from anywhere.
"""

from __future__ import annotations

import logging
import time
from urllib.parse import urljoin, urlsplit

from flask import (
    Blueprint,
    Flask,
    current_app,
    g,
    jsonify,
    redirect,
    render_template,
    request,
    session,
    url_for,
)
from flask.typing import ResponseReturnValue
from flask_login import LoginManager, UserMixin, current_user, login_user, logout_user
from flask_wtf import FlaskForm
from flask_wtf.csrf import generate_csrf
from werkzeug.exceptions import SecurityError
from wtforms import BooleanField, EmailField, PasswordField, StringField
from wtforms.validators import EqualTo, InputRequired, Length

from norvik.core.errors import AccountError, ForbiddenError, NotFoundError
from norvik.store import sessions, users
from norvik.web.account.account_mail import tell_of
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.login_attempts import MINUTES, LoginAttempts
from norvik.web.shared.proof import wrong_password
from norvik.web.shared.route_deeds import deed_of, is_open
from norvik.workflow import access, trail
from norvik.workflow.passwords import (
    LEAST_PASSWORD,
    MOST_PASSWORD,
    check_code,
    check_password,
    hash_password,
    needs_second_factor,
    require_good,
    strength,
)

log = logging.getLogger(__name__)

blueprint = Blueprint("auth", __name__)
#: Seconds that may pass between the password and the code.
_CODE_WITHIN_S = 300
#: Where somebody who has given the password and not yet the code is remembered.
_HALF_IN = "half-in"


#: What one may do while the club still waits for one's second factor.
_BEFORE_FACTOR = ("second_factor.on", "auth.sign_out")


def _without_factor(endpoint: str | None) -> bool:
    """True where the club asks this person for a second factor first."""
    return endpoint not in _BEFORE_FACTOR and needs_second_factor(database(), current_user.role)


class Account(UserMixin):
    """The signed-in person, as Flask-Login wants it. token: of the session in this browser."""

    def __init__(self, user: users.User, token: str, session_id: int = 0) -> None:
        self.id = user.id
        self.name = user.name
        self.email = user.email
        self.role = user.role
        self.second_factor = bool(user.second_factor)
        self.token = token
        self.session_id = session_id

    def get_id(self) -> str:
        return self.token


class SignIn(FlaskForm):
    email = EmailField("E-mail", validators=[InputRequired("Type your e-mail address.")])
    password = PasswordField("Password", validators=[InputRequired("Type your password.")])
    remember = BooleanField("Stay signed in on this computer")


class Code(FlaskForm):
    code = StringField("Code from your app", validators=[InputRequired("Type the six digits.")])


def init_app(app: Flask) -> None:
    manager = LoginManager(app)
    manager.login_view = "auth.sign_in"

    @manager.user_loader
    def load(token: str) -> Account | None:
        found = sessions.of_token(database(), token, time.time())
        if found is None:
            return None
        try:
            user = users.by_id(database(), found.user_id)
        except NotFoundError:
            return None
        return None if user.disabled_at else Account(user, token, found.id)

    @app.before_request
    def ask_who_and_whether() -> ResponseReturnValue | None:
        # What a link opens is asked for there, by its token and by nothing else.
        if is_open(request.endpoint, request.blueprint):
            return None
        if isinstance(request.routing_exception, SecurityError):
            return None  # a name that is not ours: there is no page to lead to
        if not current_user.is_authenticated:
            return manager.unauthorized()
        if not current_user.second_factor and _without_factor(request.endpoint):
            if request.method != "GET" or request.headers.get("HX-Request"):
                raise ForbiddenError(
                    "Your club asks for a second factor. Turn it on under Account to continue."
                )
            return redirect(url_for("second_factor.on"))
        if request.endpoint == "today.show" and not asked.may("see"):
            return redirect(url_for("mine.index"))
        if request.endpoint is not None:
            access.require(asked.person(), deed_of(request.endpoint, request.method))
        return None

    app.jinja_env.globals["may"] = asked.may


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
            if user.second_factor:
                session[_HALF_IN] = [user.id, time.time(), bool(form.remember.data), _next_page()]
                return redirect(url_for("auth.second"))
            return _let_in(user, bool(form.remember.data), _next_page())
        tries.wrong(address, email)
        log.warning("wrong sign-in for %r from %s", email[:80], address)
        trail.note(database(), None, "sign-in-refused", "account", user.id if user else None,
                   address=address)  # fmt: skip
        wrong = "Wrong e-mail or password. Check both and try again."
    return _page(form, wrong, 422 if wrong or form.errors else 200)


@blueprint.route("/sign-in/code", methods=["GET", "POST"])
def second() -> ResponseReturnValue:
    """The code from the app, after the right password."""
    user_id, since, stays, then = session.get(_HALF_IN, (0, 0.0, False, ""))
    if not user_id or time.time() - since > _CODE_WITHIN_S:
        session.pop(_HALF_IN, None)
        return redirect(url_for("auth.sign_in"))
    form, user = Code(), users.by_id(database(), user_id)
    if form.validate_on_submit():
        tries: LoginAttempts = current_app.config["NORVIK_LOGIN_ATTEMPTS"]
        address = request.remote_addr or ""
        if tries.too_many(address, user.email):
            form.code.errors = [f"Too many wrong codes. Wait {MINUTES} minutes and try again."]
        elif (
            found := check_code(database(), user, user.second_factor, form.code.data or "")
        ) == "right":
            tries.right(address, user.email)
            return _let_in(user, stays, then)
        else:
            tries.wrong(address, user.email)
            if found == "used":
                # Whoever has it has the password, too: its owner hears of it.
                tell_of(user, "used")
            trail.note(database(), None, "sign-in-refused", "account", user.id, address=address)
            form.code.errors = ["That code is wrong or was used. Wait for the next one."]
    return render_template("auth/code.html", form=form), 422 if form.errors else 200


def _let_in(user: users.User, stays: bool, then: str) -> ResponseReturnValue:
    """Begin a session. Nothing of what the browser held before goes on."""
    session.clear()
    begin(user, stays)
    trail.note(database(), user.id, "signed-in", address=request.remote_addr or "")
    return redirect(then)


def begin(user: users.User, stays: bool = False) -> None:
    """Sign a person in, in this browser."""
    token = sessions.begin(
        database(), user.id, time.time(), device=request.user_agent.string,
        address=request.remote_addr or "", stays=stays,
    )  # fmt: skip
    session.permanent = stays
    login_user(Account(user, token))
    g.pop("person", None)


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
                max=MOST_PASSWORD,
                message=f"A password has {LEAST_PASSWORD} to {MOST_PASSWORD} characters.",
            ),
        ],
    )
    again = PasswordField(
        "New password again", validators=[EqualTo("new", "The two new passwords differ.")]
    )


@blueprint.route("/password", methods=["GET", "POST"])
def password() -> ResponseReturnValue:
    """Change one's own password; every other browser is signed out."""
    form = NewPassword()
    if form.validate_on_submit():
        user = users.by_id(database(), current_user.id)
        address = request.remote_addr or ""
        if wrong := wrong_password(form.now.data or ""):
            form.now.errors = [wrong]
        else:
            try:
                require_good(form.new.data or "", user.email, user.name)
            except AccountError as error:
                form.new.errors = [error.sentence]
            else:
                users.set_password(database(), user.id, hash_password(form.new.data or ""))
                ended = sessions.end_all(database(), user.id, but=current_user.session_id)
                trail.note(database(), user.id, "password-changed", address=address)
                tell_of(user, "password")
                return render_template("auth/password.html", form=None, ended=ended)
    return render_template("auth/password.html", form=form), 422 if form.errors else 200


@blueprint.post("/password/strength")
def password_strength() -> ResponseReturnValue:
    """How hard the password that is being typed is to guess."""
    typed = request.form.get("new", "")
    return render_template(
        "auth/_strength.html", found=strength(typed, current_user.email, current_user.name)
    )


@blueprint.post("/sign-out")
def sign_out() -> ResponseReturnValue:
    sessions.end_token(database(), current_user.token)
    logout_user()
    session.clear()
    answer = redirect(url_for("auth.sign_in"))
    # Films and pictures of people do not stay in the cache of a club's computer.
    answer.headers["Clear-Site-Data"] = '"cache"'
    return answer


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
