"""How a focus stands for a swimmer, where the coach said so."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date
from typing import Literal

from norvik.core.strokes.names import StrokeName

#: done: moved on from. resting: set aside.
FocusState = Literal["done", "resting"]
STATES: tuple[FocusState, ...] = ("done", "resting")


@dataclass(frozen=True, slots=True)
class FocusStatus:
    stroke: StrokeName
    fault: str
    state: FocusState
    note: str
    said_on: str


def of_swimmer(
    connection: sqlite3.Connection, swimmer_id: int
) -> dict[tuple[str, str], FocusStatus]:
    """By stroke and fault."""
    rows = connection.execute(
        "SELECT stroke, fault, state, note, said_on FROM rungs WHERE swimmer_id = ?", (swimmer_id,)
    )
    return {(row["stroke"], row["fault"]): FocusStatus(*row) for row in rows}


def say(
    connection: sqlite3.Connection, swimmer_id: int, stroke: StrokeName, fault: str,
    state: FocusState, note: str,
) -> None:  # fmt: skip
    connection.execute(
        "INSERT INTO rungs (swimmer_id, stroke, fault, state, note, said_on) "
        "VALUES (?, ?, ?, ?, ?, ?) "
        "ON CONFLICT (swimmer_id, stroke, fault) DO UPDATE SET state = excluded.state, "
        "note = excluded.note, said_on = excluded.said_on",
        (swimmer_id, stroke, fault, state, note, date.today().isoformat()),
    )


def take_back(
    connection: sqlite3.Connection, swimmer_id: int, stroke: StrokeName, fault: str
) -> None:
    connection.execute(
        "DELETE FROM rungs WHERE swimmer_id = ? AND stroke = ? AND fault = ?",
        (swimmer_id, stroke, fault),
    )
