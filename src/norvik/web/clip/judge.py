"""Judge: strengths first, then faults with their frames; choose one to three points."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.frame.measures import MEASURES
from norvik.core.frame.movement import FOLLOWED
from norvik.store import focus_answers, last_positions, reviews
from norvik.store.clips import Clip
from norvik.store.undo import Step
from norvik.web.draw.clock_face import aim_words, clock_face
from norvik.web.draw.fault_figure import fault_figure
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.undo import toast_on_next_page, with_toast
from norvik.workflow.choose import (
    BECAUSE,
    choose,
    choose_still,
    give_reason,
    keep_drill,
    swap_drill,
)
from norvik.workflow.clip_judgement import (
    LEAST_STRENGTHS,
    MOST_FOCUSES,
    MOST_FOCUSES_LONG_EVENT,
    Judgement,
)
from norvik.workflow.tick import answer, in_training, tick

blueprint = Blueprint("judge", __name__, url_prefix="/clips/<int:clip_id>/judge")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    return render_template("judge/page.html", **context(asked.judgement(clip_id)))


@blueprint.post("/seen")
def seen(clip_id: int) -> ResponseReturnValue:
    """Tick a fault or strength with side and degree; an empty degree removes the tick."""
    form = request.form
    step = tick(
        database(), current_user.id, asked.judgement(clip_id), form.get("what", ""),
        form.get("side", ""), form.get("degree", ""), form.get("frame", type=int),
    )  # fmt: skip
    return _body(clip_id, step)


@blueprint.post("/worked-on")
def worked_on(clip_id: int) -> ResponseReturnValue:
    """How a focus in training looks on this clip; pressed again the answer is removed."""
    fault, said = request.form.get("fault", ""), request.form.get("answer", "")
    judgement = asked.judgement(clip_id)
    return _body(clip_id, answer(database(), current_user.id, judgement, fault, said))


@blueprint.post("/focus")
def focus(clip_id: int) -> ResponseReturnValue:
    """Add or remove a focus, or move it up."""
    form = request.form
    step = choose(
        database(), current_user.id, asked.judgement(clip_id), form.get("fault", ""),
        move_up=form.get("move") == "up", long_event=bool(form.get("long_event")),
    )  # fmt: skip
    return _body(clip_id, step)


@blueprint.post("/because")
def because(clip_id: int) -> ResponseReturnValue:
    """Why another focus than the suggested one was chosen."""
    fault, words = request.form.get("fault", ""), request.form.get("because", "")
    give_reason(database(), asked.judgement(clip_id), fault, words)
    return _body(clip_id)


@blueprint.post("/another")
def another(clip_id: int) -> ResponseReturnValue:
    """The next suitable drill in place of one."""
    fault, drill = request.form.get("fault", ""), request.form.get("drill", "")
    swap_drill(database(), asked.judgement(clip_id), fault, drill)
    return _body(clip_id)


@blueprint.post("/still")
def still(clip_id: int) -> ResponseReturnValue:
    """Take the frame in the video as the still of a focus."""
    fault, frame = request.form.get("fault", ""), request.form.get("frame", -1, type=int)
    choose_still(database(), asked.judgement(clip_id), fault, frame)
    return _body(clip_id)


@blueprint.post("/drills")
def drills(clip_id: int) -> ResponseReturnValue:
    """Take a drill of a focus in or out."""
    fault, drill = request.form.get("fault", ""), request.form.get("drill", "")
    keep_drill(database(), asked.judgement(clip_id), fault, drill)
    return _body(clip_id)


def _body(clip_id: int, step: Step | None = None) -> ResponseReturnValue:
    """The page's body again, or that of the map of causes where that asked."""
    if request.form.get("on") == "current":
        if step is not None:
            toast_on_next_page(step)
        return redirect(url_for("causes.show", clip_id=clip_id, fault=request.form.get("fault")))
    body = render_template("judge/_body.html", **context(asked.judgement(clip_id)))
    return body if step is None else with_toast(body, step)


def _place(clip: Clip) -> int:
    """Where this person stopped in the clip, else its first frame."""
    at = last_positions.of(database(), clip.id, current_user.id)
    return at if at is not None and clip.holds(at) else clip.first_frame


def context(judgement: Judgement) -> dict[str, object]:
    """What the page and its body show."""
    catalogue, clip = judgement.catalogue, judgement.clip
    ticks = {(t.what, t.side): t for t in judgement.seen}
    strengths = judgement.of_kind("strength")
    chosen = [f.fault.id for f in judgement.focuses]
    by_eye = [f for f in catalogue.faults.values() if not f.bands]
    return {
        "clip": clip,
        "j": judgement,
        "timed": judgement.timed,
        "place": _place(clip),
        "strengths": strengths,
        "strengths_missing": max(0, LEAST_STRENGTHS - len(strengths)),
        "watch": judgement.of_kind("watch"),
        "open": judgement.of_kind("open"),
        "chosen": chosen,
        # The chosen points first, in the coach's order.
        "stills": {f.fault: f.still_frame for f in judgement.review.focuses},
        "ordered": judgement.focuses + [r for r in judgement.ranked if r.fault.id not in chosen],
        "most": MOST_FOCUSES,
        "most_long_event": MOST_FOCUSES_LONG_EVENT,
        "reasons": reviews.reasons(database(), clip.id),
        "because": BECAUSE,
        "clock_face": clock_face,
        "aim_words": aim_words,
        "fault_figure": fault_figure,
        "ticks": ticks,
        "worked_on": [catalogue.faults[f] for f in in_training(database(), judgement)],
        "answers": focus_answers.of_clip(database(), clip.id),
        "faults_here": [f for f in by_eye if clip.view in f.views and f.part != "wall"],
        "faults_elsewhere": [f for f in by_eye if clip.view not in f.views],
        "faults_wall": [f for f in by_eye if clip.view in f.views and f.part == "wall"],
        # At the wall there is something to see when it was marked or ticked already.
        "at_wall": bool(judgement.timed.timing.walls)
        or any(t.what.startswith("wall-") for t in judgement.seen),
        "strengths_here": [
            s for s in catalogue.strengths.values() if clip.view in s.views and len(s.strokes) == 1
        ],
        "strengths_wall": [
            s for s in catalogue.strengths.values() if clip.view in s.views and len(s.strokes) > 1
        ],
        "on_frames": {*MEASURES, *FOLLOWED},
        "evidence": {
            (f.id, f.side): [judgement.timed.frame_of(t) for t in f.instants[:6]]
            for f in judgement.findings
        },
    }
