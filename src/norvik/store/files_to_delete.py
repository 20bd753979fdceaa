"""Files that have to be removed because their rows are gone; kept until they are."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable


def add(connection: sqlite3.Connection, paths: Iterable[str]) -> None:
    """Note files, relative to the data folder. Call in the transaction that deletes their rows."""
    connection.executemany(
        "INSERT OR IGNORE INTO files_to_remove (path) VALUES (?)", [(path,) for path in paths]
    )


def every(connection: sqlite3.Connection) -> list[str]:
    return [row["path"] for row in connection.execute("SELECT path FROM files_to_remove")]


def done(connection: sqlite3.Connection, paths: Iterable[str]) -> None:
    connection.executemany(
        "DELETE FROM files_to_remove WHERE path = ?", [(path,) for path in paths]
    )


def needed(connection: sqlite3.Connection, path: str) -> bool:
    """Does a recording still use this file, as its original or as its review copy?"""
    row = connection.execute(
        "SELECT 1 FROM recordings WHERE original_path = ? OR review_path = ?", (path, path)
    ).fetchone()
    return row is not None
