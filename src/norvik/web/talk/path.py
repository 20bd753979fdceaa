"""The way through a review while the coach speaks, and the talks that were recorded over it."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import TalkError
from norvik.core.talk.pieces import length_of
from norvik.store import reviews, talks
from norvik.web.shared import asked
from norvik.web.shared.clip_words import clip_words
from norvik.web.shared.database import database
from norvik.web.talk.film_rows import clip_rows, pair_rows
from norvik.workflow.review_judgement import judge_review
from norvik.workflow.talk.assemble import row_of
from norvik.workflow.talk.path import Step, path_of

blueprint = Blueprint("talk_path", __name__)

_LONGEST_NOTE = 500


@blueprint.get("/reviews/<int:review_id>/talk/")
def show(review_id: int) -> ResponseReturnValue:
    """The points in order with the coach's notes; talks; films without a voice."""
    judged = asked.judged_review(review_id)
    steps = path_of(database(), judged, date.today())
    found = talks.of_review(database(), review_id)
    return render_template(
        "talk/path.html",
        judged=judged,
        review=judged.review,
        clip=judged.clips[0].clip if judged.clips else None,
        steps=[(step, address_of(step)) for step in steps],
        talks=[(talk, length_of(row_of(database(), talk))) for talk in found],
        clip_rows=clip_rows(judged),
        pair_rows=pair_rows(judged.review.id),
    )


@blueprint.post("/reviews/<int:review_id>/talk/notes")
def note(review_id: int) -> ResponseReturnValue:
    """What the coach wants to remember at a point. Only the coach sees it."""
    review, form = asked.review(review_id), request.form
    words = form.get("words", "").strip()
    if len(words) > _LONGEST_NOTE:
        raise TalkError(f"Notes have at most {_LONGEST_NOTE} letters.")
    talks.set_note(database(), review.id, form.get("kind", ""), form.get("what", ""), words)
    return "", 204


@blueprint.get("/clips/<int:clip_id>/talk/")
def of_clip(clip_id: int) -> ResponseReturnValue:
    """To the path through the review in which a clip is judged."""
    review = asked.review_of_clip(asked.ready_clip(clip_id))
    return redirect(url_for("talk_path.show", review_id=review.id))


@blueprint.get("/clips/<int:clip_id>/talk/path.json")
def path(clip_id: int) -> ResponseReturnValue:
    """The points to speak of in the review of a clip, or of the talk that is named."""
    clip = asked.ready_clip(clip_id)
    named = request.args.get("talk", type=int)
    talk = asked.talk(named) if named is not None else None
    # Looking begins no review: that does the first word.
    review_id = talk.review_id if talk else reviews.id_of_clip(database(), clip.id)
    steps: list[Step] = []
    if review_id is not None:
        judged = judge_review(database(), asked.review(review_id))
        steps = path_of(database(), judged, date.today())
    return jsonify(path=[_told(step) for step in steps], **(_addresses(talk.id) if talk else {}))


@blueprint.post("/clips/<int:clip_id>/talk/")
def begin(clip_id: int) -> ResponseReturnValue:
    """A new talk in the review of a clip: somebody presses Record."""
    review = asked.review_of_clip(asked.ready_clip(clip_id))
    return jsonify(**_addresses(talks.add(database(), review.id, current_user.id)))


def _addresses(talk_id: int) -> dict[str, Any]:
    return {
        "talk": talk_id,
        "mend": url_for("mend.show", talk_id=talk_id),
        "takes": url_for("recording_talk.begin", talk_id=talk_id),
    }


def _told(step: Step) -> dict[str, object]:
    return {
        "kind": step.kind, "what": step.what, "words": step.words, "cue": step.cue,
        "note": step.note, "address": address_of(step), "frame": step.frame,
        "clip": step.clip.id if step.clip else None, "pair": step.kind == "pair",
        "where": clip_words(step.clip) if step.clip else "",
    }  # fmt: skip


def address_of(step: Step) -> str:
    """The page that shows a point, at its frame; empty where nothing shows it."""
    if step.clip is None:
        return ""
    # A value of None is left out of the address.
    values: dict[str, Any] = {"clip_id": step.clip.id}
    if step.kind != "pair":
        return url_for("bench.show", **values, frame=step.frame)
    return url_for("side_by_side.show", **values, **_beside(step))


def _beside(step: Step) -> dict[str, Any]:
    """ "with" is no name of Python's."""
    return {"with": step.other}
