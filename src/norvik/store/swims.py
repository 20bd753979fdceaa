"""Swims by lengths."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.errors import NotFoundError
from norvik.core.followup.length_log import Length
from norvik.core.strokes.names import StrokeName
from norvik.store.connection import transaction
from norvik.store.undo import Part


@dataclass(frozen=True, slots=True)
class Swim:
    """A swim with its lengths in order. total_s: what a watch gave for the whole.

    clip_id: the clip that its lengths were read from, None for a swim that was typed.
    """

    id: int
    swimmer_id: int
    swum_on: str
    stroke: StrokeName
    pool_m: float
    total_s: float | None
    note: str
    clip_id: int | None
    lengths: tuple[Length, ...]


_LENGTH = "seconds, strokes, effort, under_s, kicks, breaths"
_COLUMNS = "id, swimmer_id, swum_on, stroke, pool_m, total_s, note, clip_id"


def add(
    connection: sqlite3.Connection,
    swimmer_id: int,
    swum_on: str,
    stroke: StrokeName,
    pool_m: float,
    total_s: float | None,
    note: str,
    lengths: Sequence[Length],
    user_id: int | None = None,
    clip_id: int | None = None,
) -> int:
    with transaction(connection):
        row = connection.execute(
            "INSERT INTO swims (swimmer_id, swum_on, stroke, pool_m, total_s, note, created_by, "
            "clip_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
            (swimmer_id, swum_on, stroke, pool_m, total_s, note, user_id, clip_id),
        ).fetchone()
        _put_lengths(connection, row["id"], lengths)
    return int(row["id"])


def update(
    connection: sqlite3.Connection,
    swim_id: int,
    swum_on: str,
    stroke: StrokeName,
    pool_m: float,
    total_s: float | None,
    note: str,
    lengths: Sequence[Length],
) -> None:
    """Put right what was typed of a swim. Call inside a transaction."""
    connection.execute(
        "UPDATE swims SET swum_on = ?, stroke = ?, pool_m = ?, total_s = ?, note = ? WHERE id = ?",
        (swum_on, stroke, pool_m, total_s, note, swim_id),
    )
    connection.execute("DELETE FROM swim_lengths WHERE swim_id = ?", (swim_id,))
    _put_lengths(connection, swim_id, lengths)


def _put_lengths(connection: sqlite3.Connection, swim_id: int, lengths: Sequence[Length]) -> None:
    connection.executemany(
        f"INSERT INTO swim_lengths (swim_id, number, {_LENGTH}) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
        [
            (swim_id, n, x.seconds, x.strokes, x.effort, x.under_s, x.kicks, x.breaths)
            for n, x in enumerate(lengths, 1)
        ],
    )


def of_clip(connection: sqlite3.Connection, clip_id: int) -> int | None:
    """The swim that was read from a clip."""
    row = connection.execute(
        "SELECT id FROM swims WHERE clip_id = ? ORDER BY id DESC LIMIT 1", (clip_id,)
    ).fetchone()
    return int(row["id"]) if row else None


def by_id(connection: sqlite3.Connection, swim_id: int) -> Swim:
    row = connection.execute(f"SELECT {_COLUMNS} FROM swims WHERE id = ?", (swim_id,)).fetchone()
    if row is None:
        raise NotFoundError("This swim has been deleted.")
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
        f"SELECT {_LENGTH} FROM swim_lengths WHERE swim_id = ? ORDER BY number",
        (row["id"],),
    )
    return Swim(**dict(row), lengths=tuple(Length(*length) for length in lengths))
