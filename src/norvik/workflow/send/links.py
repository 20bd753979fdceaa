"""Who may be sent a link to a review, to which address, and making one."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from norvik.core.errors import LinkError, NotFoundError
from norvik.store import clips, made_films, review_links, talks
from norvik.store.made_films import MadeFilm
from norvik.store.review_links import ReviewLink
from norvik.store.swimmers import Swimmer
from norvik.workflow import trail
from norvik.workflow.review_judgement import ReviewJudgement
from norvik.workflow.side_by_side.choices import require_leave
from norvik.workflow.talk.assemble import assemble

#: Days that a link opens, unless the coach says otherwise.
DAYS = 30
MOST_DAYS = 400


_NOT_ALLOWED = (
    "has not allowed that reviews are sent, or not any more. Consent is noted on their page."
)


@dataclass(frozen=True, slots=True)
class Receiver:
    """Whom a link goes to. address: may be empty, then the coach copies the link by hand.

    why_not: why no link may be made; empty where one may.
    """

    name: str
    address: str
    guardian: bool
    why_not: str = ""


def receiver_of(swimmer: Swimmer) -> Receiver:
    """A grown swimmer gets the link, of a minor only the guardian and only with consent."""
    if not swimmer.minor:
        why = "" if swimmer.allows("sending") else f"{swimmer.name} {_NOT_ALLOWED}"
        return Receiver(swimmer.name, swimmer.email, False, why)
    why = ""
    if not swimmer.allows("sending"):
        why = (
            f"{swimmer.name} is under 18 and no guardian allows that reviews are sent, or not any "
            "more. Consent is noted on the swimmer's page."
        )
    elif not swimmer.guardian_email:
        why = f"{swimmer.name} is under 18: the link goes to the guardian, whose e-mail is missing."
    return Receiver(f"guardian of {swimmer.name}", swimmer.guardian_email, True, why)


def make_link(
    connection: sqlite3.Connection, judged: ReviewJudgement, film_id: int | None, days: int,
    user_id: int | None, today: date,
) -> ReviewLink:  # fmt: skip
    """A link to a review that opens for so many days. Raises LinkError."""
    receiver = receiver_of(judged.swimmer)
    if receiver.why_not:
        raise LinkError(receiver.why_not)
    if not 1 <= days <= MOST_DAYS:
        raise LinkError(f"A link is valid for 1 to {MOST_DAYS} days.")
    if film_id is not None:
        film = made_films.by_id(connection, film_id)
        if film.review_id != judged.review.id:
            raise LinkError("This film belongs to another review. Reload the page.")
        _check_films(connection, judged, film)
    until = (today + timedelta(days=days)).isoformat()
    made = review_links.add(connection, judged.review.id, until, film_id, user_id)
    trail.note(
        connection, user_id, "link-made", "review", judged.review.id, judged.swimmer.id,
        words=f"until {until}",
    )  # fmt: skip
    return review_links.by_id(connection, judged.review.id, made)


def _check_films(connection: sqlite3.Connection, judged: ReviewJudgement, film: MadeFilm) -> None:
    """Other swimmers who are on the film must have leave to be shown. Raises ForbiddenError."""
    if film.made_of.get("what") != "talk":
        return
    talk = talks.by_id(connection, film.made_of["talk_id"])
    one = judged.clips[0].clip if judged.clips else None
    for clip_id in assemble(connection, talk).clips:
        try:
            require_leave(connection, one, clips.by_id(connection, clip_id))
        except NotFoundError:
            continue


def films_to_send(connection: sqlite3.Connection, review_id: int) -> Sequence[MadeFilm]:
    """Films of a review that can go along with a link, those of talks first, the newest first."""
    found = [f for f in made_films.of_review(connection, review_id) if not f.path.endswith(".gif")]
    return sorted(found, key=lambda f: (f.made_of.get("what") != "talk", -f.id))
