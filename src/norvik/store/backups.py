"""Backups that were made, and how each ended."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

#: Rows that are kept.
_KEPT = 200


@dataclass(frozen=True, slots=True)
class Backup:
    """made_at, verified_at: seconds since 1970. failure: empty for a good one."""

    id: int
    folder: str
    generation: str
    made_at: float
    files: int
    bytes: int
    verified_at: float | None
    failure: str


_COLUMNS = "id, folder, generation, made_at, files, bytes, verified_at, failure"


def add(
    connection: sqlite3.Connection, folder: str, generation: str, made_at: float, files: int = 0,
    size: int = 0, failure: str = "",
) -> None:  # fmt: skip
    connection.execute(
        "INSERT INTO backups (folder, generation, made_at, files, bytes, failure) "
        "VALUES (?, ?, ?, ?, ?, ?)",
        (folder, generation, made_at, files, size, failure),
    )
    connection.execute(
        "DELETE FROM backups WHERE id <= (SELECT max(id) FROM backups) - ?", (_KEPT,)
    )


def newest(connection: sqlite3.Connection) -> Backup | None:
    """The last one, good or not."""
    return _one(connection, "1")


def newest_good(connection: sqlite3.Connection) -> Backup | None:
    return _one(connection, "failure = ''")


def _one(connection: sqlite3.Connection, condition: str) -> Backup | None:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM backups WHERE {condition} ORDER BY id DESC LIMIT 1"
    ).fetchone()
    return Backup(**dict(row)) if row else None


def set_verified(
    connection: sqlite3.Connection, folder: str, generation: str, at: float, failure: str
) -> None:
    """What looking through a backup found."""
    connection.execute(
        "UPDATE backups SET verified_at = ?, failure = ? WHERE folder = ? AND generation = ?",
        (at, failure, folder, generation),
    )
