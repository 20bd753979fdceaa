"""The library: find clips among thousands, and say what many of them are at once."""

from __future__ import annotations

import json
from urllib.parse import urlencode

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MarkError
from norvik.core.strokes.names import stroke_of
from norvik.store import clips, library, readings, recordings, trash
from norvik.store.clips import ROLES, VIEWS
from norvik.store.library import PAGE, STATES, ClipFilter
from norvik.store.undo import undoable
from norvik.web.shared import asked
from norvik.web.shared.choices import choices
from norvik.web.shared.database import database
from norvik.web.shared.facts import changes_from, stretch_from
from norvik.web.shared.language import times
from norvik.web.shared.undo import toast_on_next_page
from norvik.workflow.clip_timing import note_doubts_of_recording
from norvik.workflow.moving import with_judgement

blueprint = Blueprint("library", __name__, url_prefix="/library")

#: More clips than this are not changed with one press.
_MOST_AT_ONCE = 500


@blueprint.get("/")
def show() -> ResponseReturnValue:
    """The whole page, or its list alone when a filter changes."""
    wish, page = wish_from_request(), max(0, request.args.get("page", 0, type=int))
    connection = database()
    found = library.find(connection, wish, page, asked.within())
    said = {k: v for k, v in request.args.items() if v and k != "page"}
    context = {
        "found": found,
        "read_cycles": readings.cycle_seconds(connection, [c.id for c in found.clips]),
        "wish": wish,
        "page": page,
        "page_size": PAGE,
        "asked": said,
        "address_of_page": lambda n: f"{request.path}?{urlencode({**said, 'page': n})}",
        "counts": library.counts(connection, asked.within()),
        "states": STATES,
    }
    if request.headers.get("HX-Request"):
        return render_template("library/_list.html", **context)
    return render_template(
        "library/page.html",
        sessions=library.sessions(connection, within=asked.within()),
        **context,
        **choices(),
    )


@blueprint.get("/rows")
def rows() -> ResponseReturnValue:
    """The rows of some clips, for the list of what was just brought in."""
    ids = request.args.getlist("ids", type=int)[:_MOST_AT_ONCE]
    found = [asked.clip(clip_id) for clip_id in ids]
    read = readings.cycle_seconds(database(), ids)
    return render_template("library/_rows.html", clips=found, read_cycles=read)


@blueprint.post("/describe")
def describe() -> ResponseReturnValue:
    """Say something of many clips at once; what the form leaves out stays as it was."""
    ids = ids_from_request()
    changes, stretch = changes_from(request.form), stretch_from(request.form)
    if not changes and stretch is None:
        raise MarkError("Nothing to change: fill in at least one field.")
    connection = database()
    if "swimmer_id" in changes:
        _refuse_judged(ids, changes["swimmer_id"])
    parts = [(t, c, n) for n in ids for t, c in (("clips", "id"), ("review_clips", "clip_id"))]
    with undoable(connection, current_user.id, parts) as step:
        clips.change_facts(connection, ids, **changes)
        step.text = f"{times(len(ids), 'clip')} changed."
        if stretch is not None:
            for recording_id in {asked.clip(i).recording.id for i in ids}:
                recordings.set_stretches(connection, recording_id, [recordings.Stretch(0, stretch)])
                note_doubts_of_recording(connection, recording_id)
    found = [asked.clip(clip_id) for clip_id in ids]
    made = {"described": "", "undoable": {"text": step.text, "id": step.id}} if step.id else {
        "described": ""}  # fmt: skip
    return render_template("library/_rows.html", clips=found), 200, {"HX-Trigger": json.dumps(made)}


def _refuse_judged(ids: list[int], swimmer_id: int | None) -> None:
    """What was judged of somebody is not given to somebody else by the dozen."""
    chosen = [asked.clip(clip_id) for clip_id in ids]
    moved = [c for c in chosen if c.swimmer_id and c.swimmer_id != swimmer_id]
    held = with_judgement(database(), moved)
    if held:
        names = ", ".join(f"{c.swimmer_name}, {c.recording.original_name}" for c in held[:3])
        more = f" and {len(held) - 3} more" if len(held) > 3 else ""
        raise MarkError(
            f"Judged already: {names}{more}. Change the swimmer of a judged clip on the page of "
            "that clip, where you choose what goes along."
        )


@blueprint.post("/contents")
def contents() -> ResponseReturnValue:
    """What would go with these clips, before anybody throws them away."""
    ids = ids_from_request()
    return render_template(
        "library/_throw_away.html", ids=ids, contents=trash.contents(database(), ids)
    )


@blueprint.post("/throw-away")
def throw_away() -> ResponseReturnValue:
    ids = ids_from_request()
    parts = [("clips", "id", clip_id) for clip_id in ids]
    with undoable(database(), current_user.id, parts) as step:
        trash.put(database(), ids)
        step.text = f"{times(len(ids), 'clip')} moved to the trash."
    toast_on_next_page(step)
    return "", 204, {"HX-Refresh": "true"}


def ids_from_request() -> list[int]:
    """The chosen clips, all of which are there. Raises MarkError or NotFoundError."""
    ids = list(dict.fromkeys(request.form.getlist("ids", type=int)))
    if not ids:
        raise MarkError("No clip is chosen. Choose some first: Space or a press on the box.")
    if len(ids) > _MOST_AT_ONCE:
        raise MarkError(f"That is {len(ids)} clips; at most {_MOST_AT_ONCE} go at once.")
    for clip_id in ids:
        asked.clip(clip_id)
    return ids


def wish_from_request() -> ClipFilter:
    """What the address asks for; words that are not known ask for nothing."""
    args = request.args

    def known(name: str, words: tuple[str, ...]) -> str:
        value = args.get(name, "")
        return value if value in words else ""

    session = args.get("session", "")
    return ClipFilter(
        words=args.get("words", "")[:100],
        swimmer_id=args.get("swimmer", type=int),
        session=session if session.replace("-", "").isdigit() else "",
        stroke=stroke_of(args.get("stroke", "")),
        view=known("view", VIEWS),
        role=known("role", ROLES),
        state=known("state", STATES),
    )
