"""Cutting a recording into parts. Every change is kept, so that it can be undone."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import replace
from typing import Any, NamedTuple

from norvik.core.errors import FootageError
from norvik.core.strokes.names import StrokeName
from norvik.store import clips, recordings, trash
from norvik.store.clips import Clip
from norvik.store.connection import transaction
from norvik.store.history import History

#: Shorter than this nothing can be seen in a part.
LEAST_FRAMES = 2


class PartState(NamedTuple):
    """What a change of a cut may change of one part, and which part it is."""

    clip_id: int
    first: int
    last: int
    swimmer_id: int | None
    stroke: StrokeName
    gone: bool


def _state_of(connection: sqlite3.Connection, clip_id: int) -> PartState:
    clip = clips.by_id(connection, clip_id)
    return PartState(
        clip.id, clip.first_frame, clip.last_frame, clip.swimmer_id, clip.stroke,
        clip.trashed_at is not None,
    )  # fmt: skip


def parts(connection: sqlite3.Connection, recording_id: int) -> list[Clip]:
    return [c for c in clips.of_recording(connection, recording_id) if c.is_part]


def add(
    connection: sqlite3.Connection,
    recording_id: int,
    user_id: int | None,
    first: int,
    last: int,
    swimmer_id: int | None,
    stroke: StrokeName,
) -> int:
    """Cut out a part; the rest of what it is comes from the whole recording's clip.

    Raises FootageError when the frames are not in the recording or the part is too short.
    """
    with transaction(connection):
        _check(connection, recording_id, first, last)
        whole = clips.of_recording(connection, recording_id, with_trash=True)[0]
        facts = replace(whole.facts, swimmer_id=swimmer_id, stroke=stroke)
        clip_id = clips.add(connection, recording_id, facts, user_id, (first, last))
        after = _state_of(connection, clip_id)
        _HISTORY.record(connection, recording_id, user_id, after._replace(gone=True), after)
    return clip_id


def change(connection: sqlite3.Connection, clip: Clip, user_id: int | None, **changes: Any) -> None:
    """Change edges (first, last), swimmer_id or stroke of a part, or take it away (gone).

    Raises FootageError as `add` does.
    """
    with transaction(connection):
        before = _state_of(connection, clip.id)
        after = before._replace(**changes)
        _check(connection, clip.recording.id, after.first, after.last)
        if after != before:
            _HISTORY.change(connection, clip.recording.id, user_id, before, after)


def undo(connection: sqlite3.Connection, recording_id: int, user_id: int | None) -> bool:
    """Undo this person's last change of the cut. False when there is none."""
    return bool(_HISTORY.undo(connection, recording_id, user_id))


def redo(connection: sqlite3.Connection, recording_id: int, user_id: int | None) -> bool:
    """Redo this person's last undone change of the cut. False when there is none."""
    return bool(_HISTORY.redo(connection, recording_id, user_id))


def can_undo_redo(
    connection: sqlite3.Connection, recording_id: int, user_id: int | None
) -> tuple[bool, bool]:
    """Whether there is anything to undo, and anything to redo."""
    return _HISTORY.can(connection, recording_id, user_id)


def _put(
    connection: sqlite3.Connection, _recording_id: int, _user_id: int | None,
    _before: PartState | None, state: PartState | None,
) -> None:  # fmt: skip
    assert state is not None
    there = connection.execute("SELECT 1 FROM clips WHERE id = ?", (state.clip_id,)).fetchone()
    if there is None:
        return  # Deleted permanently meanwhile: there is nothing to go back to.
    clips.set_edges(connection, state.clip_id, state.first, state.last)
    clips.change_facts(
        connection, [state.clip_id], swimmer_id=state.swimmer_id, stroke=state.stroke
    )
    (trash.put if state.gone else trash.bring_back)(connection, [state.clip_id])


def _check(connection: sqlite3.Connection, recording_id: int, first: int, last: int) -> None:
    frames = recordings.by_id(connection, recording_id).frames
    if not 0 <= first < frames or not 0 <= last < frames:
        raise FootageError(f"A part has to lie within the frames 0 to {frames - 1}.")
    if last - first + 1 < LEAST_FRAMES:
        raise FootageError("A part has to end after it begins. Go on a few frames, then press O.")


def _read(text: str) -> PartState:
    clip_id, first, last, swimmer_id, stroke, gone = json.loads(text)
    return PartState(clip_id, first, last, swimmer_id, stroke, bool(gone))


_HISTORY = History("cut_changes", _put, text=json.dumps, read=_read, owner="recording_id")
