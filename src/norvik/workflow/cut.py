"""Cut a recording into parts: who swims in each, in which stroke, from frame to frame."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from typing import Any

from norvik.core.errors import MarkError, NotFoundError
from norvik.core.strokes.names import StrokeName, is_stroke
from norvik.store import clips, cuts, marks
from norvik.store.clips import Clip


@dataclass(frozen=True, slots=True)
class PartChange:
    """What is to change of a part; what is None stays. nobody: the part loses its swimmer."""

    first: int | None = None
    last: int | None = None
    swimmer_id: int | None = None
    nobody: bool = False
    stroke: str | None = None
    gone: bool = False


@dataclass(frozen=True, slots=True)
class PartChanged:
    """The part as it is now. outside: marks that an edge moved past; they are kept, not counted."""

    clip: Clip
    outside: int


def cut_out(
    connection: sqlite3.Connection, user_id: int | None, recording_id: int,
    first: int, last: int, swimmer_id: int | None, stroke: str,
) -> int:  # fmt: skip
    """Cut out a part, both frames included; gives its clip.

    Raises MarkError for an unknown stroke, FootageError for frames that cannot be a part.
    """
    known = _known(stroke)
    return cuts.add(connection, recording_id, user_id, first, last, swimmer_id, known)


def change_part(
    connection: sqlite3.Connection, user_id: int | None, recording_id: int, clip: Clip,
    change: PartChange,
) -> PartChanged:  # fmt: skip
    """Change the edges, swimmer or stroke of a part, or move it to the trash.

    Raises NotFoundError for a clip that is no part of this recording, and as `cut_out` does.
    """
    if clip.recording.id != recording_id or not clip.is_part:
        raise NotFoundError("This part has been deleted.")
    wanted = {
        "first": change.first,
        "last": change.last,
        "swimmer_id": change.swimmer_id,
        "stroke": None if change.stroke is None else _known(change.stroke),
        "gone": change.gone or None,
    }
    changes: dict[str, Any] = {name: value for name, value in wanted.items() if value is not None}
    if change.nobody:
        changes["swimmer_id"] = None
    cuts.change(connection, clip, user_id, **changes)
    now = clips.by_id(connection, clip.id)
    outside = sum(not now.holds(m.frame) for m in marks.of_clip(connection, clip.id))
    return PartChanged(now, outside)


def _known(stroke: str) -> StrokeName:
    if not is_stroke(stroke):
        raise MarkError("This stroke is not known. Reload the page.")
    return stroke
