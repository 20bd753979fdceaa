"""A mark in the film of one camera is a mark in the film of the other."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator, Mapping
from contextlib import contextmanager, suppress

from norvik.core.errors import MarkError
from norvik.store import marks, tied_recordings
from norvik.store.clips import Clip
from norvik.store.connection import transaction
from norvik.store.marks import StoredMark
from norvik.workflow.side_by_side.tie import twin_frame, twins_of

#: Own choice: so many frames from where it belongs, a mark of the other film still is the same one.
_SAME_FRAMES = 3


@contextmanager
def in_both(connection: sqlite3.Connection, clip: Clip) -> Iterator[None]:
    """Whatever is done to the marks of a clip inside is done in the films of the same swim, too.

    There it belongs to nobody's own steps: taken back here, it is taken back there.
    """
    if not tied_recordings.of_recording(connection, clip.recording.id):
        yield
        return
    with transaction(connection):
        before = {m.id: m for m in marks.of_clip(connection, clip.id)}
        yield
        after = {m.id: m for m in marks.of_clip(connection, clip.id)}
        for twin in twins_of(connection, clip):
            _follow(connection, clip, twin, before, after)


def _follow(
    connection: sqlite3.Connection, clip: Clip, twin: Clip, before: Mapping[int, StoredMark],
    after: Mapping[int, StoredMark],
) -> None:  # fmt: skip
    for mark_id in sorted(before.keys() | after.keys()):
        old, new = before.get(mark_id), after.get(mark_id)
        if old == new:
            continue
        there = _same(connection, clip, twin, old) if old else None
        frame = twin_frame(connection, clip, twin, new.frame) if new else None
        with suppress(MarkError):  # the same one stands there already
            if there is not None and (new is None or frame is None):
                marks.delete(connection, twin.id, None, there.id)
            elif there is not None and frame is not None:
                marks.move(connection, twin.id, None, there.id, frame)
            elif new is not None and frame is not None:
                marks.place(
                    connection, twin.id, None, frame, new.lane, new.side, new.event, new.note
                )


def _same(
    connection: sqlite3.Connection, clip: Clip, twin: Clip, mark: StoredMark
) -> StoredMark | None:
    """The twin's mark of the same event at the same instant."""
    frame = twin_frame(connection, clip, twin, mark.frame)
    if frame is None:
        return None
    alike = [
        m for m in marks.of_clip(connection, twin.id)
        if (m.lane, m.side, m.event) == (mark.lane, mark.side, mark.event)
        and abs(m.frame - frame) <= _SAME_FRAMES
    ]  # fmt: skip
    return min(alike, key=lambda m: abs(m.frame - frame), default=None)
