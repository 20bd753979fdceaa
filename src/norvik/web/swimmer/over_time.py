"""One number of a swimmer over the months or over paces, with its pictures in a row."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue

from norvik.core.strokes.names import StrokeName, side_of, stroke_of
from norvik.store import clips
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.workflow.over_time import MONTHS, PACES, row_over

blueprint = Blueprint("over_time", __name__, url_prefix="/swimmers/<int:swimmer_id>/over")


@blueprint.get("/<any(months,paces):by>")
def show(swimmer_id: int, by: str) -> ResponseReturnValue:
    """Stroke and view are those of most marked clips where none is asked for."""
    swimmer = asked.swimmer(swimmer_id)
    args = request.args
    mine = [c for c in clips.newest_first(database(), swimmer_id) if c.watchable]
    kinds: dict[tuple[StrokeName, str], int] = {}
    for clip in mine:
        kinds[clip.stroke, clip.view] = kinds.get((clip.stroke, clip.view), 0) + bool(clip.marks)
    stroke = stroke_of(args.get("stroke", ""))
    fitting = {k: n for k, n in kinds.items() if not stroke or k[0] == stroke}
    best = max(fitting, key=lambda k: fitting[k], default=(stroke or "freestyle", "side-under"))
    kind = (best[0], args.get("view") or best[1])
    what, _, side = args.get("what", "").partition("/")
    event, _, arm = args.get("at", "").partition("/")
    row = row_over(database(), swimmer_id, *kind, by, what, side_of(side), event,
                   side_of(arm))  # fmt: skip
    return render_template(
        "over_time/page.html",
        swimmer=swimmer,
        row=row,
        by=by,
        ways=((MONTHS, "Over the months"), (PACES, "Over paces")),
        stroke=kind[0],
        view=kind[1],
        kinds=sorted(kinds),
    )
