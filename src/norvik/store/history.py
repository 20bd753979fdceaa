"""Changes of what lies on a clip or recording, each of which can be taken back and made again.

A change has the state before (None for something new) and after (None for something deleted). Each
person takes back their own changes; several may belong to one step.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from dataclasses import dataclass
from typing import Generic, TypeVar

from norvik.store.connection import transaction

T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class History(Generic[T]):
    """The changes of one kind of thing, kept in a table of their own.

    table: with the columns user_id, before, after, undone, step and `owner`, the column of what the
    things lie on. write: puts one thing from a known state into another, and raises when it is in a
    third. text, read: a state as JSON and back.
    """

    table: str
    write: Callable[[sqlite3.Connection, int, int | None, T | None, T | None], None]
    text: Callable[[T], str]
    read: Callable[[str], T]
    owner: str = "clip_id"

    def change(
        self, connection: sqlite3.Connection, owner_id: int, user_id: int | None,
        before: T | None, after: T | None,
    ) -> None:  # fmt: skip
        """Make a change and keep it."""
        with transaction(connection):
            self.write(connection, owner_id, user_id, before, after)
            self.record(connection, owner_id, user_id, before, after)

    def record(
        self, connection: sqlite3.Connection, owner_id: int, user_id: int | None,
        before: T | None, after: T | None, step: int | None = None,
    ) -> int:  # fmt: skip
        """Keep a change that was made, and give the step that it is in.

        step: the first change of the step that it belongs to; None begins a step.
        """
        # A new change ends what could have been made again.
        connection.execute(
            f"DELETE FROM {self.table} WHERE {self.owner} = ? AND user_id IS ? AND undone",
            (owner_id, user_id),
        )
        made = connection.execute(
            f"INSERT INTO {self.table} ({self.owner}, user_id, before, after, step) "
            "VALUES (?, ?, ?, ?, ?) RETURNING id",
            (owner_id, user_id, self._text(before), self._text(after), step),
        ).fetchone()
        return step if step is not None else int(made["id"])

    def undo(
        self, connection: sqlite3.Connection, owner_id: int, user_id: int | None
    ) -> list[tuple[T | None, T | None]]:
        """Take this person's last step back: how each thing was and is now. Empty without one."""
        return self._step(connection, owner_id, user_id, undone=0, order="DESC")

    def redo(
        self, connection: sqlite3.Connection, owner_id: int, user_id: int | None
    ) -> list[tuple[T | None, T | None]]:
        """Make this person's last undone step again. Empty without one."""
        return self._step(connection, owner_id, user_id, undone=1, order="ASC")

    def can(
        self, connection: sqlite3.Connection, owner_id: int, user_id: int | None
    ) -> tuple[bool, bool]:
        """Whether there is anything to take back, and anything to make again."""
        row = connection.execute(
            "SELECT count(*) FILTER (WHERE NOT undone), count(*) FILTER (WHERE undone) "
            f"FROM {self.table} WHERE {self.owner} = ? AND user_id IS ?",
            (owner_id, user_id),
        ).fetchone()
        return bool(row[0]), bool(row[1])

    def _step(
        self, connection: sqlite3.Connection, owner_id: int, user_id: int | None, undone: int,
        order: str,
    ) -> list[tuple[T | None, T | None]]:  # fmt: skip
        changes = []
        mine = f"{self.owner} = ? AND user_id IS ? AND undone = ?"
        with transaction(connection):
            row = connection.execute(
                f"SELECT coalesce(step, id) AS step FROM {self.table} "
                f"WHERE {mine} ORDER BY id {order} LIMIT 1",
                (owner_id, user_id, undone),
            ).fetchone()
            if row is None:
                return []
            rows = connection.execute(
                f"SELECT id, before, after FROM {self.table} "
                f"WHERE {mine} AND coalesce(step, id) = ? ORDER BY id {order}",
                (owner_id, user_id, undone, row["step"]),
            ).fetchall()
            for row in rows:
                before, after = self._read(row["before"]), self._read(row["after"])
                if not undone:
                    before, after = after, before
                self.write(connection, owner_id, user_id, before, after)
                connection.execute(
                    f"UPDATE {self.table} SET undone = ? WHERE id = ?", (1 - undone, row["id"])
                )
                changes.append((before, after))
        return changes

    def _text(self, state: T | None) -> str | None:
        return None if state is None else self.text(state)

    def _read(self, text: str | None) -> T | None:
        return None if text is None else self.read(text)
