"""The page behind a link: talk, review, drills, this week's sessions, and what one answers.

Whoever has the address sees this one review and nothing else. Every address here begins with the
token, and everything is looked up from it: an address that names anything more than a place on this
page does not exist. A token that never was, has run out or was taken back gets the same answer.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import wraps
from typing import Any

from flask import Blueprint, Response, jsonify, make_response, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import NotFoundError, NotReadyError
from norvik.core.judging.coaching_model import BODY_PARTS
from norvik.formats.captions_vtt import write_captions
from norvik.store import review_links
from norvik.store.made_films import MadeFilm
from norvik.store.review_links import ReviewLink
from norvik.web.clip.stills import measures_of, still_jpeg
from norvik.web.draw.drill_figure import loop_svg, still_svg
from norvik.web.footage.media import still_file
from norvik.web.shared.database import database, footage
from norvik.web.shared.kept_file import kept_file
from norvik.workflow import trail
from norvik.workflow.drill_films import film_of_drill
from norvik.workflow.review_document import Still
from norvik.workflow.send.answer import Answer, take_answer
from norvik.workflow.send.links import receiver_of
from norvik.workflow.send.opened import (
    Opened,
    film_behind,
    open_link,
    swimmer_behind,
    talk_of_film,
)

blueprint = Blueprint("link", __name__, url_prefix="/r/<token>")
View = Callable[..., ResponseReturnValue]

#: Width of pictures on a phone, in pixels.
_WIDTH = 480


def by_token(view: View) -> View:
    """Hands the link of a token to a view, or answers that there is none."""

    @wraps(view)
    def found(token: str, **named: Any) -> ResponseReturnValue:
        link = review_links.of_token(database(), token, date.today().isoformat())
        if link is None or not _still_allowed(link):
            return private(make_response(render_template("link/closed.html"), 404))
        return private(make_response(view(link, **named)))

    return found


def _still_allowed(link: ReviewLink) -> bool:
    """A consent that was withdrawn or has run out closes what was sent before."""
    try:
        return not receiver_of(swimmer_behind(database(), link)).why_not
    except NotFoundError:
        return False


def private(answer: Response) -> Response:
    """No search engine lists it, and no other page is told its address."""
    answer.headers["X-Robots-Tag"] = "noindex, nofollow"
    answer.headers["Referrer-Policy"] = "no-referrer"
    answer.headers.setdefault("Cache-Control", "private, no-cache")
    return answer


def _all(link: ReviewLink) -> Opened:
    return open_link(database(), link, date.today())


def _film(link: ReviewLink) -> MadeFilm | None:
    film = film_behind(database(), link)
    return film if film is not None and footage().has(film.path) else None


def show(link: ReviewLink) -> ResponseReturnValue:
    found, goes_along = _all(link), _film(link)
    review_links.count_opening(database(), link.id)
    trail.note(
        database(), getattr(current_user, "id", None), "link-opened", "review", link.review_id,
        found.document.judgement.swimmer.id, address=request.remote_addr or "",
    )  # fmt: skip
    talk = talk_of_film(database(), goes_along)
    return render_template(
        "link/page.html",
        o=found,
        j=found.document.judgement,
        film=goes_along,
        number=lambda still: found.stills.index(still),
        shown=lambda drill: still_svg(drill.id) is not None,
        filmed={d for d in found.drills if film_of_drill(database(), d)},
        chapters=[(c.at_ms / 1000, c.words) for c in talk.chapters] if talk else [],
        parts=BODY_PARTS,
        today=date.today(),
        by_link=request.blueprint == "link",
    )


def film(link: ReviewLink) -> ResponseReturnValue:
    found = _film(link)
    if found is None:
        raise NotFoundError("This film has been deleted.")
    return kept_file(footage().at_hand(found.path), mimetype="video/mp4")


def captions(link: ReviewLink) -> ResponseReturnValue:
    talk = talk_of_film(database(), _film(link))
    cues = [(c.at_ms, c.to_ms, c.words) for c in talk.captions] if talk else []
    return Response(write_captions(cues), mimetype="text/vtt")


def still(link: ReviewLink, n: int) -> ResponseReturnValue:
    """The n-th picture of the page."""
    found = _all(link)
    if n >= len(found.stills):
        raise NotFoundError("This picture has been deleted.")
    one = found.stills[n]
    plain = still_file(one.clip, one.frame, _WIDTH).read_bytes() if one.plain else None
    answer = Response(plain or _drawn(found, one), mimetype="image/jpeg")
    answer.headers["Cache-Control"] = "private, max-age=86400"
    return answer


def _drawn(found: Opened, one: Still) -> bytes:
    """With what is drawn and measured for the point that it shows."""
    focus = next((f for f in found.document.focuses if one in f.stills), None)
    for judged in found.document.judgement.clips:
        if judged.clip.id == one.clip.id:
            measures = measures_of(focus.ranked.fault) if focus else None
            return still_jpeg(judged.timed, one.frame, _WIDTH, measures)
    raise NotReadyError("This picture is being prepared.")


def drill(link: ReviewLink, drill_id: str, what: str) -> ResponseReturnValue:
    """The figure of a drill of this page, standing or moving."""
    draw = still_svg if what == "still" else loop_svg
    picture = draw(drill_id) if drill_id in _all(link).drills else None
    if picture is None:
        raise NotFoundError("This drill is not on the page.")
    answer = Response(picture, mimetype="image/svg+xml")
    answer.headers["Cache-Control"] = "private, max-age=86400"
    answer.headers["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'"
    return answer


def drill_film(link: ReviewLink, drill_id: str) -> ResponseReturnValue:
    """The coach's own film of a drill of this page."""
    found = film_of_drill(database(), drill_id) if drill_id in _all(link).drills else None
    path = footage().at_hand(found.path) if found else None
    if path is None or not path.is_file():
        raise NotFoundError("This drill has no film.")
    return kept_file(path, mimetype="video/mp4")


