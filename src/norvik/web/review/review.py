"""The review: one page for the swimmer, to print or to send as one file."""

from __future__ import annotations

import base64
import re
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from functools import partial
from pathlib import Path

from flask import Blueprint, current_app, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user
from flask_wtf import FlaskForm
from wtforms import DateField, HiddenField, TextAreaField
from wtforms.validators import Length, Optional

from norvik.core.errors import MarkError
from norvik.core.judging.coaching_model import Fault
from norvik.core.strokes.names import Side
from norvik.store import review_links, reviews
from norvik.store.connection import transaction
from norvik.store.review_links import ReviewLink
from norvik.web.beside.pair_pictures import Source, address, data, pair_figures, pair_jpegs
from norvik.web.clip.numbers import Panel, panel
from norvik.web.clip.stills import KeptStill, kept_stills, measures_of, still_jpeg
from norvik.web.draw.clock_face import aim_words, clock_face
from norvik.web.draw.drill_figure import drill_loop_image
from norvik.web.draw.fault_figure import fault_figure, figure_at
from norvik.web.review.review_pdf import review_pdf
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.downloads import attachment
from norvik.web.shared.review_address import code_svg
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.review_document import FocusPage, ReviewDocument, Still, review_document
from norvik.workflow.same_phase import phase_for

blueprint = Blueprint("review", __name__)

_STILL_WIDTH = 960


@dataclass(frozen=True, slots=True)
class ForTheRecord:
    """What one clip adds below the review: its numbers and its kept stills."""

    timed: ClipTiming
    panel: Panel
    kept: list[KeptStill]

    def still(self, frame: int) -> Still:
        return Still(self.timed.clip, frame, self.timed.time_base.time_of(frame))


class WordsForm(FlaskForm):
    words = TextAreaField(
        "In your words",
        validators=[Length(max=2000, message="At most 2000 characters.")],
    )
    film_again_on = DateField("Film again on", validators=[Optional()])
    #: The words as they were when the page was opened: nobody overwrites somebody unknowingly.
    before = HiddenField()


@blueprint.get("/clips/<int:clip_id>/review/")
def of_clip(clip_id: int) -> ResponseReturnValue:
    """The review in which a clip is judged."""
    review = asked.review_of_clip(asked.ready_clip(clip_id))
    return redirect(url_for("review.show", review_id=review.id))


@blueprint.post("/clips/<int:clip_id>/review/")
def begin(clip_id: int) -> ResponseReturnValue:
    """A new review with a clip that stands apart; back to the page that asked for it."""
    asked.review_of_clip(asked.ready_clip(clip_id))
    page = request.form.get("page", "")
    if not page.startswith(f"/clips/{clip_id}/"):
        page = url_for("judge.show", clip_id=clip_id)
    return redirect(page)


@blueprint.route("/reviews/<int:review_id>/", methods=["GET", "POST"])
def show(review_id: int) -> ResponseReturnValue:
    document = _document(review_id)
    review = document.judgement.review
    form = WordsForm(words=review.words, film_again_on=document.film_again_on)
    if form.validate_on_submit():
        with transaction(database()):
            if _keep(review_id, form, document):
                if "done" in request.form:
                    reviews.set_done(database(), review_id, request.form["done"] == "yes")
                return redirect(url_for("review.show", review_id=review_id))
        form.words.errors = [_written_meanwhile(review_id, review.words)]
    form.before.data = review.words
    page = render_template(
        "review/page.html",
        form=form,
        still=lambda still, fault=None: _address(still, fault),
        editing=True,
        link=_open_link(review_id),
        **_shown(document),
    )
    return page, 422 if form.errors else 200


@blueprint.post("/reviews/<int:review_id>/words")
def keep_words(review_id: int) -> ResponseReturnValue:
    """What is typed is kept as it is typed; nothing of it waits for a button.

    Words that somebody else wrote since are not overwritten: 409 with theirs.
    """
    document = _document(review_id)
    form = WordsForm()
    if not form.validate_on_submit():
        raise MarkError(next(e for errors in form.errors.values() for e in errors))
    if not _keep(review_id, form, document):
        there = document.judgement.review.words
        return jsonify(sentence=_written_meanwhile(review_id, there), words=there), 409
    return "", 204


def _keep(review_id: int, form: WordsForm, document: ReviewDocument) -> bool:
    """False where the words have changed since the page was opened, and are not what is sent."""
    review = document.judgement.review
    words = (form.words.data or "").strip()
    before = request.form.get("before")
    if before is not None and _plain(review.words) not in (_plain(before), _plain(words)):
        return False
    again = form.film_again_on.data or document.film_again_on
    reviews.set_words(database(), review_id, words, again.isoformat(), current_user.id)
    return True


