"""Where somebody is signed in, and ending it."""

from __future__ import annotations

import time

from flask import Blueprint, redirect, render_template, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.store import sessions
from norvik.web.shared.database import database
from norvik.workflow.passwords import needs_second_factor
from norvik.workflow.people import ROLE_WORDS, sign_out_everywhere

blueprint = Blueprint("where", __name__, url_prefix="/account")

#: What browsers call themselves, to what people call them.
_BROWSERS = (("Edg", "Edge"), ("Firefox", "Firefox"), ("Chrom", "Chrome or a relative of it"),
             ("Safari", "Safari"))  # fmt: skip
_MACHINES = (("iPhone", "phone"), ("iPad", "tablet"), ("Android", "phone or tablet"),
             ("Windows", "Windows"), ("Mac OS", "Mac"), ("Linux", "Linux"))  # fmt: skip


def device_words(device: str) -> str:
    """A browser's own name in few words."""
    browser = next((words for part, words in _BROWSERS if part in device), "another program")
    machine = next((words for part, words in _MACHINES if part in device), "")
    return f"{browser}, {machine}".rstrip(", ")


@blueprint.get("/")
def show() -> ResponseReturnValue:
    open_ones = sessions.of_user(database(), current_user.id, time.time())
    return render_template(
        "auth/account.html",
        sessions=[(s, device_words(s.device), s.id == current_user.session_id) for s in open_ones],
        role=ROLE_WORDS[current_user.role],
        now=time.time(),
        factor_asked=needs_second_factor(database(), current_user.role),
    )


@blueprint.post("/sessions/<int:session_id>/end")
def end(session_id: int) -> ResponseReturnValue:
    sessions.end(database(), current_user.id, session_id)
    return redirect(url_for("where.show"))


@blueprint.post("/sessions/end")
def end_all() -> ResponseReturnValue:
    """Everywhere but here."""
    sign_out_everywhere(database(), current_user.id, current_user.id, but=current_user.session_id)
    return redirect(url_for("where.show"))
