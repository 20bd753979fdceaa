"""Today: what waits for the coach."""

from __future__ import annotations

from datetime import date

from flask import Blueprint, render_template
from flask.typing import ResponseReturnValue

from norvik.store import jobs, library, swimmers
from norvik.store.library import ClipFilter
from norvik.web.shared.database import database
from norvik.workflow.due import due

blueprint = Blueprint("today", __name__)

#: More than these are looked for in the library.
_SHOWN = 30


@blueprint.get("/")
def show() -> ResponseReturnValue:
    today = date.today()
    return render_template("today/page.html", due=due(database(), today), today=today, **context())


@blueprint.get("/today/list")
def listing() -> ResponseReturnValue:
    """The list alone, asked for again while clips are being prepared."""
    return render_template("today/_list.html", **context())


def context() -> dict[str, object]:
    """What the page and its list show."""
    connection = database()
    found = {
        state: library.find(connection, ClipFilter(state=state))
        for state in ("failed", "preparing", "to-sort", "waiting", "reviewed")
    }
    unsorted = {c.id for c in found["to-sort"].clips}
    preparing = found["preparing"].clips[:_SHOWN]
    return {
        "failed": found["failed"].clips[:_SHOWN],
        "preparing": preparing,
        "jobs": {c.id: jobs.newest_of(connection, c.recording.id) for c in preparing},
        "to_sort": [c for c in found["to-sort"].clips if c.watchable][:_SHOWN],
        "waiting": [c for c in found["waiting"].clips if c.id not in unsorted][:_SHOWN],
        "reviewed": found["reviewed"].clips[:_SHOWN],
        "counts": {state: f.count for state, f in found.items()},
        "shown": _SHOWN,
        "has_swimmers": bool(swimmers.all_by_name(connection)),
    }
