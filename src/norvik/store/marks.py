"""Marks on the frames of a clip. Every change is kept, so that it can be undone."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from norvik.core.errors import MarkError, NotFoundError
from norvik.core.strokes.names import Lane, Side
from norvik.store.connection import transaction
from norvik.store.history import History


class StoredMark(NamedTuple):
    id: int
    frame: int
    lane: Lane
    side: Side
    event: str
    note: str = ""


@dataclass(frozen=True, slots=True)
class NewMark:
    """A mark that is to be placed."""

    frame: int
    lane: Lane
    side: Side
    event: str
    note: str = ""


@dataclass(frozen=True, slots=True)
class Change:
    """What a step did: before is None for a placed mark, after for a deleted one.

    count: marks that were changed in one step; before and after are those of the first.
    """

    before: StoredMark | None
    after: StoredMark | None
    count: int = 1


_COLUMNS = "id, frame, lane, side, event, note"


def of_clip(connection: sqlite3.Connection, clip_id: int) -> list[StoredMark]:
    cursor = connection.cursor()
    # Plain tuples: this is read at every mark, hundreds of rows at a time.
    cursor.row_factory = None
    rows = cursor.execute(
        f"SELECT {_COLUMNS} FROM marks WHERE clip_id = ? ORDER BY frame, id", (clip_id,)
    )
    return list(map(StoredMark._make, rows))


def mostly_by(connection: sqlite3.Connection, clip_id: int) -> str | None:
    """Name of who placed and moved most marks of a clip; None when nobody signed in did."""
    row = connection.execute(
        "SELECT users.name FROM mark_changes JOIN users ON users.id = mark_changes.user_id "
        "WHERE clip_id = ? AND NOT undone AND after IS NOT NULL "
        "GROUP BY users.id ORDER BY COUNT(*) DESC, users.id LIMIT 1",
        (clip_id,),
    ).fetchone()
    return row["name"] if row is not None else None


def by_id(connection: sqlite3.Connection, clip_id: int, mark_id: int) -> StoredMark:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM marks WHERE clip_id = ? AND id = ?", (clip_id, mark_id)
    ).fetchone()
    if row is None:
        raise NotFoundError("This mark has been deleted.")
    return StoredMark(**row)


def place(
    connection: sqlite3.Connection,
    clip_id: int,
    user_id: int | None,
    frame: int,
    lane: Lane,
    side: Side,
    event: str,
    note: str = "",
) -> StoredMark:
    """Place a mark. Raises MarkError when the same one stands there already."""
    with transaction(connection):
        row = connection.execute(
            "INSERT INTO marks (clip_id, frame, lane, side, event, note) "
            "VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT DO NOTHING RETURNING id",
            (clip_id, frame, lane, side, event, note),
        ).fetchone()
        if row is None:
            raise MarkError(f"“{event}” is already marked on frame {frame}.")
        mark = StoredMark(row["id"], frame, lane, side, event, note)
        _HISTORY.record(connection, clip_id, user_id, None, mark)
    return mark


def move(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None, mark_id: int, frame: int
) -> StoredMark:
    """Move a mark to another frame. Raises MarkError when the same one stands there already."""
    with transaction(connection):
        before = by_id(connection, clip_id, mark_id)
        if before.frame == frame:
            return before
        after = before._replace(frame=frame)
        _HISTORY.change(connection, clip_id, user_id, before, after)
    return after


def delete(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None, mark_id: int
) -> StoredMark:
    with transaction(connection):
        before = by_id(connection, clip_id, mark_id)
        _HISTORY.change(connection, clip_id, user_id, before, None)
    return before


def place_many(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None, new: Sequence[NewMark]
) -> int:
    """Place marks as one step of the history. Those that stand there already are passed over.

    Returns how many were placed.
    """
    with transaction(connection):
        step: int | None = None
        placed = 0
        for m in new:
            row = connection.execute(
                "INSERT INTO marks (clip_id, frame, lane, side, event, note) "
                "VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT DO NOTHING RETURNING id",
                (clip_id, m.frame, m.lane, m.side, m.event, m.note),
            ).fetchone()
            if row is not None:
                mark = StoredMark(row["id"], m.frame, m.lane, m.side, m.event, m.note)
                step = _HISTORY.record(connection, clip_id, user_id, None, mark, step)
                placed += 1
    return placed


def delete_many(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None, mark_ids: Sequence[int]
) -> int:
    """Delete marks as one step of the history. Returns how many."""
    with transaction(connection):
        step: int | None = None
        for mark_id in mark_ids:
            before = by_id(connection, clip_id, mark_id)
            _write(connection, clip_id, user_id, before, None)
            step = _HISTORY.record(connection, clip_id, user_id, before, None, step)
    return len(mark_ids)


def undo(connection: sqlite3.Connection, clip_id: int, user_id: int | None) -> Change | None:
    """Take this person's last change back; None when there is nothing to undo."""
    return _change(_HISTORY.undo(connection, clip_id, user_id))


def redo(connection: sqlite3.Connection, clip_id: int, user_id: int | None) -> Change | None:
    """Make this person's last undone change again; None when there is none."""
    return _change(_HISTORY.redo(connection, clip_id, user_id))


def can_undo_redo(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None
) -> tuple[bool, bool]:
    return _HISTORY.can(connection, clip_id, user_id)


def _change(step: list[tuple[StoredMark | None, StoredMark | None]]) -> Change | None:
    if not step:
        return None
    first = min(step, key=lambda c: (c[1] or c[0]).frame)  # type: ignore[union-attr]
    return Change(first[0], first[1], len(step))


def _write(
    connection: sqlite3.Connection,
    clip_id: int,
    user_id: int | None,
    before: StoredMark | None,
    after: StoredMark | None,
) -> None:
    """Put one mark from a known state into another, or refuse when it is in a third."""
    if before is not None:
        try:
            now = by_id(connection, clip_id, before.id)
        except NotFoundError:
            now = None
        if now != before:
            raise MarkError("Someone else changed this mark in the meantime; nothing was changed.")
        connection.execute("DELETE FROM marks WHERE id = ?", (before.id,))
    if after is not None:
        row = connection.execute(
            "INSERT INTO marks (id, clip_id, frame, lane, side, event, note) "
            "VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO NOTHING RETURNING id",
            (after.id, clip_id, after.frame, after.lane, after.side, after.event, after.note),
        ).fetchone()
        if row is None:
            raise MarkError(f"“{after.event}” is already marked on frame {after.frame}.")


_HISTORY = History(
    "mark_changes",
    _write,
    text=lambda mark: json.dumps(mark._asdict()),
    read=lambda text: StoredMark(**json.loads(text)),
)
