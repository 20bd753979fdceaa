"""How many of everything there are, for an administrator."""

from __future__ import annotations

import sqlite3


def _one(connection: sqlite3.Connection, query: str) -> int:
    return int(connection.execute(query).fetchone()[0])


def jobs(connection: sqlite3.Connection) -> dict[str, int]:
    """Jobs by state; those that wait or run are named even where there are none."""
    rows = connection.execute("SELECT state, count(*) FROM jobs GROUP BY state")
    return {"queued": 0, "running": 0, **{row[0]: row[1] for row in rows}}


def clips(connection: sqlite3.Connection) -> int:
    return _one(connection, "SELECT count(*) FROM clips WHERE trashed_at IS NULL")


def swimmers(connection: sqlite3.Connection) -> int:
    return _one(connection, "SELECT count(*) FROM swimmers WHERE removed_at IS NULL")


def sessions(connection: sqlite3.Connection) -> int:
    return _one(connection, "SELECT count(*) FROM sessions")
