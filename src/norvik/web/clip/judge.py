"""Judge: strengths first, then faults with their frames; choose one to three points."""

from __future__ import annotations

from contextlib import AbstractContextManager

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MarkError
from norvik.core.frame.measures import MEASURES
from norvik.core.frame.movement import FOLLOWED
from norvik.store import focus_answers, last_positions, observations, reviews
from norvik.store.clips import Clip
from norvik.store.focus_answers import ANSWERS
from norvik.store.observations import DEGREES, Sighting
from norvik.store.undo import Step, undoable
from norvik.web.draw.clock_face import aim_words, clock_face
from norvik.web.draw.fault_figure import fault_figure
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.undo import toast_on_next_page, with_toast
from norvik.workflow.clip_judgement import (
    LEAST_STRENGTHS,
    MOST_FOCUSES,
    MOST_FOCUSES_LONG_EVENT,
    Judgement,
)

#: Usual reasons to choose another point than the proposed one; the first is kept until the coach
#: says more.
BECAUSE = ("coach's eye", "ready for it", "the race is near", "the swimmer's wish",
           "already worked on the other")  # fmt: skip

blueprint = Blueprint("judge", __name__, url_prefix="/clips/<int:clip_id>/judge")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    return render_template("judge/page.html", **context(asked.judgement(clip_id)))


@blueprint.post("/seen")
def tick(clip_id: int) -> ResponseReturnValue:
    """Tick a fault or strength with side and degree; an empty degree takes the tick away."""
    judgement = asked.judgement(clip_id)
    what, side = request.form.get("what", ""), request.form.get("side", "")
    degree = request.form.get("degree", "")
    known = judgement.catalogue.faults.get(what) or judgement.catalogue.strengths.get(what)
    if known is None or (side and not (known.sided and side in ("left", "right"))):
        raise MarkError("This point is not in the list. Reload the page.")
    if degree in DEGREES:
        frame = request.form.get("frame", type=int)
        if frame is not None and not judgement.timed.clip.holds(frame):
            frame = None
        with _undoable(clip_id) as step:
            observations.put(database(), clip_id, Sighting(what, side, degree, frame))
            step.text = f"{known.name}: {degree}."
    else:
        with _undoable(clip_id) as step:
            observations.remove(database(), clip_id, what, side)
            step.text = f"{known.name}: tick removed."
    return _body(clip_id, step)


@blueprint.post("/worked-on")
def answer(clip_id: int) -> ResponseReturnValue:
    """What the coach says on this clip of a focus in training; pressed again it is taken back."""
    judgement = asked.judgement(clip_id)
    fault, said = request.form.get("fault", ""), request.form.get("answer", "")
    if fault not in in_training(judgement) or said not in ANSWERS:
        raise MarkError("This focus is not in training any more. Reload the page.")
    with _undoable(clip_id) as step:
        if focus_answers.of_clip(database(), clip_id).get(fault) == said:
            focus_answers.remove(database(), clip_id, fault)
        else:
            focus_answers.put(database(), clip_id, fault, said)
        step.text = f"{judgement.catalogue.faults[fault].name}: answer changed."
    return _body(clip_id, step)


def in_training(judgement: Judgement) -> list[str]:
    """Faults that were chosen on earlier clips and are not resolved, oldest first."""
    clip = judgement.clip
    found = focus_answers.in_training(
        database(), judgement.swimmer.id, clip.stroke, clip.filmed_on, clip.id
    )
    return [f for f in found if f in judgement.catalogue.faults]


@blueprint.post("/focus")
def choose(clip_id: int) -> ResponseReturnValue:
    """Add or take away a focus, or move it up."""
    judgement = asked.judgement(clip_id)
    fault = request.form.get("fault", "")
    chosen = [f.fault.id for f in judgement.focuses]
    before = list(chosen)
    found = {r.fault.id for r in judgement.ranked}
    if fault not in found:
        raise MarkError("This point is no longer among the findings. Reload the page.")
    overruled = False
    most = MOST_FOCUSES_LONG_EVENT if request.form.get("long_event") else MOST_FOCUSES
    if fault in chosen and request.form.get("move") == "up":
        at = chosen.index(fault)
        if at:
            chosen[at - 1], chosen[at] = chosen[at], chosen[at - 1]
    elif fault in chosen:
        chosen.remove(fault)
    elif len(chosen) >= most:
        raise MarkError(f"{most} points are chosen already. Remove one first.")
    else:
        proposed = next(r.fault.id for r in judgement.ranked if r.fault.id not in chosen)
        chosen.append(fault)
        overruled = fault != proposed
    with _undoable(clip_id) as step:
        if overruled:
            reviews.set_reason(database(), clip_id, fault, BECAUSE[0])
        reviews.choose(database(), clip_id, chosen)
        name = judgement.catalogue.faults[fault].name
        word = "chosen" if fault not in before else "moved up" if fault in chosen else "removed"
        step.text = f"{name} {word}."
    return _body(clip_id, step)


@blueprint.post("/because")
def because(clip_id: int) -> ResponseReturnValue:
    """Why another point than the proposed one was chosen: one of the usual reasons, or words."""
    fault, words = request.form.get("fault", ""), request.form.get("because", "").strip()[:120]
    if fault not in {f.fault.id for f in asked.judgement(clip_id).focuses}:
        raise MarkError("This point is not chosen any more. Reload the page.")
    reviews.set_reason(database(), clip_id, fault, words or BECAUSE[0])
    return _body(clip_id)


@blueprint.post("/another")
def another(clip_id: int) -> ResponseReturnValue:
    """The next suitable drill in place of one; asked again it goes round."""
    judgement = asked.judgement(clip_id)
    fault, drill = request.form.get("fault", ""), request.form.get("drill", "")
    if fault not in {f.fault.id for f in judgement.focuses}:
        raise MarkError("This point is not chosen any more. Reload the page.")
    kept = [d.id for d in judgement.drills(fault)]
    other = judgement.prescription(fault).instead_of(drill, kept)
    if other is None:
        raise MarkError("No other drill suits this swimmer at the moment.")
    kept[kept.index(drill)] = other.id
    reviews.set_drills(database(), clip_id, fault, kept)
    return _body(clip_id)


@blueprint.post("/still")
def still(clip_id: int) -> ResponseReturnValue:
    """Take the frame on the stage as the still of a focus."""
    judgement = asked.judgement(clip_id)
    fault, frame = request.form.get("fault", ""), request.form.get("frame", -1, type=int)
    if fault not in {f.fault.id for f in judgement.focuses}:
        raise MarkError("This point is not chosen any more. Reload the page.")
    judgement.timed.clip.require(frame)
    reviews.set_still(database(), clip_id, fault, frame)
    return _body(clip_id)


@blueprint.post("/drills")
def keep_drill(clip_id: int) -> ResponseReturnValue:
    """Take a drill of a focus in or out; without any choice the prescription holds."""
    judgement = asked.judgement(clip_id)
    fault, drill = request.form.get("fault", ""), request.form.get("drill", "")
    if fault not in judgement.catalogue.faults:
        raise MarkError("This point is not in the list. Reload the page.")
    given = judgement.prescription(fault)
    suitable = {d.id for d in (*given.drills, *given.others)}
    if drill not in suitable:
        raise MarkError("This drill does not suit this swimmer now.")
    kept = [d.id for d in judgement.drills(fault)]
    if drill in kept:
        kept.remove(drill)
    elif len(kept) >= 3:
        raise MarkError("Three drills are enough for one point. Remove one first.")
    else:
        kept.append(drill)
    reviews.set_drills(database(), clip_id, fault, kept)
    return _body(clip_id)


def _body(clip_id: int, step: Step | None = None) -> ResponseReturnValue:
    """The page's body again, or that of the map of causes where that asked."""
    if request.form.get("on") == "current":
        if step is not None:
            toast_on_next_page(step)
        return redirect(url_for("causes.show", clip_id=clip_id, fault=request.form.get("fault")))
    body = render_template("judge/_body.html", **context(asked.judgement(clip_id)))
    return body if step is None else with_toast(body, step)


def _undoable(clip_id: int) -> AbstractContextManager[Step]:
    """Everything that judging changes of a clip, to be undone in one step."""
    tables = ("sightings", "focuses", "overrules", "focus_answers")
    return undoable(database(), current_user.id, [(t, "clip_id", clip_id) for t in tables])


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
        "worked_on": [catalogue.faults[f] for f in in_training(judgement)],
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
