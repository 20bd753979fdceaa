"""Steps that can be undone: the rows of what a step touched, as they were before and after it."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field

from norvik.core.errors import NotFoundError, StoreError
from norvik.store.connection import transaction

#: (table, column, id): every row of the table with that id in that column.
Part = tuple[str, str, int | str]
#: What a step may touch; nothing else is ever written by undoing.
_TABLES = {
    "sightings", "focuses", "overrules", "reviews", "review_clips", "focus_answers", "plans",
    "training", "clips", "own_drills", "swims", "swim_lengths", "pool_tests", "rungs", "pains",
    "swimmers", "remarks",
}  # fmt: skip
#: Steps that are kept for each person.
_KEPT = 50


@dataclass(slots=True)
class Step:
    """text: what was done, as a sentence. id: 0 where nothing changed."""

    text: str = ""
    id: int = 0
    parts: tuple[Part, ...] = field(default=())


def _rows(connection: sqlite3.Connection, parts: Sequence[Part]) -> str:
    found = []
    for table, column, key in parts:
        assert table in _TABLES, table
        rows = connection.execute(f"SELECT * FROM {table} WHERE {column} = ?", (key,))
        found.append(sorted((dict(row) for row in rows), key=lambda r: json.dumps(r)))
    return json.dumps(found)


@contextmanager
def undoable(
    connection: sqlite3.Connection, user_id: int | None, parts: Sequence[Part]
) -> Iterator[Step]:
    """What is done inside can be undone afterwards; the caller says in `step.text` what it was."""
    step = Step(parts=tuple(parts))
    with transaction(connection):
        before = _rows(connection, parts)
        yield step
        after = _rows(connection, parts)
        if before == after or not step.text:
            return
        row = connection.execute(
            "INSERT INTO undo_steps (user_id, text, parts, before, after) VALUES (?, ?, ?, ?, ?) "
            "RETURNING id",
            (user_id, step.text, json.dumps(parts), before, after),
        ).fetchone()
        step.id = int(row["id"])
        connection.execute(
            "DELETE FROM undo_steps WHERE user_id IS ?1 AND id NOT IN (SELECT id FROM undo_steps "
            "WHERE user_id IS ?1 ORDER BY id DESC LIMIT ?2)",
            (user_id, _KEPT),
        )


def undo(connection: sqlite3.Connection, user_id: int | None, step_id: int) -> str:
    """Put the rows of a step back; the text of what it was.

    Raises NotFoundError for a step that is not this person's, and StoreError when somebody has
    changed the same thing since: nobody's later work is overwritten.
    """
    with transaction(connection):
        row = connection.execute(
            "SELECT text, parts, before, after FROM undo_steps WHERE id = ? AND user_id IS ?",
            (step_id, user_id),
        ).fetchone()
        if row is None:
            raise NotFoundError("This step can no longer be undone.")
        parts: list[Part] = [(p[0], p[1], p[2]) for p in json.loads(row["parts"])]
        if _rows(connection, parts) != row["after"]:
            raise StoreError(
                "This has been changed since. Reload the page to see the current state."
            )
        for (table, column, key), rows in zip(parts, json.loads(row["before"]), strict=True):
            _put_back(connection, table, column, key, rows)
        connection.execute("DELETE FROM undo_steps WHERE id = ?", (step_id,))
    return str(row["text"])


def _put_back(
    connection: sqlite3.Connection, table: str, column: str, key: int | str,
    rows: list[dict[str, object]],
) -> None:  # fmt: skip
    """Rows with an id are updated where they are still there: what hangs on them stays."""
    assert table in _TABLES, table
    kept = [row["id"] for row in rows if "id" in row]
    holes = ", ".join("?" * len(kept))
    gone = f"DELETE FROM {table} WHERE {column} = ?" + (f" AND id NOT IN ({holes})" if kept else "")
    connection.execute(gone, (key, *kept))
    for row in rows:
        names = list(row)
        values = ", ".join("?" * len(names))
        put = f"INSERT INTO {table} ({', '.join(names)}) VALUES ({values})"
        if "id" in row:
            others = [n for n in names if n != "id"]
            put += " ON CONFLICT (id) DO UPDATE SET " + ", ".join(
                f"{n} = excluded.{n}" for n in others
            )
        connection.execute(put, tuple(row.values()))
