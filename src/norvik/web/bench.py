"""The bench: watch a clip frame by frame and mark it. Every mark is saved at once."""

from __future__ import annotations

from functools import lru_cache

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user
from markupsafe import Markup

from norvik.core.errors import MarkError
from norvik.core.expect import (
    arm_expectations,
    breath_expectations,
    expected_arm,
    expected_breath,
)
from norvik.core.strokes import STROKES, StrokeRules
from norvik.store import clips, jobs, marks
from norvik.store.clips import STRETCH_RANGE, Clip
from norvik.web.database import database, settings
from norvik.web.keys import EVENT_KEYS, KEY_GROUPS
from norvik.web.numbers import panel
from norvik.web.rope import LABEL, WIDTH, Lane, lane_of, lay_out, window_around
from norvik.workflow.clip_timing import ClipTiming, time_clip

blueprint = Blueprint("bench", __name__, url_prefix="/clips/<int:clip_id>")


def _sides(lane: str, stroke: StrokeRules) -> tuple[str, ...]:
    """The sides that a mark of a lane may have."""
    if lane == "arm":
        return ("left", "right") if stroke.alternating else ("",)
    return {"breath": ("", "left", "right", "front"), "leg": ("", "left", "right")}.get(lane, ())


#: Slow motion that cameras store: recorded at 120 and stored at 60, at 240 and stored at 30 ...
_STRETCHES = (1.0, 2.0, 4.0, 8.0)


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    clip = clips.by_id(database(), clip_id)
    if clip.state != "ready":
        original = settings().data / clip.original_path
        return render_template(
            "intake/preparing.html",
            clip=clip,
            job=jobs.newest_of_clip(database(), clip_id),
            can_try_again=clip.state == "failed" and original.is_file(),
        )
    timed = time_clip(database(), clip)
    return render_template("bench/page.html", **context(timed, 0))


@blueprint.get("/rope")
def rope(clip_id: int) -> ResponseReturnValue:
    """The rope alone, when another stretch of the clip comes into view."""
    timed = time_clip(database(), _ready(clip_id))
    return render_template("bench/_rope.html", **context(timed, _int("frame")))


@blueprint.post("/stretch")
def stretch(clip_id: int) -> ResponseReturnValue:
    """Correct the slow-motion factor; every time and rate follows."""
    factor = request.form.get("stretch", type=float)
    if factor is None or not STRETCH_RANGE[0] <= factor <= STRETCH_RANGE[1]:
        raise MarkError("The slow-motion factor must lie between 0.05 and 100.")
    clips.set_stretch(database(), _ready(clip_id).id, factor)
    return "", 204, {"HX-Refresh": "true"}


@blueprint.post("/marks")
def place(clip_id: int) -> ResponseReturnValue:
    clip = _ready(clip_id)
    frame, lane = _int("frame"), request.form.get("lane", "")
    side, event = request.form.get("side", ""), request.form.get("event", "")
    if not 0 <= frame < (clip.frames or 0):
        raise MarkError(f"Frame {frame} is not in this clip. Load the page again.")
    if event == "next":
        event = _expected(time_clip(database(), clip), lane, side, frame)
    stroke = STROKES[clip.stroke]
    if side not in _sides(lane, stroke) or event not in stroke.events_of(lane):
        raise MarkError(f"“{event}” is no event of the {lane} lane here. Load the page again.")
    mark = marks.place(database(), clip_id, current_user.id, frame, lane, side, event)
    return _parts(clip, frame, f"{_named(mark)} marked on frame {frame}", mark.id)


@blueprint.post("/marks/<int:mark_id>/move")
def move(clip_id: int, mark_id: int) -> ResponseReturnValue:
    clip = _ready(clip_id)
    frame = _int("frame")
    if not 0 <= frame < (clip.frames or 0):
        raise MarkError(f"Frame {frame} is not in this clip.")
    mark = marks.move(database(), clip_id, current_user.id, mark_id, frame)
    return _parts(clip, frame, f"{_named(mark)} moved to frame {frame}", mark.id)


@blueprint.post("/marks/<int:mark_id>/delete")
def delete(clip_id: int, mark_id: int) -> ResponseReturnValue:
    clip = _ready(clip_id)
    mark = marks.delete(database(), clip_id, current_user.id, mark_id)
    return _parts(clip, mark.frame, f"{_named(mark)} on frame {mark.frame} deleted")


