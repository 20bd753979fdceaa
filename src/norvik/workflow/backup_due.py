"""What Today says of backups, to whoever answers for them."""

from __future__ import annotations

import sqlite3

from norvik.store import backups, club, counts


def backup_due(connection: sqlite3.Connection, now: float) -> str:
    """A sentence where the last good backup is too old or the last one failed; else empty.

    now: seconds since 1970. An installation without a clip has nothing to lose yet.
    """
    good, last = backups.newest_good(connection), backups.newest(connection)
    if last is not None and last.failure:
        return f"The last backup failed. {last.failure}"
    if good is None:
        if not counts.clips(connection):
            return ""
        return "No backup has been made yet. Set up the nightly backup (docs/operations.md)."
    age_h = (now - good.made_at) / 3600
    if age_h > club.house(connection, "backup-hours"):
        return f"The last good backup is {age_h:.0f} hours old ({good.folder})."
    return ""
