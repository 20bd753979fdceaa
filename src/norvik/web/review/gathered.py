"""Which clips a review gathers: put in, taken out, and what became of those that are gone."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import ChoiceError
from norvik.store import clips, review_clips
from norvik.store.undo import undoable
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.undo import toast_on_next_page

blueprint = Blueprint("gathered", __name__, url_prefix="/reviews/<int:review_id>/clips")


@blueprint.get("/")
def show(review_id: int) -> ResponseReturnValue:
    """The clips of the review, and the swimmer's others that can be put in."""
    judged = asked.judged_review(review_id)
    inside = set(judged.review.clip_ids)
    every = [c for c in clips.newest_first(database(), judged.swimmer.id) if c.id not in inside]
    day = judged.review.filmed_on
    return render_template(
        "review/clips.html",
        judged=judged,
        same_day=[c for c in every if c.filmed_on == day],
        others=[c for c in every if c.filmed_on != day],
    )


@blueprint.post("/put-in")
def put_in(review_id: int) -> ResponseReturnValue:
    review = asked.review(review_id)
    clip = asked.clip(request.form.get("clip", 0, type=int))
    if clip.swimmer_id != review.swimmer_id:
        raise ChoiceError("This clip is of another swimmer. Assign it first: Details on the bench.")
    with undoable(database(), current_user.id, _parts(review_id)) as step:
        review_clips.put_in(database(), review_id, clip.id)
        step.text = "Clip added to the review."
    toast_on_next_page(step)
    return _back(review_id)


@blueprint.post("/take-out")
def take_out(review_id: int) -> ResponseReturnValue:
    """Out of the review; clips that were deleted for good are forgotten together."""
    asked.review(review_id)
    clip_id = request.form.get("clip", type=int)
    with undoable(database(), current_user.id, _parts(review_id)) as step:
        if clip_id is None:
            review_clips.forget_gone(database(), review_id)
        else:
            review_clips.take_out(database(), review_id, clip_id)
        step.text = "Clip taken out of the review."
    toast_on_next_page(step)
    return _back(review_id)


def _parts(review_id: int) -> list[tuple[str, str, int | str]]:
    return [("review_clips", "review_id", review_id)]


def _back(review_id: int) -> ResponseReturnValue:
    return redirect(url_for("gathered.show", review_id=review_id))
