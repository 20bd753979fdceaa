"""Cutting a long recording into parts: in, out, next, each for a swimmer and a stroke."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.strokes import STROKES
from norvik.store import clips, cuts, recordings, swimmers
from norvik.web.footage.recordings import watchable
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.language import times
from norvik.workflow.cut import PartChange, PartChanged, change_part, cut_out
from norvik.workflow.reading import unclaimed_parts

blueprint = Blueprint("cut", __name__, url_prefix="/recordings/<int:recording_id>/cut")


@blueprint.get("/")
def show(recording_id: int) -> ResponseReturnValue:
    recording = watchable(recording_id)
    of_it = clips.of_recording(database(), recording_id, with_trash=True)
    return render_template(
        "cut/page.html",
        recording=recording,
        clip=of_it[0],
        base=recordings.time_base(database(), recording),
        strokes=tuple(STROKES),
        **_context(recording_id),
    )


@blueprint.post("/parts")
def add(recording_id: int) -> ResponseReturnValue:
    watchable(recording_id)
    clip_id = cut_out(
        database(),
        current_user.id,
        recording_id,
        request.form.get("first", -1, type=int),
        request.form.get("last", -1, type=int),
        _swimmer_id(),
        request.form.get("stroke", "freestyle"),
    )
    return _parts(recording_id, clip_id, "Part cut out")


@blueprint.post("/parts/<int:clip_id>")
def change(recording_id: int, clip_id: int) -> ResponseReturnValue:
    """Change edges, swimmer or stroke of a part."""
    form, swimmer = request.form, _swimmer_id()
    wanted = PartChange(
        # What is there and is no number is a frame that no recording has.
        first=form.get("first", -1, type=int) if "first" in form else None,
        last=form.get("last", -1, type=int) if "last" in form else None,
        swimmer_id=swimmer,
        nobody="swimmer_id" in form and swimmer is None,
        stroke=form.get("stroke"),
        gone=bool(form.get("gone")),
    )
    changed = change_part(database(), current_user.id, recording_id, asked.clip(clip_id), wanted)
    return _parts(recording_id, clip_id, _words(wanted, changed))


@blueprint.post("/undo")
def undo(recording_id: int) -> ResponseReturnValue:
    done = cuts.undo(database(), recording_id, current_user.id)
    return _parts(recording_id, None, "Undone" if done else "Nothing to undo")


@blueprint.post("/redo")
def redo(recording_id: int) -> ResponseReturnValue:
    done = cuts.redo(database(), recording_id, current_user.id)
    return _parts(recording_id, None, "Redone" if done else "Nothing to redo")


def _words(wanted: PartChange, changed: PartChanged) -> str:
    if wanted.gone:
        return "Part moved to the trash"
    if not changed.outside:
        return "Part changed"
    return f"Part changed; {times(changed.outside, 'mark is', 'marks are')} outside it now"


def _swimmer_id() -> int | None:
    chosen = request.form.get("swimmer_id", type=int)
    return asked.filmed_swimmer(chosen) if chosen else None


def _parts(recording_id: int, clip_id: int | None, told: str) -> ResponseReturnValue:
    recording = watchable(recording_id)
    return render_template(
        "cut/_parts.html",
        recording=recording,
        base=recordings.time_base(database(), recording),
        strokes=tuple(STROKES),
        told=told,
        touched=clip_id,
        **_context(recording_id),
    )


def _context(recording_id: int) -> dict[str, Any]:
    can_undo, can_redo = cuts.can_undo_redo(database(), recording_id, current_user.id)
    return {
        "parts": cuts.parts(database(), recording_id),
        "seen": unclaimed_parts(database(), recording_id),
        "swimmers": swimmers.names(database(), asked.within()),
        "can_undo": can_undo,
        "can_redo": can_redo,
    }
