"""Giving up originals, and deleting recordings for good.

The database first, then the files: a row without a file is a clip lost. What has to go is noted in
the same transaction, so that a stop in between leaves nothing that nobody knows of.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence

from norvik.core.errors import FootageError
from norvik.files.names import made_of
from norvik.files.opened import footage_of
from norvik.settings import Settings
from norvik.storage.hold import may_remove
from norvik.store import files_to_delete, recordings, trash
from norvik.store.connection import forget_for_good, transaction


def release_original(connection: sqlite3.Connection, settings: Settings, recording_id: int) -> int:
    """Delete the original of a recording whose review copy suffices; gives the bytes freed.

    Every frame stays, in the review copy's size. Raises FootageError when there is no whole copy.
    """
    recording = recordings.by_id(connection, recording_id)
    if not recording.releasable:
        raise FootageError(
            f"The original of “{recording.original_name}” is needed: there is no whole review "
            "copy beside it."
        )
    footage = footage_of(settings)
    if not footage.has(str(recording.review_path)):
        raise FootageError(
            f"The review copy of “{recording.original_name}” is missing on the disk. "
            "Keep the original and have the copy made again."
        )
    path = str(recording.original_path)
    freed = next((s.bytes for s in footage.listed(path) if s.name == path), 0)
    with transaction(connection):
        recordings.set_released(connection, recording_id)
        files_to_delete.add(connection, [path])
    remove_doomed(connection, settings)
    return freed


def delete_for_good(
    connection: sqlite3.Connection, settings: Settings, clip_ids: Sequence[int]
) -> int:
    """Delete clips that lie in the trash, with recordings that nothing needs any more.

    Returns how many recordings went with them.
    """
    with transaction(connection):
        gone = trash.delete(connection, clip_ids)
        files_to_delete.add(connection, files_of_recordings(settings, gone))
    remove_doomed(connection, settings)
    forget_for_good(connection)
    return len(gone)


def files_of_recordings(settings: Settings, gone: Sequence[tuple[int, str | None]]) -> list[str]:
    """Files of deleted recordings, by their names."""
    footage = footage_of(settings)
    made = [name for number, _ in gone for name in made_of(footage, number)]
    return [*(path for _, path in gone if path), *made]


def remove_doomed(connection: sqlite3.Connection, settings: Settings) -> int:
    """Remove the files that were noted, but for those that a recording still uses. How many."""
    with may_remove(settings) as allowed:
        if not allowed:
            return 0  # a backup is copying; the worker's next look removes them
        footage = footage_of(settings)
        paths = files_to_delete.every(connection)
        kept = {path for path in paths if files_to_delete.needed(connection, path)}
        for path in paths:
            if path not in kept:
                footage.remove(path)
        files_to_delete.done(connection, paths)
    return len(paths) - len(kept)
