"""Cutting a recording into parts. Every change is kept, so that it can be undone."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass, replace
from typing import Any

from norvik.core.errors import FootageError
from norvik.store import clips, recordings, trash
from norvik.store.clips import Clip
from norvik.store.connection import transaction

#: Shorter than this nothing can be seen in a part.
LEAST_FRAMES = 2


@dataclass(frozen=True, slots=True)
class _State:
    """What a change of a cut may change."""

    first: int
    last: int
    swimmer_id: int | None
    stroke: str
    gone: bool

    @classmethod
    def of(cls, connection: sqlite3.Connection, clip_id: int) -> _State:
        clip = clips.by_id(connection, clip_id)
        return cls(
            clip.first_frame,
            clip.last_frame,
            clip.swimmer_id,
            clip.stroke,
            clip.trashed_at is not None,
        )

    def as_json(self) -> str:
        return json.dumps([self.first, self.last, self.swimmer_id, self.stroke, self.gone])


def parts(connection: sqlite3.Connection, recording_id: int) -> list[Clip]:
    return [c for c in clips.of_recording(connection, recording_id) if c.is_part]


def add(
    connection: sqlite3.Connection,
    recording_id: int,
    user_id: int | None,
    first: int,
    last: int,
    swimmer_id: int | None,
    stroke: str,
) -> int:
    """Cut out a part; the rest of what it is comes from the whole recording's clip.

    Raises FootageError when the frames are not in the recording or the part is too short.
    """
    with transaction(connection):
        _check(connection, recording_id, first, last)
        whole = clips.of_recording(connection, recording_id, with_trash=True)[0]
        facts = replace(whole.facts, swimmer_id=swimmer_id, stroke=stroke)
        clip_id = clips.add(connection, recording_id, facts, user_id, (first, last))
        after = _State.of(connection, clip_id)
        _record(connection, recording_id, user_id, clip_id, replace(after, gone=True), after)
    return clip_id


def change(connection: sqlite3.Connection, clip: Clip, user_id: int | None, **changes: Any) -> None:
    """Change edges (first, last), swimmer_id or stroke of a part, or take it away (gone)."""
    with transaction(connection):
        before = _State.of(connection, clip.id)
        after = replace(before, **changes)
        _check(connection, clip.recording.id, after.first, after.last)
        if after != before:
            _put(connection, clip.id, after)
            _record(connection, clip.recording.id, user_id, clip.id, before, after)


def undo(connection: sqlite3.Connection, recording_id: int, user_id: int | None) -> bool:
    """Take back this person's last change of the cut. False when there is none."""
    return _step(
        connection,
        "SELECT * FROM cut_changes WHERE recording_id = ? AND user_id IS ? AND undone = 0 "
        "ORDER BY id DESC LIMIT 1",
        recording_id,
        user_id,
        "before",
    )


def redo(connection: sqlite3.Connection, recording_id: int, user_id: int | None) -> bool:
    return _step(
        connection,
        "SELECT * FROM cut_changes WHERE recording_id = ? AND user_id IS ? AND undone = 1 "
        "ORDER BY id LIMIT 1",
        recording_id,
        user_id,
        "after",
    )


def can_undo_redo(
    connection: sqlite3.Connection, recording_id: int, user_id: int | None
) -> tuple[bool, bool]:
    rows = connection.execute(
        "SELECT DISTINCT undone FROM cut_changes WHERE recording_id = ? AND user_id IS ?",
        (recording_id, user_id),
    )
    found = {row["undone"] for row in rows}
    return 0 in found, 1 in found


def _step(
    connection: sqlite3.Connection,
    query: str,
    recording_id: int,
    user_id: int | None,
    to: str,
) -> bool:
    with transaction(connection):
        row = connection.execute(query, (recording_id, user_id)).fetchone()
        if row is None:
            return False
        there = connection.execute("SELECT 1 FROM clips WHERE id = ?", (row["clip_id"],)).fetchone()
        # A part that was deleted permanently meanwhile has nothing to go back to.
        if there is not None:
            _put(connection, row["clip_id"], _State(*json.loads(row[to])))
        connection.execute(
            "UPDATE cut_changes SET undone = ? WHERE id = ?", (int(to == "before"), row["id"])
        )
    return True


def _put(connection: sqlite3.Connection, clip_id: int, state: _State) -> None:
    clips.set_edges(connection, clip_id, state.first, state.last)
    clips.change_facts(connection, [clip_id], swimmer_id=state.swimmer_id, stroke=state.stroke)
    (trash.put if state.gone else trash.bring_back)(connection, [clip_id])


def _check(connection: sqlite3.Connection, recording_id: int, first: int, last: int) -> None:
    frames = recordings.by_id(connection, recording_id).frames
    if not 0 <= first < frames or not 0 <= last < frames:
        raise FootageError(f"A part has to lie within the frames 0 to {frames - 1}.")
    if last - first + 1 < LEAST_FRAMES:
        raise FootageError("A part has to end after it begins. Go on a few frames, then press O.")


def _record(
    connection: sqlite3.Connection,
    recording_id: int,
    user_id: int | None,
    clip_id: int,
    before: _State,
    after: _State,
) -> None:
    connection.execute(
        "DELETE FROM cut_changes WHERE recording_id = ? AND user_id IS ? AND undone = 1",
        (recording_id, user_id),
    )
    connection.execute(
        "INSERT INTO cut_changes (recording_id, user_id, clip_id, before, after) "
        "VALUES (?, ?, ?, ?, ?)",
        (recording_id, user_id, clip_id, before.as_json(), after.as_json()),
    )
