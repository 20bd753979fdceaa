"""The dial of a clip, with another clip other clip it: before and after, or left in and out."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue

from norvik.core.time.dial import dial_of
from norvik.store import library
from norvik.store.clips import Clip
from norvik.store.library import ClipFilter
from norvik.web.clip.dial_drawing import draw
from norvik.web.clip.numbers import panel
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.workflow.clip_timing import time_clip

blueprint = Blueprint("dial", __name__, url_prefix="/clips/<int:clip_id>/dial")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    timed = time_clip(database(), clip)
    dial = dial_of(timed.timing.resolved)
    others = _others(clip)
    over = next((c for c in others if c.id == request.args.get("over", type=int)), None)
    over_timed = time_clip(database(), over) if over else None
    over_dial = dial_of(over_timed.timing.resolved) if over_timed else None
    return render_template(
        "dial/page.html",
        clip=clip,
        timed=timed,
        dial=dial,
        drawing=draw(dial, over_dial) if dial else None,
        panel=panel(timed),
        others=others,
        over=over,
        over_dial=over_dial,
        over_panel=panel(over_timed) if over_timed else None,
    )


def _others(clip: Clip) -> list[Clip]:
    """Marked clips of the same swimmer in the same stroke, newest first."""
    if clip.swimmer_id is None:
        return []
    wish = ClipFilter(swimmer_id=clip.swimmer_id, stroke=clip.stroke)
    found = library.find(database(), wish, within=asked.within()).clips
    return [c for c in found if c.id != clip.id and c.marks and c.watchable]
