"""Judge: strengths first, then faults with their frames; choose one to three points.

The page shows the film of one clip, with its sheet; what is judged is the whole review.
"""

from __future__ import annotations

from functools import partial

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.frame.measures import MEASURES
from norvik.core.frame.movement import FOLLOWED
from norvik.core.judging.coaching_model import Fault, Strength
from norvik.core.judging.kit import changed_by
from norvik.core.judging.remarks import remark_of
from norvik.store import focus_answers, last_positions, reviews
from norvik.store.clips import VIEWS, Clip
from norvik.store.remarks import StoredRemark
from norvik.store.undo import Step
from norvik.web.draw.clock_face import aim_words, clock_face
from norvik.web.draw.drill_figure import drill_loop_picture
from norvik.web.draw.fault_figure import fault_figure, figure_address
from norvik.web.shared import asked
from norvik.web.shared.asked import ClipInReview
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
from norvik.workflow.remark import doubts_for
from norvik.workflow.review_judgement import (
    LEAST_STRENGTHS,
    MOST_FOCUSES,
    MOST_FOCUSES_LONG_EVENT,
    StrokeJudgement,
)
from norvik.workflow.tick import answer, in_training, tick

#: What a button asks for, so that two coaches who press the same do not undo each other.
_WANT = {"yes": True, "no": False}

blueprint = Blueprint("judge", __name__, url_prefix="/clips/<int:clip_id>/judge")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    return render_template("judge/page.html", **context(asked.clip_in_review(clip_id)))


@blueprint.post("/seen")
def seen(clip_id: int) -> ResponseReturnValue:
    """Tick a fault or strength with side and degree; an empty degree removes the tick."""
    return _body(clip_id, tick_of_form(clip_id))


def tick_of_form(clip_id: int) -> Step:
    """The tick that a form asks for: what, on which side, how clear, on which frame."""
    form = request.form
    return tick(
        database(), current_user.id, asked.clip_in_review(clip_id).own, form.get("what", ""),
        form.get("side", ""), form.get("degree", ""), form.get("frame", type=int),
    )  # fmt: skip


@blueprint.post("/worked-on")
def worked_on(clip_id: int) -> ResponseReturnValue:
    """How a focus in training looks in this review; pressed again the answer is removed."""
    fault, said = request.form.get("fault", ""), request.form.get("answer", "")
    section, was = asked.clip_in_review(clip_id).section, request.form.get("was")
    return _body(clip_id, answer(database(), current_user.id, section, fault, said, was))


@blueprint.post("/focus")
def focus(clip_id: int) -> ResponseReturnValue:
    """Add or remove a focus, or move it up. want: "yes" or "no", whatever it was before."""
    form, here = request.form, asked.clip_in_review(clip_id)
    step = choose(
        database(), current_user.id, here.review, form.get("stroke") or here.section.stroke,
        form.get("fault", ""), move_up=form.get("move") == "up",
        long_event=bool(form.get("long_event")),
        want=_WANT.get(form.get("want", "")),
    )  # fmt: skip
    return _body(clip_id, step)


@blueprint.post("/because")
def because(clip_id: int) -> ResponseReturnValue:
    """Why another focus than the suggested one was chosen."""
    fault, words = request.form.get("fault", ""), request.form.get("because", "")
    give_reason(database(), asked.clip_in_review(clip_id).section, fault, words)
    return _body(clip_id)


@blueprint.post("/another")
def another(clip_id: int) -> ResponseReturnValue:
    """The next suitable drill in place of one."""
    fault, drill = request.form.get("fault", ""), request.form.get("drill", "")
    swap_drill(database(), asked.clip_in_review(clip_id).section, fault, drill)
    return _body(clip_id)


@blueprint.post("/still")
def still(clip_id: int) -> ResponseReturnValue:
    """Take the frame in the video as the still of a focus."""
    fault, frame = request.form.get("fault", ""), request.form.get("frame", -1, type=int)
    here = asked.clip_in_review(clip_id)
    choose_still(database(), here.section, fault, here.clip, frame)
    return _body(clip_id)


@blueprint.post("/drills")
def drills(clip_id: int) -> ResponseReturnValue:
    """Take a drill of a focus in or out."""
    fault, drill = request.form.get("fault", ""), request.form.get("drill", "")
    section = asked.clip_in_review(clip_id).section
    keep_drill(database(), section, fault, drill, _WANT.get(request.form.get("want", "")))
    return _body(clip_id)


