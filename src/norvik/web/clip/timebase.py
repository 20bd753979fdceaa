"""The time base of a clip's recording: slow-motion factors, ramps, and the time check."""

from __future__ import annotations

import sqlite3

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue

from norvik.core.errors import MarkError, TimeBaseError
from norvik.core.time.timebase import Stretch
from norvik.core.time.timecheck import check_time
from norvik.store import clips, recordings
from norvik.store.clips import Clip
from norvik.store.connection import transaction
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.facts import STRETCHES, factor_of, number_of
from norvik.workflow.clip_timing import note_doubts_of_recording, time_check, time_clip

blueprint = Blueprint("timebase", __name__, url_prefix="/clips/<int:clip_id>/time")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    return _panel(asked.ready_clip(clip_id))


@blueprint.post("/stretch")
def stretch(clip_id: int) -> ResponseReturnValue:
    """Say how many times slower the file plays than it happened, from a frame on."""
    clip = asked.ready_clip(clip_id)
    frame = _frame(clip, "from_frame")
    factor = factor_of(request.form.get("factor", ""))
    kept = [s for s in clip.recording.stretches if s.from_frame != frame]
    return _store(clip, [*kept, Stretch(frame, factor)])


@blueprint.post("/stretch/remove")
def remove(clip_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    frame = _frame(clip, "from_frame")
    if frame == 0:
        raise MarkError("The first setting can be changed but not removed.")
    return _store(clip, [s for s in clip.recording.stretches if s.from_frame != frame])


@blueprint.post("/check")
def check(clip_id: int) -> ResponseReturnValue:
    """Keep a time check: two frames and the seconds that truly passed between them."""
    clip = asked.ready_clip(clip_id)
    first, last = _frame(clip, "first"), _frame(clip, "last")
    true_s = number_of(request.form.get("true_s", ""))
    if true_s is None:
        raise TimeBaseError("Enter how many seconds passed between the two frames, such as 12.4.")
    found = check_time(clips.time_base(database(), clip), first, last, true_s)
    kept = (found.first, found.last, found.true_s)
    return _changed(clip, lambda c: recordings.set_check(c, clip.recording.id, kept))


@blueprint.post("/check/forget")
def forget(clip_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    return _changed(clip, lambda c: recordings.set_check(c, clip.recording.id, None))


@blueprint.post("/check/use")
def use(clip_id: int) -> ResponseReturnValue:
    """Take what the time check says for the stretch in which it was made."""
    clip = asked.ready_clip(clip_id)
    base = clips.time_base(database(), clip)
    found = time_check(clip.recording, base)
    if found is None:
        raise TimeBaseError("There is no time check yet.")
    if found.spans_ramp:
        raise TimeBaseError(
            "The two frames lie on both sides of a change of speed. Check within one stretch."
        )
    begins = max(s.from_frame for s in base.stretches if s.from_frame <= found.first)
    kept = [s for s in base.stretches if s.from_frame != begins]
    return _store(clip, [*kept, Stretch(begins, found.suggested)])


def _store(clip: Clip, stretches: list[Stretch]) -> ResponseReturnValue:
    return _changed(clip, lambda c: recordings.set_stretches(c, clip.recording.id, stretches))


def _changed(clip: Clip, change) -> ResponseReturnValue:  # type: ignore[no-untyped-def]
    connection: sqlite3.Connection = database()
    with transaction(connection):
        change(connection)
        note_doubts_of_recording(connection, clip.recording.id)
    return _panel(asked.clip(clip.id), {"HX-Trigger": "timebase-changed"})


def _panel(clip: Clip, headers: dict[str, str] | None = None) -> ResponseReturnValue:
    timed = time_clip(database(), clip)
    base = timed.time_base
    page = render_template(
        "bench/_timebase.html",
        clip=clip,
        base=base,
        timed=timed,
        check=time_check(clip.recording, base),
        factors=STRETCHES,
        stored_fps=1 / (base.interval_within(0, base.frames - 1) or 1) / base.stretches[0].factor
        if not base.ramps
        else None,
    )
    return page, 200, headers or {}


def _frame(clip: Clip, name: str) -> int:
    frame = request.form.get(name, -1, type=int)
    if not 0 <= frame < clip.recording.frames:
        raise MarkError(f"The frame has to lie between 0 and {clip.recording.frames - 1}.")
    return frame
