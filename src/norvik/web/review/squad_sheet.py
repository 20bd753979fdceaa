"""The squad sheet: part after part plays, and what is seen of each swimmer is a key away."""

from __future__ import annotations

from datetime import date

from flask import Blueprint, flash, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import NotFoundError
from norvik.store import clips, observations, recordings, remarks
from norvik.store.clips import Clip
from norvik.web.footage.recordings import watchable
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.language import times
from norvik.workflow.own_catalogue import tables_of
from norvik.workflow.remark import say
from norvik.workflow.squad_sheet import (
    SheetItem,
    SquadPart,
    items_of,
    make_ready,
    parts_of,
    reviews_of,
)
from norvik.workflow.tick import tick_on

blueprint = Blueprint("squad_sheet", __name__, url_prefix="/recordings/<int:recording_id>/squad")


@blueprint.get("/")
def show(recording_id: int) -> ResponseReturnValue:
    recording = watchable(recording_id)
    parts = parts_of(database(), recording_id)
    # One sheet for each stroke and view: the parts of a squad share them.
    sheets: dict[str, dict[str, list[dict[str, object]]]] = {}
    for part in parts:
        stroke, view = part.clip.stroke, part.clip.view
        if f"{stroke} {view}" not in sheets:
            tables = tables_of(database(), stroke)
            sheets[f"{stroke} {view}"] = {
                "swim": [_item(i) for i in items_of(tables, view, walls=False)],
                "walls": [_item(i) for i in items_of(tables, view, walls=True)],
            }
    return render_template(
        "squad_sheet/page.html",
        recording=recording,
        clip=clips.of_recording(database(), recording_id, with_trash=True)[0],
        base=recordings.time_base(database(), recording),
        parts=[_part(p) for p in parts],
        sheets=sheets,
        unassigned=sum(p.clip.swimmer_id is None for p in parts),
    )


@blueprint.post("/tick")
def tick(recording_id: int) -> ResponseReturnValue:
    """Tick something of one part, change its degree, or take it away with an empty one."""
    form, clip = request.form, _clip(recording_id)
    step = tick_on(
        database(), current_user.id, clip, tables_of(database(), clip.stroke), form.get("what", ""),
        form.get("side", ""), form.get("degree", ""), form.get("frame", type=int),
    )  # fmt: skip
    return jsonify(text=step.text, **_said(clip))


@blueprint.post("/remark")
def remark(recording_id: int) -> ResponseReturnValue:
    """Own words on one part."""
    form, clip = request.form, _clip(recording_id)
    step = say(database(), current_user.id, clip, form.get("text", ""),
               frame=form.get("frame", type=int), kind=form.get("kind", ""))  # fmt: skip
    return jsonify(text=step.text, **_said(clip))


@blueprint.get("/reviews")
def all_reviews(recording_id: int) -> ResponseReturnValue:
    """All reviews of the recording, and what each still lacks."""
    recording = watchable(recording_id)
    return render_template(
        "squad_sheet/reviews.html",
        recording=recording,
        ready=reviews_of(database(), recording_id, date.today()),
        unassigned=[p.clip for p in parts_of(database(), recording_id) if not p.clip.swimmer_id],
    )


@blueprint.post("/reviews")
def finish(recording_id: int) -> ResponseReturnValue:
    """Make them all ready."""
    watchable(recording_id)
    done, left = make_ready(database(), current_user.id, recording_id, date.today())
    said = f"{times(done, 'review')} finished."
    if left:
        lacks = "review still lacks" if left == 1 else "reviews still lack"
        said += f" {left} {lacks} something: see below."
    flash(said, "message")
    return redirect(url_for("squad_sheet.all_reviews", recording_id=recording_id))


def _clip(recording_id: int) -> Clip:
    asked.recording(recording_id)
    clip = asked.clip(request.form.get("clip", 0, type=int))
    if clip.recording.id != recording_id:
        raise NotFoundError("This part has been deleted. Reload the page.")
    return clip


def _item(item: SheetItem) -> dict[str, object]:
    return {
        "id": item.id, "name": item.name, "praise": item.praise, "sided": item.sided,
        "letter": item.letter, "words": item.words,
    }  # fmt: skip


def _part(part: SquadPart) -> dict[str, object]:
    clip = part.clip
    return {
        "clip": clip.id, "name": clip.swimmer_name or "Unassigned", "stroke": clip.stroke,
        "view": clip.view, "first": clip.first_frame, "last": clip.last_frame,
        "assigned": clip.swimmer_id is not None,
        "ticks": [[t.what, t.side, t.degree] for t in part.ticks],
        "remarks": [[r.kind, r.text] for r in part.remarks],
    }  # fmt: skip


def _said(clip: Clip) -> dict[str, object]:
    """What is ticked and said of a part now."""
    return {
        "ticks": [[t.what, t.side, t.degree] for t in observations.of_clip(database(), clip.id)],
        "remarks": [[r.kind, r.text] for r in remarks.of_clip(database(), clip.id)],
    }
