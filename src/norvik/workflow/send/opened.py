"""What a link opens: one review, the film that goes along, and this week's sessions."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date

from norvik.core.errors import NotFoundError
from norvik.core.judging.coaching_model import Drill
from norvik.core.prescription.plan import Session
from norvik.store import made_films, reviews, talks
from norvik.store.made_films import MadeFilm
from norvik.store.review_links import ReviewLink
from norvik.store.swimmers import Swimmer
from norvik.workflow.plans import SwimmerPlan
from norvik.workflow.review_document import ReviewDocument, Still, review_document
from norvik.workflow.review_judgement import judge_review
from norvik.workflow.send.answer import running_plan, sessions_of
from norvik.workflow.talk.assemble import AssembledTalk, assemble


@dataclass(frozen=True)
class Opened:
    """All that a link shows. stills: pictures of the page, by their number in its addresses."""

    link: ReviewLink
    document: ReviewDocument
    stills: tuple[Still, ...]
    drills: dict[str, Drill]
    plan: SwimmerPlan | None
    sessions: tuple[Session, ...]


def open_link(connection: sqlite3.Connection, link: ReviewLink, today: date) -> Opened:
    """The token is the permission: nothing else is asked."""
    judged = judge_review(connection, reviews.by_id(connection, link.review_id))
    document = review_document(judged, today)
    stills = [f.stills[0] for f in document.focuses if f.stills]
    stills += [s.still for s in document.strengths if s.still]
    plan = running_plan(connection, judged.swimmer.id)
    sessions = sessions_of(plan, today)
    drills = {d.id: d for f in document.focuses for d in f.drills}
    for session in sessions:
        assert plan is not None  # its sessions come from it
        drills |= {d.id: d for d in plan.drills_of(session)}
    return Opened(link, document, tuple(dict.fromkeys(stills)), drills, plan, tuple(sessions))


def swimmer_behind(connection: sqlite3.Connection, link: ReviewLink) -> Swimmer:
    return judge_review(connection, reviews.by_id(connection, link.review_id)).swimmer


def film_behind(connection: sqlite3.Connection, link: ReviewLink) -> MadeFilm | None:
    """The film that goes along; None where there is none, or none any more."""
    if link.film_id is None:
        return None
    try:
        return made_films.by_id(connection, link.film_id)
    except NotFoundError:
        return None


def talk_of_film(connection: sqlite3.Connection, film: MadeFilm | None) -> AssembledTalk | None:
    """The talk that a film shows; None where it was mended since: its places are others now."""
    if film is None or film.made_of.get("what") != "talk":
        return None
    try:
        talk = talks.by_id(connection, film.made_of["talk_id"])
    except NotFoundError:
        return None
    return assemble(connection, talk) if talk.revision == film.made_of["revision"] else None
