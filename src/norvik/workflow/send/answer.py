"""What a swimmer answers on the page behind a link: into the plan's log, and to the coach."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

from norvik.core.errors import LinkError
from norvik.core.judging.coaching_model import BODY_PARTS
from norvik.core.prescription.plan import Session
from norvik.store import pains, plans, review_links
from norvik.store.connection import transaction
from norvik.store.plans import OUTCOMES
from norvik.store.review_links import ReviewLink
from norvik.store.swimmers import Swimmer
from norvik.workflow.note_training import MOST_LETTERS, note_training
from norvik.workflow.plans import SwimmerPlan, worked_out

#: Answers that a link takes in a day: nobody trains more often.
MOST_A_DAY = 40
#: Sessions that are shown: of the week that is, and what was left open before.
DAYS_SHOWN, DAYS_BACK = 7, 3


@dataclass(frozen=True, slots=True)
class Answer:
    """key: made by the phone, so that an answer sent twice counts once."""

    key: str
    session: str
    outcome: str
    felt: str
    pain: str
    words: str


def running_plan(connection: sqlite3.Connection, swimmer_id: int) -> SwimmerPlan | None:
    """The swimmer's newest plan that has not been ended."""
    found = next((p for p in plans.of_swimmer(connection, swimmer_id) if not p.ended_on), None)
    return worked_out(connection, found) if found else None


def sessions_of(plan: SwimmerPlan | None, today: date) -> list[Session]:
    """This week's sessions, and the last days' in case they have not been noted."""
    if plan is None:
        return []
    first, last = today - timedelta(days=DAYS_BACK), today + timedelta(days=DAYS_SHOWN - 1)
    return [
        s for s in sorted(plan.plan.sessions, key=lambda s: s.on)
        if first <= s.on <= last and (s.on >= today or s.key not in plan.trained)
    ]  # fmt: skip


def take_answer(
    connection: sqlite3.Connection, link: ReviewLink, swimmer: Swimmer, answer: Answer
) -> None:
    """Keep an answer. Pain blocks at once what loads the part. Raises LinkError and PlanError."""
    day_ago = (datetime.now(UTC) - timedelta(days=1)).strftime("%Y-%m-%dT%H:%M:%SZ")
    if review_links.answers_since(connection, link.id, day_ago) >= MOST_A_DAY:
        raise LinkError("That was a lot for one day. Talk to your coach.")
    if not 8 <= len(answer.key) <= 64:
        raise LinkError("This page is too old. Reload it and send your answer again.")
    pain = answer.pain if answer.pain in BODY_PARTS else ""
    words = " ".join(answer.words.split())[:MOST_LETTERS]
    outcome = answer.outcome if answer.outcome in OUTCOMES else ""
    if not (outcome or pain or words):
        raise LinkError("Choose what you did, or write a sentence.")
    plan = running_plan(connection, swimmer.id) if answer.session else None
    felt = int(answer.felt) if answer.felt.isdecimal() and 1 <= int(answer.felt) <= 10 else None
    with transaction(connection):
        new = review_links.add_answer(
            connection, link.id, answer.key, plan.stored.id if plan else None, answer.session,
            outcome, felt, pain, words,
        )  # fmt: skip
        if not new:
            return
        if plan is not None and outcome:
            note_training(connection, None, plan, answer.session, outcome, answer.felt, words, pain)
        elif pain:
            pains.note(connection, swimmer.id, pain, words or "reported on the review page")
