"""Today: what waits for the coach."""

from __future__ import annotations

from flask import Blueprint, render_template
from flask.typing import ResponseReturnValue

from norvik.store import clips, jobs, swimmers
from norvik.web.database import database

blueprint = Blueprint("today", __name__)


@blueprint.get("/")
def show() -> ResponseReturnValue:
    return render_template("today/page.html", **context())


@blueprint.get("/today/list")
def listing() -> ResponseReturnValue:
    """The list alone, asked for again while clips are being prepared."""
    return render_template("today/_list.html", **context())


def context() -> dict[str, object]:
    """What the page and its list show."""
    connection = database()
    every = clips.newest_first(connection)
    preparing = [c for c in every if c.state == "waiting"]
    return {
        "failed": [c for c in every if c.state == "failed"],
        "preparing": preparing,
        "jobs": {c.id: jobs.newest_of_clip(connection, c.id) for c in preparing},
        "waiting": [c for c in every if c.state == "ready" and not c.reviewed_at],
        "reviewed": [c for c in every if c.state == "ready" and c.reviewed_at],
        "has_swimmers": bool(swimmers.all_by_name(connection)),
    }
