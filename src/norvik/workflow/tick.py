"""Tick what is seen on a clip, and say how a focus in training looks on it."""

from __future__ import annotations

import sqlite3
from contextlib import AbstractContextManager

from norvik.core.errors import ChoiceError
from norvik.store import focus_answers, observations
from norvik.store.focus_answers import ANSWERS
from norvik.store.observations import DEGREES, Sighting
from norvik.store.undo import Step, undoable
from norvik.workflow.clip_judgement import Judgement

#: Everything that judging by eye changes of a clip, to be undone in one step.
TABLES = ("sightings", "focuses", "overrules", "focus_answers")


def tick(
    connection: sqlite3.Connection, user_id: int, judgement: Judgement, what: str, side: str,
    degree: str, frame: int | None,
) -> Step:  # fmt: skip
    """Tick a fault or strength with side and degree; an empty degree removes the tick.

    frame: the one that was seen; one outside of the clip is left out. Raises ChoiceError for what
    is not on the sheet.
    """
    known = judgement.catalogue.faults.get(what) or judgement.catalogue.strengths.get(what)
    if known is None or (side and not (known.sided and side in ("left", "right"))):
        raise ChoiceError("This is not on the list. Reload the page.")
    clip = judgement.clip
    if frame is not None and not clip.holds(frame):
        frame = None
    with one_step(connection, user_id, clip.id) as step:
        if degree in DEGREES:
            observations.put(connection, clip.id, Sighting(what, side, degree, frame))
            step.text = f"{known.name}: {degree}."
        else:
            observations.remove(connection, clip.id, what, side)
            step.text = f"{known.name}: tick removed."
    return step


def answer(
    connection: sqlite3.Connection, user_id: int, judgement: Judgement, fault: str, said: str
) -> Step:
    """How a focus in training looks on this clip; the same answer again removes it."""
    if fault not in in_training(connection, judgement) or said not in ANSWERS:
        raise ChoiceError("This focus is no longer in training. Reload the page.")
    clip = judgement.clip
    with one_step(connection, user_id, clip.id) as step:
        if focus_answers.of_clip(connection, clip.id).get(fault) == said:
            focus_answers.remove(connection, clip.id, fault)
        else:
            focus_answers.put(connection, clip.id, fault, said)
        step.text = f"{judgement.catalogue.faults[fault].name}: answer changed."
    return step


def in_training(connection: sqlite3.Connection, judgement: Judgement) -> list[str]:
    """Faults that were chosen on earlier clips and are not resolved, oldest first."""
    clip = judgement.clip
    found = focus_answers.in_training(
        connection, judgement.swimmer.id, clip.stroke, clip.filmed_on, clip.id
    )
    return [f for f in found if f in judgement.catalogue.faults]


def one_step(
    connection: sqlite3.Connection, user_id: int, clip_id: int
) -> AbstractContextManager[Step]:
    """A step that undoes all that is changed inside it."""
    return undoable(connection, user_id, [(t, "clip_id", clip_id) for t in TABLES])
