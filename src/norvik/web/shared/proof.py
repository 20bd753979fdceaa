"""Fresh proof that it is the person: the password once more, before what cannot be undone."""

from __future__ import annotations

from flask import current_app, request
from flask_login import current_user

from norvik.store import users
from norvik.web.shared.database import database
from norvik.web.shared.login_attempts import MINUTES, LoginAttempts
from norvik.workflow.passwords import check_password


def wrong_password(typed: str) -> str:
    """Why a password does not prove that it is the person who is signed in; empty where it does.

    Wrong ones count as wrong tries at signing in do.
    """
    tries: LoginAttempts = current_app.config["NORVIK_LOGIN_ATTEMPTS"]
    user, address = users.by_id(database(), current_user.id), request.remote_addr or ""
    if tries.too_many(address, user.email):
        return f"Too many wrong passwords. Wait {MINUTES} minutes and try again."
    if not check_password(user, typed):
        tries.wrong(address, user.email)
        return "That is not your current password. Check it and try again."
    tries.right(address, user.email)
    return ""