def answer(link: ReviewLink) -> ResponseReturnValue:
    """What was done, how it felt, what hurts, and a sentence."""
    form = request.form
    take_answer(
        database(), link, swimmer_behind(database(), link),
        Answer(form.get("key", ""), form.get("session", ""), form.get("outcome", ""),
               form.get("felt", ""), form.get("pain", ""), form.get("words", "")),
    )  # fmt: skip
    trail.note(
        database(), getattr(current_user, "id", None), "answered", "review", link.review_id,
        swimmer_behind(database(), link).id, address=request.remote_addr or "",
    )  # fmt: skip
    pain = form.get("pain", "") in BODY_PARTS
    said = "Sent to your coach."
    if pain:
        said += " Drills that load it are left out from now on. See a doctor if it stays."
    return jsonify(sentence=said)


def worker(link: ReviewLink) -> ResponseReturnValue:
    """Keeps the page, its pictures and its drills on the phone; the film stays where it is."""
    return Response(render_template("link/worker.js"), mimetype="text/javascript")


def add_views(to: Blueprint, opened: Callable[[View], View], below: str = "") -> None:
    """The same page behind another door. opened: hands a link to a view, if somebody may."""
    for rule, method, view in _VIEWS:
        to.add_url_rule(below + rule, view.__name__, opened(view), methods=[method])


_VIEWS: tuple[tuple[str, str, View], ...] = (
    ("/", "GET", show),
    ("/film.mp4", "GET", film),
    ("/captions.vtt", "GET", captions),
    ("/still/<int:n>.jpg", "GET", still),
    ("/drill/<drill_id>.<any(still,loop):what>.svg", "GET", drill),
    ("/drill/<drill_id>.mp4", "GET", drill_film),
    ("/answers", "POST", answer),
    ("/worker.js", "GET", worker),
)
add_views(blueprint, by_token)
