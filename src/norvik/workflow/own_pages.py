"""What a swimmer sees of their own, or a guardian of a child: finished reviews, plan and log."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.errors import NotFoundError
from norvik.store import review_links, reviews, swimmers
from norvik.store.review_links import ReviewLink
from norvik.store.reviews import Review
from norvik.store.swimmers import Swimmer
from norvik.workflow.access import Person, require
from norvik.workflow.plans import SwimmerPlan
from norvik.workflow.send.answer import running_plan
from norvik.workflow.send.links import films_to_send


@dataclass(frozen=True)
class OwnPages:
    """One swimmer. reviews: the finished ones, the newest first. plan: the running one."""

    swimmer: Swimmer
    reviews: tuple[Review, ...]
    plan: SwimmerPlan | None


def own_pages(connection: sqlite3.Connection, who: Person) -> list[OwnPages]:
    """All whose pages this account opens, by name."""
    found = swimmers.all_by_name(connection, who.within)
    return [
        OwnPages(
            s,
            tuple(r for r in reviews.of_swimmer(connection, s.id) if r.done_at),
            running_plan(connection, s.id),
        )
        for s in found
    ]


def own_review(
    connection: sqlite3.Connection, who: Person, swimmer_id: int, review_id: int
) -> ReviewLink:
    """A finished review of this account's swimmer. Raises ForbiddenError or NotFoundError."""
    require(who, "own", [(swimmer_id, None)])
    swimmers.by_id(connection, swimmer_id)
    review = reviews.by_id(connection, review_id)
    if review.swimmer_id != swimmer_id or not review.done_at:
        raise NotFoundError("This review is not finished yet, or has been deleted.")
    film = next(iter(films_to_send(connection, review_id)), None)
    return review_links.for_account(connection, review_id, who.id, film.id if film else None)