@blueprint.post("/undo")
def undo(clip_id: int) -> ResponseReturnValue:
    return _step_back_or_on(clip_id, "undo")


@blueprint.post("/redo")
def redo(clip_id: int) -> ResponseReturnValue:
    return _step_back_or_on(clip_id, "redo")


def _step_back_or_on(clip_id: int, which: str) -> ResponseReturnValue:
    clip = _ready(clip_id)
    step = marks.undo if which == "undo" else marks.redo
    change = step(database(), clip_id, current_user.id)
    if change is None:
        return _parts(clip, _int("frame"), f"Nothing to {which}")
    mark = change.after or change.before
    assert mark is not None  # a change has at least one end
    if change.before is None:
        told = f"{_named(mark)} is back on frame {mark.frame}"
    elif change.after is None:
        told = f"{_named(mark)} on frame {mark.frame} taken away"
    else:
        told = f"{_named(mark)} back on frame {mark.frame}"
    return _parts(clip, mark.frame, told, mark.id if change.after else None)


def _parts(clip: Clip, frame: int, told: str, mark_id: int | None = None) -> ResponseReturnValue:
    """All parts of the page that a mark changes, in one answer."""
    timed = time_clip(database(), clip)
    return render_template(
        "bench/_parts.html", **context(timed, frame), told=told, told_mark=mark_id, told_frame=frame
    )


@lru_cache(maxsize=400)
def lane_markup(lane: Lane) -> Markup:
    """A rope as markup. A mark changes one of them, so the others are not drawn again."""
    return Markup(
        render_template("bench/_lane.html", lane=lane, rope_width=WIDTH, rope_label=LABEL)
    )


def context(timed: ClipTiming, frame: int) -> dict[str, object]:
    """What the page and its parts show; the same for both."""
    base = timed.time_base
    at_s = base.time_of(min(max(frame, 0), base.frames - 1))
    span = request.values.get("span", type=float)
    from_s, to_s = window_around(timed, at_s, span)
    can_undo, can_redo = marks.can_undo_redo(database(), timed.clip.id, current_user.id)
    return {
        "clip": timed.clip,
        "stretches": sorted({*_STRETCHES, timed.clip.stretch}),
        "base": base,
        "rope": lay_out(timed, from_s, to_s),
        "lane_markup": lane_markup,
        "rope_width": WIDTH,
        "rope_label": LABEL,
        "key_groups": KEY_GROUPS,
        "rules": timed.timing.settled.stroke,
        "event_keys": EVENT_KEYS,
        "panel": panel(timed),
        "can_undo": can_undo,
        "can_redo": can_redo,
        # What comes next from which frame on: the page needs no request while the coach steps.
        "expected": _expectations(timed),
        "mark_list": [
            [m.frame, m.id, m.lane, m.side, m.event, lane_of(m, timed.timing.settled.stroke)]
            for m in timed.marks
        ],
    }


def _expectations(timed: ClipTiming) -> dict[str, list[tuple[int, str]]]:
    """(frame, event) pairs by lane: from that frame on, that event is expected."""
    base, stroke = timed.time_base, timed.timing.settled.stroke
    steps = {
        f"arm-{side}": arm_expectations(timed.events, stroke, side if stroke.alternating else "")
        for side in stroke.arms
    }
    steps["breath"] = breath_expectations(timed.events)
    return {
        lane: [(0 if since_s < 0 else base.frame_nearest(since_s), e) for since_s, e in found]
        for lane, found in steps.items()
    }


def _expected(timed: ClipTiming, lane: str, side: str, frame: int) -> str:
    at_s = timed.time_base.time_of(frame)
    if lane == "breath":
        return expected_breath(timed.events, at_s)
    return expected_arm(timed.events, timed.timing.settled.stroke, side, at_s)


def _named(mark: marks.StoredMark) -> str:
    return f"{mark.side} {mark.event}".strip().capitalize()


def _int(name: str) -> int:
    return request.values.get(name, -1, type=int)


def _ready(clip_id: int) -> Clip:
    clip = clips.by_id(database(), clip_id)
    if clip.state != "ready":
        raise MarkError("This clip is still being prepared. Wait until it is ready.")
    return clip
