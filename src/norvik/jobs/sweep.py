"""Clearing away first stretches that a whole review copy has replaced."""

from __future__ import annotations

import re
import time

from norvik.settings import Settings
from norvik.store.connection import connected

#: A page may still be playing a stretch when the whole copy comes; it changes over in seconds.
KEEP_S = 60.0

_STRETCH = re.compile(r"(\d+)-\d+\.mp4")


def sweep(settings: Settings, keep_s: float = KEEP_S) -> int:
    """Remove stretches that no recording points at any more. Returns how many."""
    before = time.time() - keep_s
    old = [
        path
        for path in settings.copies.iterdir()
        if _STRETCH.fullmatch(path.name) and path.stat().st_mtime < before
    ]
    if not old:
        return 0
    with connected(settings.database) as connection:
        rows = connection.execute("SELECT review_path FROM recordings WHERE review_path NOT NULL")
        used = {row["review_path"] for row in rows}
    unused = [path for path in old if settings.relative(path) not in used]
    for path in unused:
        path.unlink(missing_ok=True)
    return len(unused)
