"""Swims by lengths."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.errors import NotFoundError
from norvik.core.lengthlog import Length
from norvik.store.connection import transaction
from norvik.store.undo import Part


@dataclass(frozen=True, slots=True)
class Swim:
    """A swim with its lengths in order. total_s: what a watch gave for the whole."""

    id: int
    swimmer_id: int
    swum_on: str
    stroke: str
    pool_m: float
    total_s: float | None
    note: str
    lengths: tuple[Length, ...]


_COLUMNS = "id, swimmer_id, swum_on, stroke, pool_m, total_s, note"


def add(
    connection: sqlite3.Connection,
    swimmer_id: int,
    swum_on: str,
    stroke: str,
    pool_m: float,
    total_s: float | None,
    note: str,
    lengths: Sequence[Length],
    user_id: int | None = None,
) -> int:
    with transaction(connection):
        row = connection.execute(
            "INSERT INTO swims (swimmer_id, swum_on, stroke, pool_m, total_s, note, created_by) "
            "VALUES (?, ?, ?, ?, ?, ?, ?) RETURNING id",
            (swimmer_id, swum_on, stroke, pool_m, total_s, note, user_id),
        ).fetchone()
        connection.executemany(
            "INSERT INTO swim_lengths (swim_id, number, seconds, strokes, effort, under_s) "
            "VALUES (?, ?, ?, ?, ?, ?)",
            [
                (row["id"], n, x.seconds, x.strokes, x.effort, x.under_s)
                for n, x in enumerate(lengths, 1)
            ],
        )
    return int(row["id"])


def by_id(connection: sqlite3.Connection, swim_id: int) -> Swim:
    row = connection.execute(f"SELECT {_COLUMNS} FROM swims WHERE id = ?", (swim_id,)).fetchone()
    if row is None:
        raise NotFoundError("This swim is not there (any more).")
    return _from_row(connection, row)


def of_swimmer(connection: sqlite3.Connection, swimmer_id: int) -> list[Swim]:
    """Newest first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM swims WHERE swimmer_id = ? ORDER BY swum_on DESC, id DESC",
        (swimmer_id,),
    ).fetchall()
    return [_from_row(connection, row) for row in rows]


def parts_of(swim_id: int) -> list[Part]:
    """The rows of a swim, for undoing."""
    return [("swims", "id", swim_id), ("swim_lengths", "swim_id", swim_id)]


def delete(connection: sqlite3.Connection, swim_id: int) -> None:
    connection.execute("DELETE FROM swims WHERE id = ?", (swim_id,))


def _from_row(connection: sqlite3.Connection, row: sqlite3.Row) -> Swim:
    lengths = connection.execute(
        "SELECT seconds, strokes, effort, under_s FROM swim_lengths WHERE swim_id = ? "
        "ORDER BY number",
        (row["id"],),
    )
    return Swim(**dict(row), lengths=tuple(Length(*length) for length in lengths))
