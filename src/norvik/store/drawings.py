"""What is drawn on the frames of a clip, measures among it; every change can be taken back."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace

from norvik.core.errors import MeasureError, NotFoundError
from norvik.core.frame.geometry import Point
from norvik.core.strokes.names import Side
from norvik.store.connection import transaction
from norvik.store.history import History


@dataclass(frozen=True, slots=True)
class StoredDrawing:
    """points: pixels of the upright picture at the source's resolution. last: None to the end."""

    id: int
    kind: str
    name: str
    side: Side
    frame: int
    first: int
    last: int | None
    points: tuple[Point, ...]
    style: str = "neutral"
    text: str = ""

    def shown_on(self, frame: int) -> bool:
        return self.first <= frame and (self.last is None or frame <= self.last)


_COLUMNS = "id, kind, name, side, frame, first_frame, last_frame, points, style, text"


def of_clip(connection: sqlite3.Connection, clip_id: int) -> list[StoredDrawing]:
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM drawings WHERE clip_id = ? ORDER BY frame, id", (clip_id,)
    )
    return [_stored(row) for row in rows]


def by_id(connection: sqlite3.Connection, clip_id: int, drawing_id: int) -> StoredDrawing:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM drawings WHERE clip_id = ? AND id = ?", (clip_id, drawing_id)
    ).fetchone()
    if row is None:
        raise NotFoundError("This drawing has been deleted.")
    return _stored(row)


def add(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None, drawing: StoredDrawing
) -> StoredDrawing:
    """Keep a drawing; its id is given by the database."""
    with transaction(connection):
        row = connection.execute(
            "SELECT coalesce(max(seq), 0) + 1 AS next FROM sqlite_sequence WHERE name = 'drawings'"
        ).fetchone()
        made = replace(drawing, id=row["next"])
        _HISTORY.change(connection, clip_id, user_id, None, made)
    return made


def change(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None, drawing: StoredDrawing
) -> None:
    """Put a drawing in the place of the one with its id."""
    with transaction(connection):
        before = by_id(connection, clip_id, drawing.id)
        if before != drawing:
            _HISTORY.change(connection, clip_id, user_id, before, drawing)


def delete(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None, drawing_id: int
) -> StoredDrawing:
    with transaction(connection):
        before = by_id(connection, clip_id, drawing_id)
        _HISTORY.change(connection, clip_id, user_id, before, None)
    return before


def undo(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None
) -> tuple[StoredDrawing | None, StoredDrawing | None] | None:
    """Take this person's last change back: how it was and how it is. None without one."""
    return next(iter(_HISTORY.undo(connection, clip_id, user_id)), None)


def redo(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None
) -> tuple[StoredDrawing | None, StoredDrawing | None] | None:
    """Make this person's last undone change again. None without one."""
    return next(iter(_HISTORY.redo(connection, clip_id, user_id)), None)


def add_repeat(
    connection: sqlite3.Connection, user_id: int | None, drawing_id: int, points: Sequence[Point]
) -> None:
    """Keep the points of a measure that was taken again."""
    connection.execute(
        "INSERT INTO drawing_repeats (drawing_id, points, created_by) VALUES (?, ?, ?)",
        (drawing_id, json.dumps(points), user_id),
    )


def repeats_of_clip(
    connection: sqlite3.Connection, clip_id: int
) -> dict[int, list[tuple[Point, ...]]]:
    """Points of every repeat, by the id of what was repeated."""
    found: dict[int, list[tuple[Point, ...]]] = {}
    for drawing_id, points in connection.execute(
        "SELECT r.drawing_id, r.points FROM drawing_repeats r "
        "JOIN drawings d ON d.id = r.drawing_id WHERE d.clip_id = ? ORDER BY r.id",
        (clip_id,),
    ):
        found.setdefault(drawing_id, []).append(_points(points))
    return found


def _write(
    connection: sqlite3.Connection,
    clip_id: int,
    user_id: int | None,
    before: StoredDrawing | None,
    after: StoredDrawing | None,
) -> None:
    """Put one drawing from a known state into another, or refuse when it is in a third."""
    if before is not None:
        try:
            now = by_id(connection, clip_id, before.id)
        except NotFoundError:
            now = None
        if now != before:
            raise MeasureError(
                "Someone else changed this drawing in the meantime; nothing was changed."
            )
    if after is None:
        assert before is not None  # a change has at least one end
        connection.execute("DELETE FROM drawings WHERE id = ?", (before.id,))
        return
    values = (
        after.kind, after.name, after.side, after.frame, after.first, after.last,
        json.dumps(after.points), after.style, after.text,
    )  # fmt: skip
    if before is None:
        connection.execute(
            "INSERT INTO drawings (kind, name, side, frame, first_frame, last_frame, points, style,"
            " text, id, clip_id, created_by) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            (*values, after.id, clip_id, user_id),
        )
    else:
        # Not deleted and written again: repeats of a measure hang on it.
        connection.execute(
            "UPDATE drawings SET kind = ?, name = ?, side = ?, frame = ?, first_frame = ?, "
            "last_frame = ?, points = ?, style = ?, text = ? WHERE id = ?",
            (*values, after.id),
        )


def _read(text: str) -> StoredDrawing:
    values = json.loads(text)
    values["points"] = tuple(Point(*p) for p in values["points"])
    return StoredDrawing(**values)


_HISTORY = History(
    "drawing_changes", _write, text=lambda drawing: json.dumps(asdict(drawing)), read=_read
)


def _points(text: str) -> tuple[Point, ...]:
    return tuple(Point(*p) for p in json.loads(text))


def _stored(row: sqlite3.Row) -> StoredDrawing:
    found_id, kind, name, side, frame, first, last, points, style, text = row
    return StoredDrawing(
        found_id, kind, name, side, frame, first, last, _points(points), style, text
    )
