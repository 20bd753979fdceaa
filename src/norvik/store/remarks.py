"""What the coach says of frames in own words."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass

from norvik.core.errors import NotFoundError
from norvik.core.strokes.names import Side, StrokeName
from norvik.store.scope import Within, of_swimmers


@dataclass(frozen=True, slots=True)
class StoredRemark:
    """A remark on a clip.

    kind: praise, point or doubt. drawn: shown with what is drawn on its frame. view: that can
    answer a doubt, empty for any. answered_on: the clip that did.
    """

    id: int
    clip_id: int
    kind: str
    text: str
    side: Side
    frame: int | None
    drawn: bool
    cue: str
    drills: tuple[str, ...]
    view: str
    answer: str
    answered_on: int | None


_COLUMNS = (
    "r.id, r.clip_id, r.kind, r.text, r.side, r.frame, r.drawn, r.cue, r.drills, r.view, r.answer, "
    "r.answered_on"
)


def _remark(row: sqlite3.Row) -> StoredRemark:
    values = list(row)
    values[6], values[8] = bool(values[6]), tuple(json.loads(values[8]))
    return StoredRemark(*values)


def of_clip(connection: sqlite3.Connection, clip_id: int) -> list[StoredRemark]:
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM remarks r WHERE r.clip_id = ? ORDER BY r.id", (clip_id,)
    )
    return [_remark(row) for row in rows]


def of_swimmer(
    connection: sqlite3.Connection, swimmer_id: int, stroke: StrokeName, kind: str
) -> list[StoredRemark]:
    """Remarks of one kind on a swimmer's clips of a stroke, oldest first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM remarks r JOIN clips c ON c.id = r.clip_id "
        "WHERE c.swimmer_id = ? AND c.stroke = ? AND r.kind = ? ORDER BY r.id",
        (swimmer_id, stroke, kind),
    )
    return [_remark(row) for row in rows]


def open_doubts(
    connection: sqlite3.Connection, limit: int = 50, within: Within = None
) -> list[StoredRemark]:
    """Doubts of all swimmers that nothing has answered, oldest first."""
    mine, values = of_swimmers(within, "s.id")
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM remarks r JOIN clips c ON c.id = r.clip_id "
        "JOIN swimmers s ON s.id = c.swimmer_id WHERE r.kind = 'doubt' AND r.answer = '' "
        f"AND c.trashed_at IS NULL AND s.removed_at IS NULL AND {mine} ORDER BY r.id LIMIT ?",
        (*values, limit),
    )
    return [_remark(row) for row in rows]


def by_id(connection: sqlite3.Connection, clip_id: int, remark_id: int) -> StoredRemark:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM remarks r WHERE r.clip_id = ? AND r.id = ?", (clip_id, remark_id)
    ).fetchone()
    if row is None:
        raise NotFoundError("This remark has been deleted.")
    return _remark(row)


def add(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None, kind: str, text: str,
    side: Side, frame: int | None, drawn: bool, view: str,
) -> int:  # fmt: skip
    row = connection.execute(
        "INSERT INTO remarks (clip_id, kind, text, side, frame, drawn, view, created_by) "
        "VALUES (?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (clip_id, kind, text, side, frame, int(drawn), view, user_id),
    ).fetchone()
    return int(row["id"])


def change(
    connection: sqlite3.Connection, remark_id: int, kind: str, text: str, side: Side
) -> None:
    connection.execute(
        "UPDATE remarks SET kind = ?, text = ?, side = ? WHERE id = ?",
        (kind, text, side, remark_id),
    )


def set_work(
    connection: sqlite3.Connection, remark_id: int, cue: str, drills: tuple[str, ...]
) -> None:
    """Cue and drills of a point that is worked on."""
    connection.execute(
        "UPDATE remarks SET cue = ?, drills = ? WHERE id = ?",
        (cue, json.dumps(drills), remark_id),
    )


def set_answer(
    connection: sqlite3.Connection, remark_id: int, answer: str, clip_id: int | None
) -> None:
    connection.execute(
        "UPDATE remarks SET answer = ?, answered_on = ? WHERE id = ?", (answer, clip_id, remark_id)
    )


def delete(connection: sqlite3.Connection, clip_id: int, remark_id: int) -> None:
    connection.execute("DELETE FROM remarks WHERE clip_id = ? AND id = ?", (clip_id, remark_id))
