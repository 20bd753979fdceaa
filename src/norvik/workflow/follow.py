"""Follow a swimmer up: how a point stands where the coach decides it, and pain while it lasts."""

from __future__ import annotations

import sqlite3

from norvik.core.errors import NotFoundError
from norvik.core.judging.coaching_model import BODY_PARTS
from norvik.core.strokes.names import is_stroke
from norvik.store import focus_status, pains
from norvik.store.focus_status import STATES
from norvik.workflow.own_catalogue import tables_of

#: Letters of a note.
MOST_LETTERS = 200


def set_point_state(
    connection: sqlite3.Connection, swimmer_id: int, stroke: str, fault: str, state: str,
    note: str = "",
) -> None:  # fmt: skip
    """The coach calls a point done or resting; any other state takes that back.

    Raises NotFoundError for a stroke or a fault that the tables do not have.
    """
    if not is_stroke(stroke):
        raise NotFoundError("This stroke is not known. Reload the page.")
    if state not in STATES:
        focus_status.take_back(connection, swimmer_id, stroke, fault)
        return
    if fault not in tables_of(connection, stroke).faults:
        raise NotFoundError("This fault is not in the tables. Reload the page.")
    focus_status.say(connection, swimmer_id, stroke, fault, state, note.strip()[:MOST_LETTERS])


def note_pain(
    connection: sqlite3.Connection, swimmer_id: int, part: str, note: str, cleared: bool = False
) -> None:
    """Note pain in a part of the body, which blocks what loads it; or clear it.

    Raises NotFoundError for a part that is not in the list.
    """
    if part not in BODY_PARTS:
        raise NotFoundError("This part of the body is not in the list. Reload the page.")
    (pains.clear if cleared else pains.note)(
        connection, swimmer_id, part, note.strip()[:MOST_LETTERS]
    )
