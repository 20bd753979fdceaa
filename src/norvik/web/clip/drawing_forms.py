"""What a drawing or a measure is, as forms say it."""

from __future__ import annotations

import math
from dataclasses import replace

from flask import request

from norvik.core.errors import MeasureError
from norvik.core.frame import drawings as kinds
from norvik.core.frame.choices import CHOICES, OBSTACLES, Choice
from norvik.core.frame.drawings import STYLES, thinned
from norvik.core.frame.geometry import Point
from norvik.core.frame.measures import MEASURES, Measure, take
from norvik.core.strokes.names import BODY_SIDES, Side
from norvik.store import references
from norvik.store.clips import Clip
from norvik.store.drawings import StoredDrawing
from norvik.web.shared.database import database
from norvik.workflow.clip_drawings import picture_size

#: Own choice: a minute of drawing with a pen leaves fewer.
MOST_POINTS = 4000


def drawing_from(clip: Clip, frame: int) -> StoredDrawing:
    """A new drawing on a frame, checked. Raises MeasureError with a sentence."""
    form = request.form
    kind, name, text = form.get("kind", ""), form.get("name", ""), form.get("text", "").strip()
    points = points_of_form(clip)
    if kind == "freehand":
        points = thinned(points)
    first, last = _shown_on(clip, frame, form.get("shown", "frame"))
    style, side = form.get("style", "neutral"), _side(form.get("side", ""))
    known: Measure | Choice | None = MEASURES.get(name) or CHOICES.get(name)
    if known is not None and not known.sided:
        side = ""
    made = StoredDrawing(0, kind, name, side, frame, first, last, tuple(points), style, text)
    check(made)
    return made


def changed_by_form(clip: Clip, before: StoredDrawing) -> StoredDrawing:
    """A drawing with what the form says anew, not checked; the rest stays."""
    form = request.form
    after = before
    if "points" in form:
        after = replace(after, points=tuple(points_of_form(clip)))
    if "style" in form:
        after = replace(after, style=form["style"])
    if "text" in form:
        after = replace(after, text=form["text"].strip())
    if "side" in form:
        after = replace(after, side=_side(form["side"]))
    if "shown" in form:
        first, last = _shown_on(clip, before.frame, form["shown"])
        after = replace(after, first=first, last=last)
    return after


def _side(text: str) -> Side:
    if text not in BODY_SIDES:
        raise MeasureError("A measure lies on the left, the right, or neither side.")
    return text


def _shown_on(clip: Clip, frame: int, where: str) -> tuple[int, int | None]:
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


def check(drawing: StoredDrawing) -> None:
    """Refuse a drawing that cannot be."""
    if drawing.style not in STYLES:
        raise MeasureError("A drawing is neutral, good, watch or fault.")
    if drawing.kind == "measure":
        measure = MEASURES.get(drawing.name)
        if measure is None:
            raise MeasureError("This measure is not known. Reload the page.")
        take(measure, drawing.points, references.of_clip(database(), _clip_id()))
    elif drawing.kind == "choice":
        choice = CHOICES.get(drawing.name)
        if choice is None or choice.option(drawing.text) is None:
            raise MeasureError("This choice is not known. Reload the page.")
    elif drawing.kind == "obstacle":
        if drawing.name not in MEASURES and drawing.name not in CHOICES:
            raise MeasureError("This measure is not known. Reload the page.")
        if drawing.text not in OBSTACLES:
            raise MeasureError("Choose the reason: bubbles, another lane, distance or view.")
    else:
        kinds.check(drawing.kind, drawing.points, drawing.style, drawing.text)


def _clip_id() -> int:
    assert request.view_args is not None
    return int(request.view_args["clip_id"])


def points_of_form(clip: Clip) -> list[Point]:
    """The clicks in the form, "x,y x,y ..."; each must lie on the picture."""
    width, height = picture_size(clip.recording)
    found = []
    # Counted before anything is read: thinning a line takes longer the more points it has.
    pairs = request.form.get("points", "").split(maxsplit=MOST_POINTS)
    if len(pairs) > MOST_POINTS:
        raise MeasureError(f"A drawing has at most {MOST_POINTS} points. Draw it in parts.")
    for pair in pairs:
        try:
            x, y = map(float, pair.split(","))
        except ValueError as error:
            raise MeasureError("The points could not be read. Click them again.") from error
        if not (math.isfinite(x) and math.isfinite(y) and 0 <= x <= width and 0 <= y <= height):
            raise MeasureError("A point lies outside the picture. Click it again.")
        found.append(Point(round(x, 2), round(y, 2)))
    return found


def typed_number(text: str) -> float:
    """A number with a point or a comma. Raises ValueError."""
    return float(text.replace(",", ".").replace("−", "-"))


def metres_of(name: str) -> float | None:
    """Metres in a field of the form; None where it is empty. Raises MeasureError."""
    text = request.form.get(name, "").strip()
    if not text:
        return None
    try:
        return typed_number(text)
    except ValueError as error:
        raise MeasureError("Give the distance in metres, like 5 or 0.75.") from error