def _plain(text: str) -> str:
    """Forms send line ends of their own."""
    return text.replace("\r\n", "\n").strip()


def _written_meanwhile(review_id: int, words: str) -> str:
    who = reviews.words_by(database(), review_id) or "Somebody else"
    return (
        f"{who} has changed these words in the meantime: “{words[:200]}”. Copy what you typed, "
        "then reload the page."
    )


@blueprint.get("/reviews/<int:review_id>/file")
def download(review_id: int) -> ResponseReturnValue:
    """The same review as one HTML file that needs nothing else."""
    return attachment(review_page(review_id), f"{_name(_document(review_id))}.html", "text/html")


def review_page(review_id: int) -> str:
    """A review as an HTML document with its pictures and styles inside."""
    document = _document(review_id)

    def still(one: Still, fault: Fault | None = None) -> str:
        data = _picture(document)(one, fault)
        return f"data:image/jpeg;base64,{base64.b64encode(data).decode('ascii')}"

    return render_template(
        "review/file.html",
        still=still,
        styles=_inline_styles(),
        editing=False,
        **_shown(document, data),
    )


@blueprint.get("/reviews/<int:review_id>/review.pdf")
def paper(review_id: int) -> ResponseReturnValue:
    """The same review on paper."""
    document = _document(review_id)
    return attachment(
        review_pdf(document, _picture(document), pair_jpegs(review_id), _code(review_id)),
        f"{_name(document)}.pdf",
        "application/pdf",
    )


def _open_link(review_id: int) -> ReviewLink | None:
    return review_links.open_one(database(), review_id, date.today().isoformat())


def _code(review_id: int) -> str:
    """The link that opens this review on a phone, as a QR code; empty without one."""
    link = _open_link(review_id)
    return code_svg(link) if link else ""


def _name(document: ReviewDocument) -> str:
    j = document.judgement
    return f"review {j.swimmer.name} {j.review.filmed_on}"


def _document(review_id: int) -> ReviewDocument:
    return review_document(asked.judged_review(review_id), date.today())


def _shown(document: ReviewDocument, source: Source = address) -> dict[str, object]:
    """What the page and the file show alike."""
    clips = document.judgement.clips
    return {
        "document": document,
        "clip": clips[0].clip if clips else None,
        "record": [
            ForTheRecord(c.timed, panel(c.timed), kept)
            for c in clips
            if (kept := kept_stills(c.timed)) or c.timed.marks
        ],
        "figure_beside": _figure_beside,
        "pairs": pair_figures(document.judgement.review.id, source),
        "fault_figure": fault_figure,
        "drill_shown": partial(drill_loop_image, inside=source is not address),
        "clock_face": clock_face,
        "aim_words": aim_words,
    }


def _figure_beside(focus: FocusPage, still: Still) -> str:
    """The figure of how it should look, at the instant of a still; empty where it is not known."""
    timed = focus.judgement.of_clip(still.clip.id).timed
    side: Side = next((f.side for f in focus.ranked.findings if f.side), "")
    phase = phase_for(timed, still.time_s, side, focus.ranked.fault)
    return figure_at(timed.clip.stroke, phase, timed.clip.view) if phase is not None else ""


def _address(still: Still, fault: Fault | None) -> str:
    if still.plain:
        return url_for("media.still", clip_id=still.clip.id, frame=still.frame, w=_STILL_WIDTH)
    return url_for(
        "stills.picture_file", clip_id=still.clip.id, frame=still.frame, kind="jpg",
        of=fault.id if fault else None,
    )  # fmt: skip


def _picture(document: ReviewDocument) -> Callable[[Still, Fault | None], bytes]:
    timed = {c.clip.id: c.timed for c in document.judgement.clips}

    def picture(still: Still, fault: Fault | None) -> bytes:
        measures = measures_of(fault) if fault else None
        return still_jpeg(
            timed[still.clip.id], still.frame, _STILL_WIDTH, measures, plain=still.plain
        )

    return picture


def _inline_styles() -> str:
    """The stylesheet with the fonts inside."""
    folder = Path(str(current_app.static_folder))
    styles = (folder / "css/norvik.css").read_text(encoding="utf-8")

    def inside(found: re.Match[str]) -> str:
        data = (folder / "fonts" / found.group(1)).read_bytes()
        return f"url(data:font/woff2;base64,{base64.b64encode(data).decode('ascii')})"

    return re.sub(r"url\([\"']?[^)\"']*/([\w-]+\.woff2)[\"']?\)", inside, styles)
