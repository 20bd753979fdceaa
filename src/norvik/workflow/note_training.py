"""Note what was done of a session, how hard it felt, and pain: that blocks what loads the part."""

from __future__ import annotations

import sqlite3

from norvik.core.errors import PlanError
from norvik.core.judging.coaching_model import BODY_PARTS
from norvik.store import pains, plans
from norvik.store.plans import OUTCOMES, Trained
from norvik.store.undo import Step
from norvik.workflow.change_plan import undoable_plan
from norvik.workflow.plans import SwimmerPlan, freeze

#: Letters of a note.
MOST_LETTERS = 300


def note_training(
    connection: sqlite3.Connection, user_id: int | None, plan: SwimmerPlan, key: str,
    outcome: str, felt: str = "", note: str = "", pain: str = "",
) -> Step:  # fmt: skip
    """Note a session; an outcome that is none of OUTCOMES clears it.

    felt: effort as it was typed, "1" to "10" or empty. pain: a part of the body, or empty. Raises
    PlanError for an effort that is none, NotFoundError for a session that the plan does not have.
    """
    session, plan_id = plan.plan.session(key), plan.stored.id
    if outcome not in OUTCOMES:
        with undoable_plan(connection, user_id, plan_id) as step:
            step.text = "Session cleared."
            plans.forget_training(connection, plan_id, key)
        return step
    effort, words = _effort(felt), note.strip()[:MOST_LETTERS]
    with undoable_plan(connection, user_id, plan_id) as step:
        step.text = f"Session noted: {outcome}."
        trained = Trained(key, outcome, effort, words, freeze(session))
        plans.note_training(connection, plan_id, trained)
        if pain in BODY_PARTS:
            pains.note(connection, plan.swimmer.id, pain, words or f"after session {key}")
    return step


def _effort(text: str) -> int | None:
    """How hard it felt, 1 to 10, as it was typed; None for nothing. Raises PlanError."""
    words = text.strip()
    felt = int(words) if words.isdecimal() and len(words) < 3 else None
    if words and not (felt and 1 <= felt <= 10):
        raise PlanError("Effort is a whole number from 1 to 10, or stays empty.")
    return felt
