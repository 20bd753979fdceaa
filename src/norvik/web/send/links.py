"""Links to a review: made, copied, counted, taken back; and the list of a whole evening."""

from __future__ import annotations

import os
from dataclasses import dataclass
from datetime import date

from flask import Blueprint, Response, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.store import review_links
from norvik.store.made_films import MadeFilm
from norvik.store.review_links import ReviewLink
from norvik.store.swimmers import Swimmer
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.language import day, times
from norvik.web.shared.review_address import code_svg, page_address
from norvik.workflow import access
from norvik.workflow.send.evening import EVENING_DAYS, Finished, make_links
from norvik.workflow.send.evening import evening as finished_lately
from norvik.workflow.send.links import (
    DAYS,
    Receiver,
    films_to_send,
    make_link,
    receiver_of,
)
from norvik.workflow.send.mail import words_for
from norvik.workflow.talk.films import SHAPE_WORDS

blueprint = Blueprint("send", __name__)

_FILM_NAMES = {"talk": "Talk", "clip": "Clip with its drawings", "cycle": "One cycle",
               "pair": "Side by side"}  # fmt: skip


def film_words(film: MadeFilm) -> str:
    kind = _FILM_NAMES.get(str(film.made_of.get("what")), "Film")
    return f"{kind}, {SHAPE_WORDS.get(str(film.made_of.get('shape')), '')}".rstrip(", ")


@dataclass(frozen=True, slots=True)
class Shown:
    """A link as the coach sees it. words: to copy."""

    link: ReviewLink
    address: str
    words: str
    opens: bool
    film: str


def _shown(link: ReviewLink, swimmer: Swimmer, films: dict[int, str]) -> Shown:
    address = page_address(link)
    return Shown(
        link, address, text_of(link, swimmer), link.opens(date.today().isoformat()),
        films.get(link.film_id or 0, ""),
    )  # fmt: skip


def text_of(link: ReviewLink, swimmer: Swimmer) -> str:
    return words_for(
        swimmer, receiver_of(swimmer), page_address(link), day(link.valid_until), current_user.name
    )


@blueprint.get("/reviews/<int:review_id>/send/")
def show(review_id: int) -> ResponseReturnValue:
    """The links of a review, and making one."""
    judged = asked.judged_review(review_id)
    films = films_to_send(database(), review_id)
    named = {f.id: film_words(f) for f in films}
    found = [
        _shown(x, judged.swimmer, named) for x in review_links.of_review(database(), review_id)
    ]
    return render_template(
        "send/page.html",
        judged=judged,
        review=judged.review,
        clip=judged.clips[0].clip if judged.clips else None,
        links=found,
        films=[(f.id, film_words(f)) for f in films],
        receiver=receiver_of(judged.swimmer),
        days=DAYS,
        can_mail=bool(os.environ.get("NORVIK_SMTP")),
    )


@blueprint.post("/reviews/<int:review_id>/links")
def make(review_id: int) -> ResponseReturnValue:
    judged, form = asked.judged_review(review_id), request.form
    days = form.get("days", DAYS, type=int)
    made = make_link(
        database(), judged, form.get("film", type=int), days, current_user.id, date.today()
    )
    return redirect(url_for("send.show", review_id=review_id, _anchor=f"link-{made.id}"))


@blueprint.post("/reviews/<int:review_id>/links/<int:link_id>/take-back")
def take_back(review_id: int, link_id: int) -> ResponseReturnValue:
    """It opens nothing from now on."""
    review = asked.review(review_id)
    review_links.take_back(database(), review_links.by_id(database(), review.id, link_id).id)
    return redirect(url_for("send.show", review_id=review_id))


@blueprint.get("/reviews/<int:review_id>/links/<int:link_id>/code.svg")
def code(review_id: int, link_id: int) -> ResponseReturnValue:
    """The link as a QR code (ISO/IEC 18004), for paper."""
    review = asked.review(review_id)
    link = review_links.by_id(database(), review.id, link_id)
    return Response(code_svg(link), mimetype="image/svg+xml")


# ---- a whole evening ----


@dataclass(frozen=True, slots=True)
class Row:
    """One review of the evening as the page shows it."""

    review_id: int
    filmed_on: str
    swimmer: Swimmer
    receiver: Receiver
    shown: Shown | None
    film: str


def evening_rows() -> list[Row]:
    return [_row(one) for one in finished_lately(database(), asked.within(), date.today())]


def _row(one: Finished) -> Row:
    named = {f.id: film_words(f) for f in one.films}
    return Row(
        one.review.id, one.review.filmed_on, one.swimmer, one.receiver,
        _shown(one.link, one.swimmer, named) if one.link else None,
        film_words(one.films[0]) if one.films else "",
    )  # fmt: skip


@blueprint.get("/send/")
def evening() -> ResponseReturnValue:
    """Every finished review of the last days, with its link."""
    return render_template(
        "send/evening.html", rows=evening_rows(), days=EVENING_DAYS,
        can_mail=bool(os.environ.get("NORVIK_SMTP")),
    )  # fmt: skip


@blueprint.post("/send/links")
def make_all() -> ResponseReturnValue:
    """A link for every review on the list that has none and may have one."""
    made = make_links(database(), asked.within(), current_user.id, date.today())
    flash(f"{times(made, 'link')} made.", "sent")
    return redirect(url_for("send.evening"))


@blueprint.post("/answers/<int:answer_id>/seen")
def seen(answer_id: int) -> ResponseReturnValue:
    """The coach has seen what a swimmer answered."""
    access.answer(database(), asked.person(), answer_id, asked.deed())
    review_links.set_seen(database(), answer_id)
    return redirect(url_for("today.show"))
