"""Asking for films, how far they are, stopping them, and the films themselves."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from flask import Blueprint, render_template, request, url_for
from flask.typing import ResponseReturnValue

from norvik.core.errors import NotFoundError, TalkError
from norvik.core.talk.pieces import length_of
from norvik.store import review_pairs
from norvik.web.shared import asked
from norvik.web.shared.database import database, footage, queue
from norvik.web.shared.kept_file import kept_file
from norvik.web.talk.film_rows import FilmRow, film_row
from norvik.workflow.talk.assemble import row_of
from norvik.workflow.talk.films import (
    SHAPE_WORDS,
    ask_for,
    clip_wish,
    pair_wish,
    state_of,
    stop,
    talk_wish,
)

blueprint = Blueprint("making_film", __name__)

#: A made film never changes under its address.
_KEPT_S = 3600
TALK_SHAPES = tuple((shape, words.capitalize()) for shape, words in SHAPE_WORDS.items())


@blueprint.route("/reviews/<int:review_id>/films", methods=["GET", "POST"])
def of_review(review_id: int) -> ResponseReturnValue:
    """Ask for a film without a voice (POST), or how far it is."""
    review, values = asked.review(review_id), request.values
    what, shape = values.get("what", ""), values.get("shape", "")
    if what == "pair":
        pair = review_pairs.by_id(database(), review.id, values.get("pair", 0, type=int))
        fields: dict[str, Any] = {"what": what, "pair": pair.id, "shape": shape}
        wish = pair_wish(review.id, pair.id, shape)
    else:
        clip = asked.ready_clip(values.get("clip", 0, type=int))
        if clip.id not in review.clip_ids:
            raise NotFoundError("This clip is not in the review. Reload the page.")
        fields = {"what": what, "clip": clip.id, "shape": shape}
        wish = clip_wish(database(), review.id, clip, what, shape, clip.first_frame)
    return _answer(film_row(review.id, fields, wish, values.get("words", "")[:80]), wish)


@blueprint.route("/talks/<int:talk_id>/films", methods=["GET", "POST"])
def of_talk(talk_id: int) -> ResponseReturnValue:
    """Ask for the film of a talk (POST), or how far it is."""
    talk = asked.talk(talk_id)
    shape = request.values.get("shape", "wide")
    wish = talk_wish(talk, shape)
    if request.method == "POST" and not length_of(row_of(database(), talk)):
        raise TalkError("Record something first: this talk is empty.")
    return _answer(talk_row(talk_id, shape, wish), wish)


def talk_row(talk_id: int, shape: str, wish: Mapping[str, Any]) -> FilmRow:
    return FilmRow(
        dict(TALK_SHAPES).get(shape, shape), {"shape": shape}, state_of(database(), wish),
        url_for("making_film.of_talk", talk_id=talk_id),
    )  # fmt: skip


def _answer(row: FilmRow, wish: Mapping[str, Any]) -> ResponseReturnValue:
    if request.method == "POST":
        if "stop" in request.form:
            stop(database(), wish)
        else:
            job_id = ask_for(database(), wish)
            if job_id is not None:
                queue().put(job_id)
        row = FilmRow(row.words, row.fields, state_of(database(), wish), row.address)
    return render_template("talk/_film.html", row=row)


@blueprint.get("/films/<int:film_id>/<name>")
def film(film_id: int, name: str) -> ResponseReturnValue:
    """The file; `save` in the address downloads it. name: how it is called there."""
    made = asked.made_film(film_id)
    path = footage().at_hand(made.path)
    if not path.is_file():
        raise NotFoundError("This film has been deleted. Make it again.")
    kind = "image/gif" if path.suffix == ".gif" else "video/mp4"
    return kept_file(
        path, mimetype=kind, max_age=_KEPT_S,
        as_attachment="save" in request.args, download_name=name,
    )  # fmt: skip
