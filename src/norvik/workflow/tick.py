"""Tick what is seen on a clip, and say how a focus in training looks in a review."""

from __future__ import annotations

import sqlite3

from norvik.core.errors import ChoiceError
from norvik.core.judging.coaching_model import Catalogue
from norvik.core.strokes.names import BODY_SIDES
from norvik.store import focus_answers, observations
from norvik.store.clips import Clip
from norvik.store.focus_answers import ANSWERS
from norvik.store.observations import DEGREES, Sighting
from norvik.store.undo import Step, undoable
from norvik.workflow.choose import one_step
from norvik.workflow.clip_judgement import ClipJudgement
from norvik.workflow.review_judgement import StrokeJudgement


def tick(
    connection: sqlite3.Connection, user_id: int, judgement: ClipJudgement, what: str, side: str,
    degree: str, frame: int | None,
) -> Step:  # fmt: skip
    """Tick a fault or strength on a judged clip; see `tick_on`."""
    return tick_on(
        connection, user_id, judgement.clip, judgement.catalogue, what, side, degree, frame
    )


def tick_on(
    connection: sqlite3.Connection, user_id: int, clip: Clip, tables: Catalogue, what: str,
    side: str, degree: str, frame: int | None,
) -> Step:  # fmt: skip
    """Tick a fault or strength with side and degree; an empty degree removes the tick.

    frame: the one that was seen; one outside of the clip is left out. Raises ChoiceError for what
    is not on the sheet.
    """
    known = tables.faults.get(what) or tables.strengths.get(what)
    if known is None or side not in BODY_SIDES or (side and not known.sided):
        raise ChoiceError("This is not on the list. Reload the page.")
    if frame is not None and not clip.holds(frame):
        frame = None
    with undoable(connection, user_id, [("sightings", "clip_id", clip.id)]) as step:
        if degree in DEGREES:
            observations.put(connection, clip.id, Sighting(what, side, degree, frame))
            step.text = f"{known.name}: {degree}."
        else:
            observations.remove(connection, clip.id, what, side)
            step.text = f"{known.name}: tick removed."
    return step


def answer(
    connection: sqlite3.Connection, user_id: int, judgement: StrokeJudgement, fault: str,
    said: str, was: str | None = None,
) -> Step:  # fmt: skip
    """How a focus in training looks in this review; the same answer again removes it.

    was: the answer that the person saw: what somebody else has answered meanwhile is not removed.
    """
    if fault not in in_training(connection, judgement) or said not in ANSWERS:
        raise ChoiceError("This focus is no longer in training. Reload the page.")
    review_id, stroke = judgement.review.id, judgement.stroke
    with one_step(connection, user_id, review_id) as step:
        if focus_answers.of_review(connection, review_id, stroke).get(fault) == said:
            if was in (None, said):
                focus_answers.remove(connection, review_id, stroke, fault)
        else:
            focus_answers.put(connection, review_id, stroke, fault, said)
        step.text = f"{judgement.catalogue.faults[fault].name}: answer changed."
    return step


def in_training(connection: sqlite3.Connection, judgement: StrokeJudgement) -> list[str]:
    """Faults that were chosen in earlier reviews and are not resolved, oldest first."""
    review = judgement.review
    found = focus_answers.in_training(
        connection, judgement.swimmer.id, judgement.stroke, review.filmed_on, review.id
    )
    return [f for f in found if f in judgement.catalogue.faults]
