"""Measuring on the frame: points are clicked on the picture, the server computes and keeps."""

from __future__ import annotations

import math

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point
from norvik.core.frame.measures import MEASURES, Measure, Measured, take
from norvik.store import measures
from norvik.store.clips import Clip
from norvik.web.database import database
from norvik.web.filters import number
from norvik.web.media import watchable_clip
from norvik.workflow.clip_measures import measures_of, picture_size
from norvik.workflow.clip_timing import ClipTiming, time_clip

blueprint = Blueprint("frame_measures", __name__, url_prefix="/clips/<int:clip_id>/measures")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    return _panel(watchable_clip(clip_id), "")


@blueprint.post("/")
def add(clip_id: int) -> ResponseReturnValue:
    """Keep a measure from its clicks, at once."""
    clip = watchable_clip(clip_id)
    measure = MEASURES.get(request.form.get("measure", ""))
    if measure is None:
        raise MeasureError("This measure is not known. Load the page again.")
    frame = request.form.get("frame", -1, type=int)
    if not clip.holds(frame):
        raise MeasureError(f"Frame {frame} is not in this clip. Load the page again.")
    side = request.form.get("side", "") if measure.sided else ""
    if side not in ("", "left", "right"):
        raise MeasureError("A measure lies on the left, the right, or neither side.")
    points = _points(clip)
    found = take(measure, points)
    measures.add(database(), clip_id, current_user.id, frame, measure.id, side, points)
    said = f"{side} {measure.name}".strip().capitalize()
    return _panel(clip, f"{said}: {_written(measure, found)}")


@blueprint.post("/<int:measure_id>/move")
def move(clip_id: int, measure_id: int) -> ResponseReturnValue:
    clip = watchable_clip(clip_id)
    stored = measures.by_id(database(), clip_id, measure_id)
    points = _points(clip)
    take(MEASURES[stored.measure], points)
    measures.move(database(), clip_id, measure_id, points)
    return _panel(clip, f"{MEASURES[stored.measure].name} moved")


@blueprint.post("/<int:measure_id>/delete")
def delete(clip_id: int, measure_id: int) -> ResponseReturnValue:
    stored = measures.by_id(database(), clip_id, measure_id)
    measures.delete(database(), clip_id, measure_id)
    return _panel(watchable_clip(clip_id), f"{MEASURES[stored.measure].name} deleted")


def context(timed: ClipTiming) -> dict[str, object]:
    """What the panel of measures shows; the page begins with it."""
    rows = measures_of(database(), timed)
    drawn = [
        {
            "id": t.stored.id,
            "frame": t.stored.frame,
            "points": t.stored.points,
            "lines": row.measure.lines,
            "value": _written(row.measure, t.value) if t.value else "",
        }
        for row in rows
        for t in row.taken
    ]  # fmt: skip
    return {"measure_rows": rows, "drawn": drawn, "picture": picture_size(timed.clip.recording)}


def _written(measure: Measure, found: Measured) -> str:
    return f"{number(found.value, measure.digits)} {measure.unit}"


def _panel(clip: Clip, told: str) -> ResponseReturnValue:
    timed = time_clip(database(), clip)
    return render_template("bench/_measures.html", clip=clip, said=told, **context(timed))


def _points(clip: Clip) -> list[Point]:
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
