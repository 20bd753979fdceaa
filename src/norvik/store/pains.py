"""Pain that a swimmer told, until the coach clears it. What hurts now stands with the swimmer."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date

from norvik.store import swimmers
from norvik.store.connection import transaction


@dataclass(frozen=True, slots=True)
class Pain:
    """part: of the body. Days as in 2026-11-26; cleared_on is None while it holds."""

    part: str
    note: str
    noted_on: str
    cleared_on: str | None
    cleared_note: str


def note(connection: sqlite3.Connection, swimmer_id: int, part: str, text: str) -> None:
    """Record pain: from now on what loads that part is left out."""
    with transaction(connection):
        swimmer = swimmers.by_id(connection, swimmer_id)
        if part not in swimmer.pain:
            swimmers.update(connection, replace(swimmer, pain=(*swimmer.pain, part)))
        connection.execute(
            "INSERT INTO pains (swimmer_id, part, note, noted_on) VALUES (?, ?, ?, ?)",
            (swimmer_id, part, text, date.today().isoformat()),
        )


def clear(connection: sqlite3.Connection, swimmer_id: int, part: str, text: str) -> None:
    """The coach clears a part: what was left out for it is given again."""
    today = date.today().isoformat()
    with transaction(connection):
        swimmer = swimmers.by_id(connection, swimmer_id)
        left = tuple(p for p in swimmer.pain if p != part)
        swimmers.update(connection, replace(swimmer, pain=left))
        changed = connection.execute(
            "UPDATE pains SET cleared_on = ?, cleared_note = ? "
            "WHERE swimmer_id = ? AND part = ? AND cleared_on IS NULL",
            (today, text, swimmer_id, part),
        ).rowcount
        if not changed:
            # It was known from the start: only its end is told.
            connection.execute(
                "INSERT INTO pains (swimmer_id, part, noted_on, cleared_on, cleared_note) "
                "VALUES (?, ?, ?, ?, ?)",
                (swimmer_id, part, today, today, text),
            )


def set_all(connection: sqlite3.Connection, swimmer_id: int, parts: Iterable[str]) -> None:
    """What the form of a swimmer says now: what is new is noted, what is gone is cleared.

    The notes and what is left out of plans never tell two stories.
    """
    with transaction(connection):
        before = set(swimmers.by_id(connection, swimmer_id).pain)
        for part in sorted(set(parts) - before):
            note(connection, swimmer_id, part, "")
        for part in sorted(before - set(parts)):
            clear(connection, swimmer_id, part, "")


def of_swimmer(connection: sqlite3.Connection, swimmer_id: int) -> list[Pain]:
    """Newest first."""
    rows = connection.execute(
        "SELECT part, note, noted_on, cleared_on, cleared_note FROM pains "
        "WHERE swimmer_id = ? ORDER BY id DESC",
        (swimmer_id,),
    )
    return [Pain(*row) for row in rows]
