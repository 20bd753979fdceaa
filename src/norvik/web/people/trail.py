"""The trail: who saw, sent, changed and erased what."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue

from norvik.formats.trail_csv import write_trail
from norvik.store import club, swimmers, trail, users
from norvik.web.shared.database import database
from norvik.web.shared.downloads import attachment
from norvik.workflow.trail import DEEDS, said

blueprint = Blueprint("trail", __name__, url_prefix="/trail")

_ROWS, _ALL = 100, 1_000_000


@blueprint.get("/")
def show() -> ResponseReturnValue:
    args = request.args
    deed = args.get("deed", "")
    found = trail.find(
        database(), user_id=args.get("person", type=int), swimmer_id=args.get("swimmer", type=int),
        deeds=[deed] if deed in DEEDS else [], before=args.get("before", type=int),
        limit=_ROWS + 1,
    )  # fmt: skip
    return render_template(
        "people/trail.html", steps=[(s, said(s)) for s in found[:_ROWS]],
        more=found[_ROWS - 1].id if len(found) > _ROWS else None,
        people=users.every(database()), swimmers=swimmers.names(database()), deeds=DEEDS,
        asked={k: v for k, v in args.items() if k != "before"}, days=club.trail_days(database()),
    )  # fmt: skip


@blueprint.get("/trail.csv")
def table() -> ResponseReturnValue:
    """All of it, the newest first."""
    rows = (
        (s.at, s.person, DEEDS.get(s.deed, s.deed), s.kind, str(s.thing_id or ""), s.swimmer,
         s.words, s.address)
        for s in trail.find(database(), limit=_ALL)
    )  # fmt: skip
    return attachment(write_trail(rows), "trail.csv", "text/csv")
