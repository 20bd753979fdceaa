"""Giving up originals, and deleting recordings for good. The database first, then the files:
a file without a row is only room wasted, a row without a file is a clip lost."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence

from norvik.core.errors import FootageError
from norvik.settings import Settings
from norvik.storage.report import can_release
from norvik.store import recordings, trash
from norvik.store.connection import transaction


def release_original(connection: sqlite3.Connection, settings: Settings, recording_id: int) -> int:
    """Delete the original of a recording whose review copy suffices; gives the bytes freed.

    Every frame stays, in the review copy's size. Raises FootageError when there is no whole copy.
    """
    recording = recordings.by_id(connection, recording_id)
    if not can_release(recording):
        raise FootageError(
            f"The original of “{recording.original_name}” is needed: there is no whole review "
            "copy beside it."
        )
    copy = settings.data / str(recording.review_path)
    if not copy.is_file():
        raise FootageError(
            f"The review copy of “{recording.original_name}” is missing on the disk. "
            "Keep the original and have the copy made again."
        )
    original = settings.data / str(recording.original_path)
    recordings.set_released(connection, recording_id)
    freed = original.stat().st_size if original.is_file() else 0
    original.unlink(missing_ok=True)
    return freed


def delete_for_good(
    connection: sqlite3.Connection, settings: Settings, clip_ids: Sequence[int]
) -> int:
    """Delete clips that lie in the trash, with recordings that nothing needs any more.

    Returns how many recordings went with them.
    """
    originals = {
        row["id"]: row["original_path"]
        for row in connection.execute("SELECT id, original_path FROM recordings")
    }
    with transaction(connection):
        gone = trash.delete(connection, clip_ids)
    for recording_id in gone:
        for path in settings.made_of(recording_id):
            path.unlink(missing_ok=True)
        if originals.get(recording_id):
            (settings.data / originals[recording_id]).unlink(missing_ok=True)
    return len(gone)
