"""A clip's marks as files: events.csv out and in, WebVTT chapters out."""

from __future__ import annotations

from flask import Blueprint, Response, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MarkError
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.names import file_name
from norvik.workflow.clip_files import chapters_file, events_file, import_events
from norvik.workflow.clip_timing import ClipTiming, time_clip

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
    timed = time_clip(database(), asked.ready_clip(clip_id))
    return _download(timed, events_file(timed), "text/csv", "events.csv")


@blueprint.get("/chapters.vtt")
def chapters(clip_id: int) -> ResponseReturnValue:
    timed = time_clip(database(), asked.ready_clip(clip_id))
    return _download(timed, chapters_file(timed), "text/vtt", "chapters.vtt")


@blueprint.post("/events")
def bring_in(clip_id: int) -> ResponseReturnValue:
    """Place the marks of an events file; says what was placed and what was not, row by row."""
    clip = asked.ready_clip(clip_id)
    file = request.files.get("file")
    data = file.read(_MOST_BYTES + 1) if file else b""
    if not data:
        raise MarkError("Choose an events file first (a CSV table with a header).")
    if len(data) > _MOST_BYTES:
        raise MarkError("This file is too large for a table of marks.")
    found = import_events(database(), time_clip(database(), clip), current_user.id, data)
    return render_template("bench/imported.html", clip=clip, found=found)


def _download(timed: ClipTiming, text: str, kind: str, ending: str) -> Response:
    who = file_name(timed.clip.swimmer_name or "", "clip")
    name = f"{who}-{timed.clip.filmed_on}-{timed.clip.id}.{ending}"
    return Response(
        text,
        content_type=f"{kind}; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )
