"""The short review on a phone: tap the rate, tick three things, choose one, send."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.strokes.definitions import event_name
from norvik.store.undo import Step
from norvik.web.clip.numbers import panel
from norvik.web.review.judge import tick_of_form
from norvik.web.shared import asked
from norvik.web.shared.asked import ClipInReview
from norvik.web.shared.database import database
from norvik.web.shared.undo import with_toast
from norvik.workflow.choose import choose
from norvik.workflow.mark import step_back
from norvik.workflow.short_review import mark_by_tap, short_sheet

blueprint = Blueprint("short", __name__, url_prefix="/clips/<int:clip_id>/short")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    return render_template("short/page.html", **_context(asked.clip_in_review(clip_id)))


@blueprint.post("/tap")
def tap(clip_id: int) -> ResponseReturnValue:
    """A hand enters on the frame that is shown."""
    frame = request.form.get("frame", -1, type=int)
    mark_by_tap(database(), current_user.id, asked.ready_clip(clip_id), frame)
    return _body(clip_id)


@blueprint.post("/undo")
def undo(clip_id: int) -> ResponseReturnValue:
    """Take the last tap back."""
    step_back(database(), current_user.id, asked.ready_clip(clip_id))
    return _body(clip_id)


@blueprint.post("/seen")
def seen(clip_id: int) -> ResponseReturnValue:
    """Tick something that was seen; an empty degree removes the tick."""
    return _body(clip_id, tick_of_form(clip_id))


@blueprint.post("/focus")
def focus(clip_id: int) -> ResponseReturnValue:
    """Choose the one thing, or let it go."""
    form, here = request.form, asked.clip_in_review(clip_id)
    step = choose(
        database(), current_user.id, here.review, here.section.stroke, form.get("fault", ""),
        want=form.get("want") == "yes",
    )  # fmt: skip
    return _body(clip_id, step)


def _body(clip_id: int, step: Step | None = None) -> ResponseReturnValue:
    body = render_template("short/_body.html", **_context(asked.clip_in_review(clip_id)))
    return body if step is None else with_toast(body, step)


def _context(here: ClipInReview) -> dict[str, object]:
    section, clip, own = here.section, here.clip, here.own
    rules = own.timed.timing.resolved.stroke
    return {
        "clip": clip,
        "timed": own.timed,
        "rate": panel(own.timed, "rate").rate,
        "rules": rules,
        "opens": event_name(rules.opens),
        "sheet": short_sheet(section.catalogue, clip.view),
        "ticked": {(t.what, t.side) for t in own.seen},
        "ranked": section.ranked[:4],
        "chosen": [r.fault.id for r in section.focuses],
        "strengths": len(section.of_kind("strength")),
        "review_id": here.review.review.id,
    }
