"""The list of a whole evening: reviews that were finished lately, with their links."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from norvik.core.errors import ForbiddenError, LinkError
from norvik.store import review_links, reviews, swimmers
from norvik.store.made_films import MadeFilm
from norvik.store.review_links import ReviewLink
from norvik.store.reviews import Review
from norvik.store.scope import Within
from norvik.store.swimmers import Swimmer
from norvik.workflow.review_judgement import judge_review
from norvik.workflow.send.links import DAYS, Receiver, films_to_send, make_link, receiver_of

#: Own choice: reviews of so many days stand on the list, and at most so many of them.
EVENING_DAYS = 14
_MOST = 60


@dataclass(frozen=True, slots=True)
class Finished:
    """One review of the evening. receiver: whom its link goes to. link: that opens it, if any.
    films: that may go along, the best first.
    """

    review: Review
    swimmer: Swimmer
    receiver: Receiver
    link: ReviewLink | None
    films: Sequence[MadeFilm]

    @property
    def wants_link(self) -> bool:
        return self.link is None and not self.receiver.why_not


def evening(connection: sqlite3.Connection, within: Within, today: date) -> list[Finished]:
    """Reviews of these swimmers that were finished in the last days, newest day first."""
    since = (today - timedelta(days=EVENING_DAYS)).isoformat()
    found = []
    for review in reviews.finished(connection, _MOST, within):
        if review.swimmer_id is None or (review.done_at or "") < since:
            continue
        swimmer = swimmers.by_id(connection, review.swimmer_id)
        found.append(Finished(
            review, swimmer, receiver_of(swimmer),
            review_links.open_one(connection, review.id, today.isoformat()),
            films_to_send(connection, review.id),
        ))  # fmt: skip
    return found


def make_links(
    connection: sqlite3.Connection, within: Within, user_id: int | None, today: date
) -> int:
    """A link for every review of the evening that has none and may have one; how many were made.

    One that cannot be made keeps no other waiting: its own page says why.
    """
    made = 0
    for one in evening(connection, within, today):
        if not one.wants_link:
            continue
        judged = judge_review(connection, one.review)
        film = one.films[0].id if one.films else None
        try:
            make_link(connection, judged, film, DAYS, user_id, today)
        except (LinkError, ForbiddenError):
            continue
        made += 1
    return made
