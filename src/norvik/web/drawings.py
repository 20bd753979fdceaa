"""Drawing and measuring on the frame: the page sends points, the server computes and keeps."""

from __future__ import annotations

import math
from dataclasses import replace

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MeasureError
from norvik.core.frame import drawings as kinds
from norvik.core.frame.choices import CHOICES, OBSTACLES, Choice
from norvik.core.frame.drawings import KINDS, STYLES, thinned
from norvik.core.frame.geometry import Point
from norvik.core.frame.measures import MEASURES, Measure, take
from norvik.core.frame.references import Plane, Scale, horizon_of
from norvik.core.tables import Band
from norvik.store import drawings, references
from norvik.store.clips import Clip
from norvik.store.drawings import StoredDrawing
from norvik.web.database import database
from norvik.web.media import watchable_clip
from norvik.web.overlay import fragment
from norvik.workflow.clip_drawings import (
    ClipDrawings,
    Painted,
    drawings_of,
    paint,
    picture_size,
    said,
    written,
)
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.ghost import moments

blueprint = Blueprint("drawings", __name__, url_prefix="/clips/<int:clip_id>/drawings")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    return _panel(watchable_clip(clip_id), "")


@blueprint.post("/")
def add(clip_id: int) -> ResponseReturnValue:
    """Keep a drawing, a measure, a choice or an obstacle, at once."""
    clip = watchable_clip(clip_id)
    frame = request.form.get("frame", -1, type=int)
    if not clip.holds(frame):
        raise MeasureError(f"Frame {frame} is not in this clip. Load the page again.")
    drawing = _from_form(clip, frame)
    made = drawings.add(database(), clip_id, current_user.id, drawing)
    return _panel(clip, f"{_name(made)}{_value(clip, made)}", made.id)


@blueprint.post("/<int:drawing_id>")
def change(clip_id: int, drawing_id: int) -> ResponseReturnValue:
    """Change what the form names: points, style, text, side, or where it is shown."""
    clip = watchable_clip(clip_id)
    before = drawings.by_id(database(), clip_id, drawing_id)
    after = _changed(clip, before)
    _check(after)
    drawings.change(database(), clip_id, current_user.id, after)
    return _panel(clip, f"{_name(after)}{_value(clip, after)}", drawing_id)


@blueprint.post("/<int:drawing_id>/preview")
def preview(clip_id: int, drawing_id: int) -> ResponseReturnValue:
    """How a drawing looks and what it says at other points; nothing is kept."""
    clip = watchable_clip(clip_id)
    after = _changed(clip, drawings.by_id(database(), clip_id, drawing_id))
    to = references.of_clip(database(), clip_id)
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
    clip = watchable_clip(clip_id)
    frame = request.form.get("frame", -1, type=int)
    if not clip.holds(frame):
        raise MeasureError(f"Frame {frame} is not in this clip. Load the page again.")
    before = drawings.by_id(database(), clip_id, drawing_id)
    made = drawings.add(
        database(), clip_id, current_user.id, replace(before, frame=frame, first=frame, last=frame)
    )
    return _panel(clip, f"{_name(made)} copied to frame {frame}", made.id)


@blueprint.post("/<int:drawing_id>/delete")
def delete(clip_id: int, drawing_id: int) -> ResponseReturnValue:
    clip = watchable_clip(clip_id)
    gone = drawings.delete(database(), clip_id, current_user.id, drawing_id)
    return _panel(clip, f"{_name(gone)} deleted")


@blueprint.post("/<int:drawing_id>/again")
def again(clip_id: int, drawing_id: int) -> ResponseReturnValue:
    """A measure taken again without seeing the first."""
    clip = watchable_clip(clip_id)
    stored = drawings.by_id(database(), clip_id, drawing_id)
    if stored.kind != "measure":
        raise MeasureError("Only a measure can be taken again.")
    points = points_of_form(clip)
    take(MEASURES[stored.name], points, references.of_clip(database(), clip_id))
    drawings.add_repeat(database(), current_user.id, drawing_id, points)
    return _panel(clip, f"{_name(stored)} taken again")


@blueprint.post("/undo")
def undo(clip_id: int) -> ResponseReturnValue:
    return _step(clip_id, "undo")


@blueprint.post("/redo")
def redo(clip_id: int) -> ResponseReturnValue:
    return _step(clip_id, "redo")


