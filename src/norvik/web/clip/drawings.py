"""Drawing and measuring on the frame: the page sends points, the server computes and keeps."""

from __future__ import annotations

import math
from dataclasses import replace

from flask import Blueprint, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MeasureError
from norvik.core.frame.measures import MEASURES, take
from norvik.core.frame.references import Plane, Scale, horizon_of
from norvik.painting.overlay import fragment
from norvik.store import cameras, drawings, references
from norvik.store.clips import Clip
from norvik.store.drawings import StoredDrawing
from norvik.web.clip.drawing_forms import (
    changed_by_form,
    check,
    drawing_from,
    metres_of,
    points_of_form,
    typed_number,
)
from norvik.web.clip.drawing_panel import lens_words, name_of, panel, value_of
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.workflow import lens_check
from norvik.workflow.clip_drawings import (
    Painted,
    paint,
    picture_size,
    said,
    written,
)

blueprint = Blueprint("drawings", __name__, url_prefix="/clips/<int:clip_id>/drawings")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    return panel(asked.ready_clip(clip_id), "")


@blueprint.post("/")
def add(clip_id: int) -> ResponseReturnValue:
    """Keep a drawing, a measure, a choice or an obstacle, at once."""
    clip = asked.ready_clip(clip_id)
    frame = request.form.get("frame", -1, type=int)
    clip.require(frame)
    drawing = drawing_from(clip, frame)
    made = drawings.add(database(), clip_id, current_user.id, drawing)
    return panel(clip, f"{name_of(made)}{value_of(clip, made)}", made.id)


@blueprint.post("/<int:drawing_id>")
def change(clip_id: int, drawing_id: int) -> ResponseReturnValue:
    """Change what the form names: points, style, text, side, or where it is shown."""
    clip = asked.ready_clip(clip_id)
    before = drawings.by_id(database(), clip_id, drawing_id)
    after = changed_by_form(clip, before)
    check(after)
    drawings.change(database(), clip_id, current_user.id, after)
    return panel(clip, f"{name_of(after)}{value_of(clip, after)}", drawing_id)


@blueprint.post("/<int:drawing_id>/preview")
def preview(clip_id: int, drawing_id: int) -> ResponseReturnValue:
    """How a drawing looks and what it says at other points; nothing is kept."""
    clip = asked.ready_clip(clip_id)
    return _previewed(clip, changed_by_form(clip, drawings.by_id(database(), clip_id, drawing_id)))


@blueprint.post("/preview")
def preview_new(clip_id: int) -> ResponseReturnValue:
    """The same of a drawing that is not kept yet."""
    clip = asked.ready_clip(clip_id)
    frame = request.form.get("frame", -1, type=int)
    clip.require(frame)
    return _previewed(clip, drawing_from(clip, frame))


def _previewed(clip: Clip, after: StoredDrawing) -> ResponseReturnValue:
    to = references.of_clip(database(), clip.id)
    if after.kind == "measure":
        try:
            words = written(MEASURES[after.name], take(MEASURES[after.name], after.points, to))
        except MeasureError:
            words = ""
    else:
        words = said(after, to)
    painted = Painted(after, tuple(paint(after, clip, to)), words)
    return fragment(painted, picture_size(clip.recording)[0])


@blueprint.post("/<int:drawing_id>/copy")
def copy(clip_id: int, drawing_id: int) -> ResponseReturnValue:
    """The same drawing on another frame."""
    clip = asked.ready_clip(clip_id)
    frame = request.form.get("frame", -1, type=int)
    clip.require(frame)
    before = drawings.by_id(database(), clip_id, drawing_id)
    made = drawings.add(
        database(), clip_id, current_user.id, replace(before, frame=frame, first=frame, last=frame)
    )
    return panel(clip, f"{name_of(made)} copied to frame {frame}", made.id)