def _body(clip_id: int, step: Step | None = None) -> ResponseReturnValue:
    """The page's body again, or that of the map of causes where that asked."""
    if request.form.get("on") == "current":
        if step is not None:
            toast_on_next_page(step)
        return redirect(url_for("causes.show", clip_id=clip_id, fault=request.form.get("fault")))
    body = render_template("judge/_body.html", **context(asked.clip_in_review(clip_id)))
    return body if step is None else with_toast(body, step)


def _place(clip: Clip) -> int:
    """Where this person stopped in the clip, else its first frame."""
    at = last_positions.of(database(), clip.id, current_user.id)
    return at if at is not None and clip.holds(at) else clip.first_frame


def _seen_first(points: list[Fault], view: str) -> list[Fault]:
    """What this view shows before what it hardly shows, else in the order of the tables."""
    return sorted(points, key=lambda p: view not in p.views)


def _own_points(section: StrokeJudgement) -> dict[str, StoredRemark]:
    """Points in own words by the id of their finding."""
    return {f"remark-{r.id}": r for c in section.clips for r in c.remarks if r.kind == "point"}


def context(here: ClipInReview) -> dict[str, object]:
    """What the page and its body show."""
    section, clip, own = here.section, here.clip, here.own
    catalogue, review = section.catalogue, here.review
    ticks = {(t.what, t.side): t for t in own.seen}
    strengths = section.of_kind("strength")
    chosen = [f.fault.id for f in section.focuses]
    places = {(f.stroke, f.fault): n for n, f in enumerate(review.review.focuses, 1)}
    every: list[Fault] = [f for f in catalogue.faults.values() if remark_of(f.id) is None]
    good: list[Strength] = list(catalogue.strengths.values())
    return {
        "clip": clip,
        "j": section,
        "review": review,
        "timed": own.timed,
        "place": _place(clip),
        "strengths": strengths,
        "strengths_missing": max(0, LEAST_STRENGTHS - len(strengths)),
        "watch": section.of_kind("watch"),
        "open": section.of_kind("open"),
        "chosen": chosen,
        "places": places,
        "chosen_in_all": len(review.review.focuses),
        "other_strokes": [(s, r) for s, r in review.focuses if s.stroke != section.stroke],
        "no_longer_found": review.no_longer_found,
        # The chosen points first, in the coach's order.
        "stills": {f.fault: f for f in section.stored_focuses},
        "ordered": section.focuses + [r for r in section.ranked if r.fault.id not in chosen],
        "most": MOST_FOCUSES,
        "most_long_event": MOST_FOCUSES_LONG_EVENT,
        "reasons": reviews.reasons(database(), review.review.id, section.stroke),
        "because": BECAUSE,
        "clock_face": clock_face,
        "aim_words": aim_words,
        "fault_figure": fault_figure,
        "figure_address": partial(figure_address, own.timed),
        "drill_loop_picture": drill_loop_picture,
        "ticks": ticks,
        "proofs": {(f.id, f.side): f.proof for f in own.faults if f.proof},
        "numbers_show": {f.id: f for f in own.faults if f.judged and not f.seen},
        "in_training": [catalogue.faults[f] for f in in_training(database(), section)],
        "answers": focus_answers.of_review(database(), review.review.id, section.stroke),
        "sheet_faults": _seen_first([f for f in every if f.part != "wall"], clip.view),
        "faults_wall": _seen_first([f for f in every if f.part == "wall"], clip.view),
        # At the wall there is something to see when it was marked or ticked already.
        "at_wall": bool(own.timed.timing.walls)
        or any(t.what.startswith("wall-") for t in own.seen),
        "strengths_here": [s for s in good if len(s.strokes) == 1],
        "strengths_wall": [s for s in good if len(s.strokes) > 1],
        "remarks": own.remarks,
        "doubts": doubts_for(database(), clip),
        "views": VIEWS,
        "own_points": _own_points(section),
        "all_drills": sorted(catalogue.drills.values(), key=lambda d: d.name),
        "kit_changes": sorted(changed_by(clip.facts.kit)),
        "on_frames": {*MEASURES, *FOLLOWED},
        "evidence": {(f.id, f.side): section.frames_of(f)[:6] for f in section.findings},
    }
