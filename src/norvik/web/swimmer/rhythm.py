"""The rhythm aid: a beep and a flash for each stroke, at the pool's edge."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from norvik.core.errors import MarkError
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import StrokeName, stroke_of
from norvik.store import best_rhythms, clips
from norvik.store.clips import Clip
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.workflow.clip_timing import time_clip

blueprint = Blueprint("rhythm", __name__)

#: Where the aid begins when nothing is known of the swimmer: a brisk long-distance rhythm of 57
#: strokes/min (common practice); butterfly and breaststroke somewhat above.
_USUAL_CPM = {"freestyle": 28.5, "backstroke": 28.5, "butterfly": 40.0, "breaststroke": 36.0}


@blueprint.get("/swimmers/<int:swimmer_id>/rhythm")
def show(swimmer_id: int) -> ResponseReturnValue:
    stroke = stroke_of(request.args.get("stroke", "")) or "freestyle"
    band = best_rhythms.band(database(), swimmer_id, stroke)
    newest = None if band else _newest_rate(swimmer_id, stroke)
    return render_template(
        "rhythm/page.html",
        swimmer=asked.swimmer(swimmer_id),
        stroke=stroke,
        strokes=tuple(STROKES),
        band=band,
        per_cycle=STROKES[stroke].strokes_per_cycle,
        newest=newest,
        begin=band.middle if band else newest[1] if newest else _USUAL_CPM[stroke],
    )


def _newest_rate(swimmer_id: int, stroke: StrokeName) -> tuple[Clip, float] | None:
    """The newest clip of the stroke that has a rate, and its cycles a minute."""
    for clip in clips.newest_first(database(), swimmer_id):
        if clip.stroke == stroke and clip.marks and clip.watchable and clip.role != "drill":
            rate = time_clip(database(), clip).timing.rate.cycles_per_min
            if rate is not None:
                return clip, rate
    return None


@blueprint.post("/clips/<int:clip_id>/best-rhythm")
def pick(clip_id: int) -> ResponseReturnValue:
    """Say that the swimmer looked and went best in this clip, or take that back."""
    clip = asked.ready_clip(clip_id)
    if request.form.get("not"):
        best_rhythms.forget(database(), clip_id)
    else:
        if clip.swimmer_id is None:
            raise MarkError("Assign a swimmer first: a best stroke rate belongs to one swimmer.")
        rate = time_clip(database(), clip).timing.rate.cycles_per_min
        if rate is None:
            raise MarkError("Mark at least one whole cycle first: without it there is no rate.")
        best_rhythms.keep(database(), clip_id, rate)
    return redirect(url_for("bench.show", clip_id=clip_id))
