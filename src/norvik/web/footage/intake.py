"""Intake: bring clips in and edit details."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.store import clips, swimmers
from norvik.store.clips import Facts
from norvik.web.footage.uploads import BASE, CHUNK_BYTES
from norvik.web.shared import asked
from norvik.web.shared.choices import choices
from norvik.web.shared.database import database

blueprint = Blueprint("intake", __name__)


@blueprint.get("/clips/new")
def new() -> ResponseReturnValue:
    """Nothing of the last clip is carried over but the pool: who swims what is said anew."""
    connection = database()
    last = clips.last_facts(connection, current_user.id) or Facts()
    return render_template(
        "intake/page.html",
        before=Facts(pool_m=last.pool_m),
        chosen=request.args.get("swimmer", type=int),
        has_swimmers=swimmers.any_there(connection, asked.within()),
        uploads=BASE,
        chunk_bytes=CHUNK_BYTES,
        **choices(),
    )
