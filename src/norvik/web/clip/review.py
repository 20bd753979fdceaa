"""The review: one page for the swimmer, to print or to send as one file."""

from __future__ import annotations

import base64
import re
from datetime import date
from pathlib import Path

from flask import Blueprint, current_app, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_wtf import FlaskForm
from wtforms import DateField, TextAreaField
from wtforms.validators import Length, Optional

from norvik.core.errors import MarkError
from norvik.core.judging.coaching_model import Fault
from norvik.store import reviews
from norvik.store.connection import transaction
from norvik.web.clip.numbers import panel
from norvik.web.clip.review_pdf import review_pdf
from norvik.web.clip.stills import kept_stills, measures_of, still_jpeg
from norvik.web.draw.clock_face import aim_words, clock_face
from norvik.web.draw.fault_figure import fault_figure
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.downloads import attachment
from norvik.workflow.clip_judgement import judge_clip
from norvik.workflow.review_document import ReviewDocument, review_document

blueprint = Blueprint("review", __name__, url_prefix="/clips/<int:clip_id>/review")

_STILL_WIDTH = 960


class WordsForm(FlaskForm):
    words = TextAreaField(
        "In your words",
        validators=[Length(max=2000, message="At most 2000 characters.")],
    )
    film_again_on = DateField("Film again on", validators=[Optional()])


@blueprint.route("/", methods=["GET", "POST"])
def show(clip_id: int) -> ResponseReturnValue:
    document = _document(clip_id)
    form = WordsForm(words=document.judgement.review.words, film_again_on=document.film_again_on)
    if form.validate_on_submit():
        again = form.film_again_on.data
        with transaction(database()):
            reviews.set_words(
                database(),
                clip_id,
                (form.words.data or "").strip(),
                again.isoformat() if again else None,
            )
            if "done" in request.form:
                reviews.set_done(database(), clip_id, request.form["done"] == "yes")
        return redirect(url_for("review.show", clip_id=clip_id))
    page = render_template(
        "review/page.html",
        form=form,
        document=document,
        clip=document.judgement.clip,
        panel=panel(document.judgement.timed),
        fault_figure=fault_figure,
        clock_face=clock_face,
        aim_words=aim_words,
        still=lambda frame, fault=None: url_for(
            "stills.picture_file",
            clip_id=clip_id,
            frame=frame,
            kind="jpg",
            of=fault.id if fault else None,
        ),
        kept=kept_stills(document.judgement.timed),
        editing=True,
    )
    return page, 422 if form.errors else 200


@blueprint.post("/words")
def keep_words(clip_id: int) -> ResponseReturnValue:
    """What is typed is kept as it is typed; nothing of it waits for a button."""
    document = _document(clip_id)
    form = WordsForm()
    if not form.validate_on_submit():
        raise MarkError(next(e for errors in form.errors.values() for e in errors))
    again = form.film_again_on.data or document.film_again_on
    words = (form.words.data or "").strip()
    reviews.set_words(database(), clip_id, words, again.isoformat() if again else None)
    return "", 204


@blueprint.get("/file")
def download(clip_id: int) -> ResponseReturnValue:
    """The same review as one HTML file that needs nothing else."""
    document = _document(clip_id)
    clip = document.judgement.clip

    def still(frame: int, fault: Fault | None = None) -> str:
        measures = measures_of(fault) if fault else None
        picture = still_jpeg(document.judgement.timed, frame, _STILL_WIDTH, measures)
        return f"data:image/jpeg;base64,{base64.b64encode(picture).decode('ascii')}"

    page = render_template(
        "review/file.html",
        document=document,
        clip=clip,
        panel=panel(document.judgement.timed),
        still=still,
        fault_figure=fault_figure,
        clock_face=clock_face,
        aim_words=aim_words,
        styles=_inline_styles(),
        kept=kept_stills(document.judgement.timed),
        editing=False,
    )
    return attachment(page, f"review {clip.swimmer_name} {clip.filmed_on}.html", "text/html")


@blueprint.get("/review.pdf")
def paper(clip_id: int) -> ResponseReturnValue:
    """The same review on paper."""
    document = _document(clip_id)
    timed, clip = document.judgement.timed, document.judgement.clip

    def picture(frame: int, fault: Fault | None) -> bytes:
        return still_jpeg(timed, frame, _STILL_WIDTH, measures_of(fault) if fault else None)

    data = review_pdf(document, panel(timed), picture, kept_stills(timed))
    return attachment(data, f"review {clip.swimmer_name} {clip.filmed_on}.pdf", "application/pdf")


def _document(clip_id: int) -> ReviewDocument:
    clip = asked.ready_clip(clip_id)
    return review_document(judge_clip(database(), clip), date.today())


def _inline_styles() -> str:
    """The stylesheet with the fonts inside."""
    folder = Path(str(current_app.static_folder))
    styles = (folder / "css/norvik.css").read_text(encoding="utf-8")

    def inside(found: re.Match[str]) -> str:
        data = (folder / "fonts" / found.group(1)).read_bytes()
        return f"url(data:font/woff2;base64,{base64.b64encode(data).decode('ascii')})"

    return re.sub(r"url\([\"']?[^)\"']*/([\w-]+\.woff2)[\"']?\)", inside, styles)
