"""Clearing away what nobody needs any more.

First stretches that a whole review copy has replaced, files whose rows are gone, and what a stop in
between has left.
"""

from __future__ import annotations

import re
import shutil
import sqlite3
import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta

from norvik.files.footage import (
    COPIES,
    FILMS,
    ORIGINALS,
    PAPERS,
    PICTURES,
    TALK_SOUNDS,
    Footage,
)
from norvik.files.opened import footage_of
from norvik.settings import Settings
from norvik.storage.erase import erase_who_left
from norvik.storage.release import remove_doomed
from norvik.store import (
    club,
    consents,
    made_films,
    recordings,
    sessions,
    swimmer_removal,
    trail,
    upload_owners,
)
from norvik.store.connection import connected

#: A page may still be playing a stretch when the whole copy comes; it changes over in seconds.
KEEP_S = 60.0

_STRETCH = re.compile(rf"{COPIES}/\d+-\d+\.mp4")


#: A file without a row may belong to a clip that is just coming in; after a day it does not.
KEEP_ORPHANS_S = 24 * 3600.0


def sweep(settings: Settings, keep_s: float = KEEP_S, thorough: bool = True) -> int:
    """Remove stretches that no recording points at any more, and other orphans. How many.

    thorough: look through all files, too, which takes long where there are many.
    """
    with connected(settings.database) as connection:
        remove_doomed(connection, settings)
        month_ago = datetime.now(UTC) - timedelta(days=swimmer_removal.KEPT_DAYS)
        erase_who_left(connection, settings, month_ago.strftime("%Y-%m-%dT%H:%M:%SZ"))
        sessions.forget_ended(connection, time.time())
        upload_owners.forget_old(connection)
        trail.forget_old(connection, club.trail_days(connection))
        if not thorough:
            return 0
        footage = footage_of(settings)
        orphans = [*_orphans(footage, connection, keep_s), *_stretches(footage, connection, keep_s)]
        for name in orphans:
            footage.remove(name)
    return len(orphans) + _unfinished(settings)


def _orphans(footage: Footage, connection: sqlite3.Connection, keep_s: float) -> Iterator[str]:
    """Originals without a recording, pictures and copies of none, and parts that never ended."""
    began = time.time()
    before = began - KEEP_ORPHANS_S
    paths = recordings.original_paths(connection)
    known: dict[str, set[str | None]] = {
        ORIGINALS: set(paths.values()),
        FILMS: set(made_films.paths(connection)),
        PAPERS: set(consents.paper_paths(connection)),
        TALK_SOUNDS: set(),
    }
    for folder, there in known.items():
        for file in footage.listed(f"{folder}/"):
            if file.name not in there and file.modified < before:
                yield file.name
    for folder, number in ((COPIES, r"(\d+)[-.]"), (PICTURES, r"\w+-(?:\d+-\d+-)?(\d+)\.")):
        for file in footage.listed(f"{folder}/"):
            made = re.match(number, file.name.partition("/")[2])
            # Its recording was there before it and has gone since: a worker that had not heard of
            # it put this down.
            if made and int(made.group(1)) not in paths and file.modified < began - keep_s:
                yield file.name


def _stretches(footage: Footage, connection: sqlite3.Connection, keep_s: float) -> Iterator[str]:
    before = time.time() - keep_s
    old = [
        s.name for s in footage.listed(f"{COPIES}/")
        if _STRETCH.fullmatch(s.name) and s.modified < before
    ]  # fmt: skip
    used = recordings.review_paths(connection) if old else set()
    yield from (name for name in old if name not in used)


def _unfinished(settings: Settings) -> int:
    """What uploads and work that were cut short have left on this machine."""
    before = time.time() - KEEP_ORPHANS_S
    left = [
        p for p in (
            *settings.incoming.glob("*.part"), *settings.files.glob("*/*.part"),
            *settings.work.iterdir(),
        )
        if p.stat().st_mtime < before
    ]  # fmt: skip
    for path in left:
        if path.is_dir():
            shutil.rmtree(path, ignore_errors=True)
        else:
            path.unlink(missing_ok=True)
    return len(left)
