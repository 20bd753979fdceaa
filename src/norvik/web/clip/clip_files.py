"""A clip's marks as files: events.csv out and in, WebVTT chapters out."""

from __future__ import annotations

import json

from flask import Blueprint, render_template
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MarkError
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.downloads import attachment, table_file
from norvik.web.shared.uploads import sent_file
from norvik.workflow.clip_files import chapters_file, import_events
from norvik.workflow.clip_tables import about, clip_zip, files_of, name_of, numbers_json
from norvik.workflow.clip_timing import time_clip

blueprint = Blueprint("clip_files", __name__, url_prefix="/clips/<int:clip_id>/files")

#: Ten hours of marks at ten a second take less.
_MOST_BYTES = 20 << 20


@blueprint.get("/marks")
def table(clip_id: int) -> ResponseReturnValue:
    """All marks as a table: the rope in words, and for paper."""
    timed = time_clip(database(), asked.ready_clip(clip_id))
    rows = [(mark, event.time_s - timed.from_s) for mark, event in zip(timed.marks, timed.events,
                                                                       strict=True)]  # fmt: skip
    return render_template(
        "bench/marks.html", timed=timed, clip=timed.clip, rows=rows, problems=timed.mark_problems()
    )


@blueprint.get("/events.csv")
def events(clip_id: int) -> ResponseReturnValue:
    return _table(clip_id, "events.csv")


@blueprint.get("/numbers.csv")
def numbers(clip_id: int) -> ResponseReturnValue:
    """Every quantity with both plus-minus."""
    return _table(clip_id, "numbers.csv")


@blueprint.get("/measures.csv")
def measures(clip_id: int) -> ResponseReturnValue:
    """Every measure on the frame."""
    return _table(clip_id, "measures.csv")


def _table(clip_id: int, which: str) -> ResponseReturnValue:
    timed = time_clip(database(), asked.ready_clip(clip_id))
    text = files_of(database(), timed)[which]
    return table_file(text, f"{name_of(timed.clip)}.{which}", about(database(), timed))


@blueprint.get("/chapters.vtt")
def chapters(clip_id: int) -> ResponseReturnValue:
    timed = time_clip(database(), asked.ready_clip(clip_id))
    return attachment(chapters_file(timed), f"{name_of(timed.clip)}.chapters.vtt", "text/vtt")


@blueprint.get("/numbers.json")
def numbers_object(clip_id: int) -> ResponseReturnValue:
    timed = time_clip(database(), asked.ready_clip(clip_id))
    name = f"{name_of(timed.clip)}.numbers.json"
    return attachment(numbers_json(timed), name, "application/json")


@blueprint.get("/about.json")
def about_file(clip_id: int) -> ResponseReturnValue:
    """What the tables of a clip mean: stroke, frame rate, factor, pool, units, coverage."""
    timed = time_clip(database(), asked.ready_clip(clip_id))
    text = json.dumps(about(database(), timed), ensure_ascii=False, indent=1)
    return attachment(text, f"{name_of(timed.clip)}.about.json", "application/json")


@blueprint.get("/everything.zip")
def everything(clip_id: int) -> ResponseReturnValue:
    """Every table of the clip, with what they mean."""
    timed = time_clip(database(), asked.ready_clip(clip_id))
    data = clip_zip(database(), timed)
    return attachment(data, f"{name_of(timed.clip)}.zip", "application/zip")


@blueprint.post("/events")
def bring_in(clip_id: int) -> ResponseReturnValue:
    """Place the marks of an events file; says what was placed and what was not, row by row."""
    clip = asked.ready_clip(clip_id)
    data = sent_file("a table of marks", _MOST_BYTES, MarkError)
    if not data:
        raise MarkError("Choose an events file first (a CSV table with a header).")
    found = import_events(database(), time_clip(database(), clip), current_user.id, data)
    return render_template("bench/imported.html", clip=clip, found=found)