@blueprint.post("/<int:drawing_id>/delete")
def delete(clip_id: int, drawing_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    gone = drawings.delete(database(), clip_id, current_user.id, drawing_id)
    return panel(clip, f"{name_of(gone)} deleted")


@blueprint.post("/<int:drawing_id>/again")
def again(clip_id: int, drawing_id: int) -> ResponseReturnValue:
    """A measure taken again without seeing the first."""
    clip = asked.ready_clip(clip_id)
    stored = drawings.by_id(database(), clip_id, drawing_id)
    if stored.kind != "measure":
        raise MeasureError("Only a measure can be taken again.")
    points = points_of_form(clip)
    take(MEASURES[stored.name], points, references.of_clip(database(), clip_id))
    drawings.add_repeat(database(), current_user.id, drawing_id, points)
    return panel(clip, f"{name_of(stored)} taken again")


@blueprint.post("/undo")
def undo(clip_id: int) -> ResponseReturnValue:
    return _step(clip_id, "undo")


@blueprint.post("/redo")
def redo(clip_id: int) -> ResponseReturnValue:
    return _step(clip_id, "redo")


def _step(clip_id: int, which: str) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    step = drawings.undo if which == "undo" else drawings.redo
    done = step(database(), clip_id, current_user.id)
    if done is None:
        return panel(clip, f"No drawing to {which}")
    before, after = done
    if after is None:
        assert before is not None  # a change has at least one end
        return panel(clip, f"{name_of(before)} removed")
    return panel(clip, f"{name_of(after)} is {'back' if before is None else 'as it was'}", after.id)


@blueprint.post("/references")
def set_reference(clip_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    kind, points = request.form.get("kind", ""), points_of_form(clip)
    if kind == "straight":
        return panel(clip, lens_words(lens_check.add_line(database(), clip, points)))
    width, height = (metres_of(name) for name in ("width_m", "height_m"))
    if kind in ("horizontal", "vertical", "water"):
        if len(points) != 2:
            raise MeasureError("This line needs two points.")
        horizon_of(points[0], points[1], kind == "vertical")
    elif kind == "scale":
        if len(points) != 2:
            raise MeasureError("A scale needs two points.")
        Scale.between(points[0], points[1], width or 0.0, 0.0)
    elif kind == "plane":
        Plane.through(points, width or 0.0, height or 0.0)
    else:
        raise MeasureError("This reference is not known. Reload the page.")
    references.put(
        database(), clip_id, kind, request.form.get("frame", 0, type=int), points, width, height,
        "in_air" in request.form,
    )  # fmt: skip
    return panel(clip, f"{_REFERENCE_NAMES[kind]} set for this clip")


_REFERENCE_NAMES = {"horizontal": "Horizontal", "vertical": "Vertical", "water": "Water line",
                    "scale": "Scale", "plane": "Rectangle"}  # fmt: skip


@blueprint.post("/camera")
def set_camera(clip_id: int) -> ResponseReturnValue:
    """Which camera made the film, what it was in, and its angle of view."""
    clip, form = asked.ready_clip(clip_id), request.form
    name = form.get("new_name", "").strip()[:60]
    if name:
        cameras.film_with(database(), clip.recording.id, cameras.add(database(), name))
    elif form.get("camera"):
        camera = cameras.by_id(database(), form.get("camera", 0, type=int))
        cameras.film_with(database(), clip.recording.id, camera.id)
    else:
        cameras.film_with(database(), clip.recording.id, None)
        return panel(clip, "No camera is set for this film")
    camera = lens_check.camera_of(database(), clip)
    # The housing in the form is that of the camera that was there before.
    if not name and str(camera.id) == form.get("was"):
        view = form.get("view_deg", math.nan, type=typed_number)
        lens_check.set_housing(database(), clip, camera, form.get("housing", ""), view)
    return panel(clip, f"Filmed with {camera.name}")


@blueprint.post("/references/<kind>/delete")
def forget_reference(clip_id: int, kind: str) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    if kind == "straight":
        lens_check.forget_lines(database(), lens_check.camera_of(database(), clip))
        return panel(clip, "The lens is no longer checked")
    references.remove(database(), clip_id, kind)
    return panel(clip, f"{_REFERENCE_NAMES.get(kind, 'Reference')} removed")


@blueprint.post("/click-error")
def set_click_error(clip_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    pixels = request.form.get("pixels", math.nan, type=typed_number)
    if not 0.1 <= pixels <= 50:
        raise MeasureError("The click error is a number of pixels from 0.1 to 50.")
    references.set_click_error(database(), pixels)
    return panel(clip, f"Click error set to {pixels:g} pixels")
