"""Clearing away what nobody needs any more.

First stretches that a whole review copy has replaced, files whose rows are gone, and what a stop in
between has left.
"""

from __future__ import annotations

import re
import sqlite3
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

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

_STRETCH = re.compile(r"(\d+)-\d+\.mp4")


#: A file without a row may belong to a clip that is just coming in; after a day it does not.
KEEP_ORPHANS_S = 24 * 3600.0


def sweep(settings: Settings, keep_s: float = KEEP_S) -> int:
    """Remove stretches that no recording points at any more, and other orphans. How many."""
    with connected(settings.database) as connection:
        remove_doomed(connection, settings)
        month_ago = datetime.now(UTC) - timedelta(days=swimmer_removal.KEPT_DAYS)
        erase_who_left(connection, settings, month_ago.strftime("%Y-%m-%dT%H:%M:%SZ"))
        sessions.forget_ended(connection, time.time())
        upload_owners.forget_old(connection)
        trail.forget_old(connection, club.trail_days(connection))
        orphans = _orphans(settings, connection)
    for path in orphans:
        path.unlink(missing_ok=True)
    return len(orphans) + _stretches(settings, keep_s)


def _orphans(settings: Settings, connection: sqlite3.Connection) -> list[Path]:
    """Originals without a recording, pictures and copies of none, and parts that never ended."""
    before = time.time() - KEEP_ORPHANS_S
    paths = recordings.original_paths(connection)
    originals, ids = set(paths.values()), set(paths)

    def old(path: Path) -> bool:
        return path.is_file() and path.stat().st_mtime < before

    found = [p for p in settings.originals.iterdir()
             if old(p) and settings.relative(p) not in originals]  # fmt: skip
    found += [p for p in settings.incoming.iterdir() if p.suffix == ".part" and old(p)]
    for folder, number in ((settings.copies, r"(\d+)[-.]"), (settings.pictures, r"\w+-(\d+)\.")):
        for path in folder.iterdir():
            made = re.match(number, path.name)
            if made and int(made.group(1)) not in ids and old(path):
                found.append(path)
    kept = made_films.paths(connection)
    found += [p for p in settings.films.iterdir() if old(p) and settings.relative(p) not in kept]
    papers = consents.paper_paths(connection)
    found += [p for p in settings.papers.iterdir() if old(p) and settings.relative(p) not in papers]
    found += [p for p in settings.talk_sounds.iterdir() if old(p)]
    return found


def _stretches(settings: Settings, keep_s: float) -> int:
    before = time.time() - keep_s
    old = [
        path
        for path in settings.copies.iterdir()
        if _STRETCH.fullmatch(path.name) and path.stat().st_mtime < before
    ]
    if not old:
        return 0
    with connected(settings.database) as connection:
        used = recordings.review_paths(connection)
    unused = [path for path in old if settings.relative(path) not in used]
    for path in unused:
        path.unlink(missing_ok=True)
    return len(unused)
