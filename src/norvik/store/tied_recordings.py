"""Recordings of one swim by two cameras, tied by instants that both show."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

#: A frame of the one film and the frame of the other that shows the same instant.
Instant = tuple[int, int]


@dataclass(frozen=True, slots=True)
class Tie:
    """instants: one or two. Seen from recording one_id, whichever of the two was asked for."""

    one_id: int
    other_id: int
    instants: tuple[Instant, ...]


def between(connection: sqlite3.Connection, one_id: int, other_id: int) -> Tie | None:
    row = connection.execute(
        "SELECT one_id, instants FROM tied_recordings WHERE one_id = ? AND other_id = ?",
        sorted((one_id, other_id)),
    ).fetchone()
    return _tie(one_id, other_id, row["one_id"], row["instants"]) if row else None


def of_recording(connection: sqlite3.Connection, recording_id: int) -> list[Tie]:
    """All that a recording is tied with, each seen from it."""
    rows = connection.execute(
        "SELECT one_id, other_id, instants FROM tied_recordings WHERE ?1 IN (one_id, other_id) "
        "ORDER BY one_id, other_id",
        (recording_id,),
    )
    return [
        _tie(recording_id, b if a == recording_id else a, a, instants) for a, b, instants in rows
    ]


def tie(
    connection: sqlite3.Connection, one_id: int, other_id: int, instants: Sequence[Instant],
    user_id: int | None,
) -> None:  # fmt: skip
    """Tie two recordings, in place of how they were tied before."""
    kept = [[a, b] if one_id < other_id else [b, a] for a, b in instants]
    connection.execute(
        "INSERT INTO tied_recordings (one_id, other_id, instants, created_by) VALUES (?, ?, ?, ?) "
        "ON CONFLICT DO UPDATE SET instants = excluded.instants, created_by = excluded.created_by",
        (*sorted((one_id, other_id)), json.dumps(kept), user_id),
    )


def untie(connection: sqlite3.Connection, one_id: int, other_id: int) -> None:
    connection.execute(
        "DELETE FROM tied_recordings WHERE one_id = ? AND other_id = ?", sorted((one_id, other_id))
    )


def _tie(one_id: int, other_id: int, first_id: int, instants: str) -> Tie:
    pairs = [(int(a), int(b)) for a, b in json.loads(instants)]
    return Tie(one_id, other_id, tuple(pairs if one_id == first_id else [(b, a) for a, b in pairs]))