def _step(clip_id: int, which: str) -> ResponseReturnValue:
    clip = watchable_clip(clip_id)
    step = drawings.undo if which == "undo" else drawings.redo
    done = step(database(), clip_id, current_user.id)
    if done is None:
        return _panel(clip, f"No drawing to {which}")
    before, after = done
    if after is None:
        assert before is not None  # a change has at least one end
        return _panel(clip, f"{_name(before)} taken away")
    return _panel(clip, f"{_name(after)} is {'back' if before is None else 'as it was'}", after.id)


@blueprint.post("/references")
def set_reference(clip_id: int) -> ResponseReturnValue:
    clip = watchable_clip(clip_id)
    kind, points = request.form.get("kind", ""), points_of_form(clip)
    width, height = (_metres(name) for name in ("width_m", "height_m"))
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
        raise MeasureError("This reference is not known. Load the page again.")
    references.put(
        database(), clip_id, kind, request.form.get("frame", 0, type=int), points, width, height,
        "in_air" in request.form,
    )  # fmt: skip
    return _panel(clip, f"{_REFERENCE_NAMES[kind]} set for this clip")


_REFERENCE_NAMES = {"horizontal": "Horizontal", "vertical": "Vertical", "water": "Water line",
                    "scale": "Scale", "plane": "Rectangle"}  # fmt: skip


@blueprint.post("/references/<kind>/delete")
def forget_reference(clip_id: int, kind: str) -> ResponseReturnValue:
    clip = watchable_clip(clip_id)
    references.remove(database(), clip_id, kind)
    return _panel(clip, f"{_REFERENCE_NAMES.get(kind, 'Reference')} taken away")


@blueprint.post("/click-error")
def set_click_error(clip_id: int) -> ResponseReturnValue:
    clip = watchable_clip(clip_id)
    pixels = request.form.get("pixels", math.nan, type=_number)
    if not 0.1 <= pixels <= 50:
        raise MeasureError("The click error is a number of pixels from 0.1 to 50.")
    references.set_click_error(database(), pixels)
    return _panel(clip, f"Click error set to {pixels:g} pixels")


def context(timed: ClipTiming) -> dict[str, object]:
    """What the panel shows; the page of the bench begins with it."""
    found = drawings_of(database(), timed)
    width, height = picture_size(timed.clip.recording)
    known = [(r.measure.id, r.measure.events) for r in found.rows]
    known += [(r.choice.id, r.choice.events) for r in found.choices]
    frames = {
        name: [e.frame for e in timed.events if e.event in events and e.frame is not None]
        for name, events in known
    }
    return {
        "drawings": found,
        "event_frames": frames,
        "drawn": _drawn(found, width),
        "picture": (width, height),
        "drawing_kinds": KINDS,
        "drawing_styles": STYLES,
        "obstacles": OBSTACLES,
        "band_words": _band_words,
        "moments": moments(timed.clip.stroke),
    }


def _band_words(band: Band, measure: Measure) -> str:
    """Where the good range lies: " · good 90 to 130"; empty for a band without one."""
    ends = [
        f"{value:.{max(measure.digits, 0)}f}".replace("-", "−")
        for value in (band.good_from, band.good_to)
        if value is not None
    ]
    if len(ends) == 2:
        return f" · good {ends[0]} to {ends[1]}"
    if band.good_from is not None:
        return f" · good from {ends[0]}"
    return f" · good up to {ends[0]}" if ends else ""


def _drawn(found: ClipDrawings, width: int) -> list[dict[str, object]]:
    return [
        {
            "id": p.stored.id,
            "kind": p.stored.kind,
            "frame": p.stored.frame,
            "first": p.stored.first,
            "last": p.stored.last,
            "points": p.stored.points,
            "style": p.stored.style,
            "text": p.stored.text,
            "svg": fragment(p, width),
        }
        for p in found.painted
    ]  # fmt: skip


def _panel(clip: Clip, told: str, chosen: int | None = None) -> ResponseReturnValue:
    timed = time_clip(database(), clip)
    return render_template(
        "bench/_drawings.html", clip=clip, told_drawing=told, chosen=chosen, **context(timed),
    )  # fmt: skip


def _from_form(clip: Clip, frame: int) -> StoredDrawing:
    form = request.form
    kind, name, text = form.get("kind", ""), form.get("name", ""), form.get("text", "").strip()
    points = points_of_form(clip)
    if kind == "freehand":
        points = thinned(points)
    first, last = _shown(clip, frame, form.get("shown", "frame"))
    style, side = form.get("style", "neutral"), form.get("side", "")
    known: Measure | Choice | None = MEASURES.get(name) or CHOICES.get(name)
    if known is not None and not known.sided:
        side = ""
    made = StoredDrawing(0, kind, name, side, frame, first, last, tuple(points), style, text)
    _check(made)
    return made


