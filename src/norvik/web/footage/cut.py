"""Cutting a long recording into parts: in, out, next, each for a swimmer and a stroke."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MarkError, NotFoundError
from norvik.core.strokes import STROKES
from norvik.store import clips, cuts, marks, recordings, swimmers
from norvik.store.clips import Clip
from norvik.web.footage.recordings import watchable
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.language import times

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
    stroke = request.form.get("stroke", "freestyle")
    if stroke not in STROKES:
        raise MarkError("This stroke is not known. Reload the page.")
    clip_id = cuts.add(
        database(),
        recording_id,
        current_user.id,
        request.form.get("first", -1, type=int),
        request.form.get("last", -1, type=int),
        _swimmer_id(),
        stroke,
    )
    return _parts(recording_id, clip_id, "Part cut out")


@blueprint.post("/parts/<int:clip_id>")
def change(recording_id: int, clip_id: int) -> ResponseReturnValue:
    """Change edges, swimmer or stroke of a part."""
    clip = asked.clip(clip_id)
    if clip.recording.id != recording_id or not clip.is_part:
        raise NotFoundError("This part has been deleted.")
    changes: dict[str, Any] = {}
    for name in ("first", "last"):
        if name in request.form:
            changes[name] = request.form.get(name, -1, type=int)
    if "swimmer_id" in request.form:
        changes["swimmer_id"] = _swimmer_id()
    if request.form.get("stroke") in STROKES:
        changes["stroke"] = request.form["stroke"]
    if request.form.get("gone"):
        changes["gone"] = True
    cuts.change(database(), clip, current_user.id, **changes)
    if changes.get("gone"):
        told = "Part moved to the trash"
    else:
        told = "Part changed" + _left_outside(asked.clip(clip_id))
    return _parts(recording_id, clip_id, told)


@blueprint.post("/undo")
def undo(recording_id: int) -> ResponseReturnValue:
    done = cuts.undo(database(), recording_id, current_user.id)
    return _parts(recording_id, None, "Undone" if done else "Nothing to undo")


@blueprint.post("/redo")
def redo(recording_id: int) -> ResponseReturnValue:
    done = cuts.redo(database(), recording_id, current_user.id)
    return _parts(recording_id, None, "Redone" if done else "Nothing to redo")


def _left_outside(clip: Clip) -> str:
    """Marks are kept when an edge moves past them, but then they count no more: that is said."""
    outside = sum(not clip.holds(m.frame) for m in marks.of_clip(database(), clip.id))
    if not outside:
        return ""
    return f"; {times(outside, 'mark is', 'marks are')} outside it now"


def _swimmer_id() -> int | None:
    chosen = request.form.get("swimmer_id", type=int)
    return asked.swimmer(chosen).id if chosen else None


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
        "swimmers": swimmers.all_by_name(database()),
        "can_undo": can_undo,
        "can_redo": can_redo,
    }
