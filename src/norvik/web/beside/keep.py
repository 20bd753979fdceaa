"""Chosen instants go to the review as pairs, with a caption."""

from __future__ import annotations

from flask import Blueprint, jsonify, redirect, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MarkError, NotFoundError
from norvik.core.strokes.definitions import event_name
from norvik.core.time.in_step import CycleEvents
from norvik.painting.raster import as_png
from norvik.store import review_pairs
from norvik.store.review_pairs import LONGEST_CAPTION
from norvik.web.beside.films import paired
from norvik.web.beside.pair_pictures import pair_svg, part_jpeg
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.picture_svg import picture_answer
from norvik.workflow.side_by_side.kept_pairs import ShownPair, keep_pair, shown_pairs
from norvik.workflow.side_by_side.pairing import Pairing
from norvik.workflow.side_by_side.strip_rows import ROWS, strip_rows

blueprint = Blueprint("kept_pairs", __name__)


@blueprint.post("/clips/<int:clip_id>/beside/keep")
def keep(clip_id: int) -> ResponseReturnValue:
    """The pair on the screen, or the whole strip of the cycle."""
    form = request.form
    pairing = paired(clip_id)
    if form.get("what") == "strip":
        by = form.get("rows", "events")
        rows = [(r.frames[0], r.frames[1], r.name)
                for r in strip_rows([pairing], by if by in ROWS else ROWS[0])]  # fmt: skip
    else:
        frame = form.get("frame", -1, type=int)
        other = form.get("at", -1, type=int)
        rows = [(frame, other, _instant(pairing, frame))]
    review_id, _ = keep_pair(
        database(), pairing.one, pairing.other, rows, form.get("caption", ""), current_user.id
    )
    what = "Strip" if len(rows) > 1 else "Pair"
    return jsonify(
        sentence=f"{what} added to the review.",
        review=url_for("review.show", review_id=review_id, _anchor="pairs"),
    )


def _instant(pairing: Pairing, frame: int) -> str:
    """The event that stands on this frame of the first film; empty between events."""
    cycles: tuple[CycleEvents, ...] = pairing.cycles[0]
    for cycle in cycles:
        for event, at in cycle.events:
            if pairing.one.frame_of(at) == frame:
                return event_name(event)
    return ""


@blueprint.get("/reviews/<int:review_id>/pairs/<int:pair_id>.<any(png,svg):kind>")
def picture(review_id: int, pair_id: int, kind: str) -> ResponseReturnValue:
    """The whole pair or strip as one picture, to keep or to send."""
    asked.review(review_id)
    svg = pair_svg(_of(review_id, pair_id))
    data = svg.encode() if kind == "svg" else as_png(svg)
    return picture_answer(data, kind, f"pair-{pair_id}.{kind}")


@blueprint.get("/reviews/<int:review_id>/pairs/<int:pair_id>/<int:row>-<int:film>.jpg")
def part(review_id: int, pair_id: int, row: int, film: int) -> ResponseReturnValue:
    """One frame of a pair, with what is drawn on it."""
    asked.review(review_id)
    shown = _of(review_id, pair_id)
    if row >= len(shown.rows) or film >= len(shown.films):
        raise NotFoundError("This pair has been taken out of the review.")
    return picture_answer(part_jpeg(shown, row, film), "jpg", None)


def _of(review_id: int, pair_id: int) -> ShownPair:
    found = next((p for p in shown_pairs(database(), review_id) if p.kept.id == pair_id), None)
    if found is None:
        raise NotFoundError("This pair has been taken out of the review.")
    return found


@blueprint.post("/reviews/<int:review_id>/pairs/<int:pair_id>/caption")
def caption(review_id: int, pair_id: int) -> ResponseReturnValue:
    asked.review(review_id)
    words = " ".join(request.form.get("caption", "").split())
    if len(words) > LONGEST_CAPTION:
        raise MarkError(f"Captions have at most {LONGEST_CAPTION} letters.")
    review_pairs.by_id(database(), review_id, pair_id)
    review_pairs.set_caption(database(), review_id, pair_id, words)
    return redirect(url_for("review.show", review_id=review_id, _anchor="pairs"))


@blueprint.post("/reviews/<int:review_id>/pairs/<int:pair_id>/remove")
def remove(review_id: int, pair_id: int) -> ResponseReturnValue:
    asked.review(review_id)
    review_pairs.take_out(database(), review_id, pair_id)
    return redirect(url_for("review.show", review_id=review_id, _anchor="pairs"))