def _changed(clip: Clip, before: StoredDrawing) -> StoredDrawing:
    form = request.form
    after = before
    if "points" in form:
        after = replace(after, points=tuple(points_of_form(clip)))
    if "style" in form:
        after = replace(after, style=form["style"])
    if "text" in form:
        after = replace(after, text=form["text"].strip())
    if "side" in form:
        after = replace(after, side=form["side"])
    if "shown" in form:
        first, last = _shown(clip, before.frame, form["shown"])
        after = replace(after, first=first, last=last)
    return after


def _shown(clip: Clip, frame: int, where: str) -> tuple[int, int | None]:
    """First and last frame on which a drawing is shown; last None: to the end."""
    if where == "clip":
        return 0, None
    if where == "stretch":
        first = request.form.get("from", frame, type=int)
        last = request.form.get("to", frame, type=int)
        if not (clip.holds(first) and clip.holds(last) and first <= last):
            raise MeasureError("Set the stretch first: a loop with Q and W on the bench.")
        return first, last
    return frame, frame


def _check(drawing: StoredDrawing) -> None:
    """Refuse a drawing that cannot be."""
    if drawing.side not in ("", "left", "right"):
        raise MeasureError("A measure lies on the left, the right, or neither side.")
    if drawing.style not in STYLES:
        raise MeasureError("A drawing is neutral, good, watch or fault.")
    if drawing.kind == "measure":
        measure = MEASURES.get(drawing.name)
        if measure is None:
            raise MeasureError("This measure is not known. Load the page again.")
        take(measure, drawing.points, references.of_clip(database(), _clip_id()))
    elif drawing.kind == "choice":
        choice = CHOICES.get(drawing.name)
        if choice is None or choice.option(drawing.text) is None:
            raise MeasureError("This choice is not known. Load the page again.")
    elif drawing.kind == "obstacle":
        if drawing.name not in MEASURES and drawing.name not in CHOICES:
            raise MeasureError("This measure is not known. Load the page again.")
        if drawing.text not in OBSTACLES:
            raise MeasureError("Say what is in the way: bubbles, another lane, distance or view.")
    else:
        kinds.check(drawing.kind, drawing.points, drawing.style, drawing.text)


def _clip_id() -> int:
    assert request.view_args is not None
    return int(request.view_args["clip_id"])


def _name(drawing: StoredDrawing) -> str:
    if drawing.kind == "measure":
        return f"{drawing.side} {MEASURES[drawing.name].name}".strip().capitalize()
    if drawing.kind == "choice":
        choice = CHOICES[drawing.name]
        option = choice.option(drawing.text)
        return f"{drawing.side} {choice.name}: {option.name if option else ''}".strip().capitalize()
    if drawing.kind == "obstacle":
        return f"Cannot be judged here: {OBSTACLES[drawing.text]}"
    return KINDS[drawing.kind].name


def _value(clip: Clip, drawing: StoredDrawing) -> str:
    if drawing.kind != "measure":
        return ""
    to = references.of_clip(database(), clip.id)
    measure = MEASURES[drawing.name]
    return f": {written(measure, take(measure, drawing.points, to))}"


def _number(text: str) -> float:
    return float(text.replace(",", ".").replace("−", "-"))


def _metres(name: str) -> float | None:
    text = request.form.get(name, "").strip()
    if not text:
        return None
    try:
        return _number(text)
    except ValueError as error:
        raise MeasureError("Give the distance in metres, like 5 or 0.75.") from error


def points_of_form(clip: Clip) -> list[Point]:
    """The clicks in the form, "x,y x,y ..."; each must lie on the picture."""
    width, height = picture_size(clip.recording)
    found = []
    for pair in request.form.get("points", "").split():
        try:
            x, y = map(float, pair.split(","))
        except ValueError as error:
            raise MeasureError("The points could not be read. Click them again.") from error
        if not (math.isfinite(x) and math.isfinite(y) and 0 <= x <= width and 0 <= y <= height):
            raise MeasureError("A point lies outside the picture. Click it again.")
        found.append(Point(round(x, 2), round(y, 2)))
    return found
