"""A swimmer who leaves: removed with everything, restored within a month, or deleted."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from typing import Any

from norvik.core.errors import NotFoundError
from norvik.store.scope import Within, of_swimmers

#: Days in which a removed swimmer can be restored.
KEPT_DAYS = 30
#: What belongs to a swimmer beside the clips: table, and the column that names the swimmer.
_OWN = ("swims", "pool_tests", "plans", "pains", "rungs", "reviews")
#: What hangs on a swimmer's reviews.
_OF_REVIEWS = ("review_clips", "focuses", "overrules", "focus_answers", "review_pairs")


@dataclass(frozen=True, slots=True)
class Removed:
    """removed_at: ISO 8601 in UTC."""

    id: int
    name: str
    removed_at: str
    clips: int


@dataclass(frozen=True, slots=True)
class Belongings:
    """How much of each there is."""

    clips: int
    marks: int
    reviews: int
    plans: int
    sessions: int
    swims: int
    pool_tests: int
    pains: int


def belongings(connection: sqlite3.Connection, swimmer_id: int) -> Belongings:
    """Counted, so that nobody removes more than is meant."""

    def count(query: str) -> int:
        return int(connection.execute(f"SELECT count(*) {query}", (swimmer_id,)).fetchone()[0])

    of_clips = "JOIN clips c ON c.id = x.clip_id WHERE c.swimmer_id = ?"
    return Belongings(
        clips=count("FROM clips WHERE swimmer_id = ?"),
        marks=count(f"FROM marks x {of_clips}"),
        reviews=count("FROM reviews WHERE swimmer_id = ?"),
        plans=count("FROM plans WHERE swimmer_id = ?"),
        sessions=count(
            "FROM training x JOIN plans p ON p.id = x.plan_id WHERE p.swimmer_id = ?"
        ),
        swims=count("FROM swims WHERE swimmer_id = ?"),
        pool_tests=count("FROM pool_tests WHERE swimmer_id = ?"),
        pains=count("FROM pains WHERE swimmer_id = ?"),
    )  # fmt: skip


def remove(connection: sqlite3.Connection, swimmer_id: int, now: str) -> None:
    """Put a swimmer away, and the clips with them. Call inside a transaction.

    now: ISO 8601 in UTC; clips that bear it as the time of their trash came with the swimmer.
    """
    changed = connection.execute(
        "UPDATE swimmers SET removed_at = ? WHERE id = ? AND removed_at IS NULL", (now, swimmer_id)
    ).rowcount
    if not changed:
        raise NotFoundError("This swimmer has been deleted.")
    connection.execute(
        "UPDATE clips SET trashed_at = ? WHERE swimmer_id = ? AND trashed_at IS NULL",
        (now, swimmer_id),
    )
    connection.execute(
        "UPDATE plans SET ended_on = ? WHERE swimmer_id = ? AND ended_on IS NULL",
        (now, swimmer_id),
    )


def restore(connection: sqlite3.Connection, swimmer_id: int) -> None:
    """Bring a swimmer back with what was put away at that moment. Call inside a transaction."""
    row = connection.execute(
        "SELECT removed_at FROM swimmers WHERE id = ? AND removed_at IS NOT NULL", (swimmer_id,)
    ).fetchone()
    if row is None:
        raise NotFoundError("This swimmer was not removed, or is deleted permanently.")
    when = row["removed_at"]
    connection.execute("UPDATE swimmers SET removed_at = NULL WHERE id = ?", (swimmer_id,))
    connection.execute(
        "UPDATE clips SET trashed_at = NULL WHERE swimmer_id = ? AND trashed_at = ?",
        (swimmer_id, when),
    )
    connection.execute(
        "UPDATE plans SET ended_on = NULL WHERE swimmer_id = ? AND ended_on = ?",
        (swimmer_id, when),
    )


def removed(connection: sqlite3.Connection, within: Within = None) -> list[Removed]:
    """Newest first."""
    mine, values = of_swimmers(within, "s.id")
    rows = connection.execute(
        "SELECT s.id, s.name, s.removed_at, "
        "(SELECT count(*) FROM clips c WHERE c.swimmer_id = s.id) AS clips "
        f"FROM swimmers s WHERE s.removed_at IS NOT NULL AND {mine} "
        "ORDER BY s.removed_at DESC, s.id",
        values,
    )
    return [Removed(**dict(row)) for row in rows]


def clips_of(connection: sqlite3.Connection, swimmer_id: int) -> list[int]:
    rows = connection.execute("SELECT id FROM clips WHERE swimmer_id = ?", (swimmer_id,))
    return [row["id"] for row in rows]


def delete(connection: sqlite3.Connection, swimmer_id: int) -> None:
    """Delete a removed swimmer and all that is left. Call inside a transaction, after the clips."""
    for table in _OWN:
        connection.execute(f"DELETE FROM {table} WHERE swimmer_id = ?", (swimmer_id,))
    # Steps that could be undone hold rows of the swimmer, too.
    connection.execute("DELETE FROM undo_steps")
    connection.execute(
        "DELETE FROM swimmers WHERE id = ? AND removed_at IS NOT NULL", (swimmer_id,)
    )


def everything(connection: sqlite3.Connection, swimmer_id: int) -> dict[str, list[dict[str, Any]]]:
    """Every row that is kept of a swimmer, by table, as plain values."""
    found: dict[str, list[dict[str, Any]]] = {}

    def add(table: str, query: str) -> None:
        rows = connection.execute(query, (swimmer_id,)).fetchall()
        found[table] = [
            {k: v for k, v in dict(row).items() if not isinstance(v, bytes)} for row in rows
        ]

    add("swimmers", "SELECT * FROM swimmers WHERE id = ?")
    for table in ("clips", *_OWN):
        add(table, f"SELECT * FROM {table} WHERE swimmer_id = ?")
    for table in ("marks", "sightings", "remarks", "drawings", "loops", "stills", "tracks",
                  "clip_references", "best_rhythms", "marked_again", "ticked_again"):  # fmt: skip
        add(table, f"SELECT x.* FROM {table} x JOIN clips c ON c.id = x.clip_id "
                   "WHERE c.swimmer_id = ?")  # fmt: skip
    for table in _OF_REVIEWS:
        add(table, f"SELECT x.* FROM {table} x JOIN reviews v ON v.id = x.review_id "
                   "WHERE v.swimmer_id = ?")  # fmt: skip
    add("training", "SELECT x.* FROM training x JOIN plans p ON p.id = x.plan_id "
                    "WHERE p.swimmer_id = ?")  # fmt: skip
    add("swim_lengths", "SELECT x.* FROM swim_lengths x JOIN swims s ON s.id = x.swim_id "
                        "WHERE s.swimmer_id = ?")  # fmt: skip
    return found
