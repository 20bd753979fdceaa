"""Clips of the coach's own that show a drill."""

from __future__ import annotations

import sqlite3


def every(connection: sqlite3.Connection) -> dict[str, int]:
    """Drill to the clip that shows it; clips in the trash show nothing."""
    rows = connection.execute(
        "SELECT d.drill_id, d.clip_id FROM drill_clips d JOIN clips c ON c.id = d.clip_id "
        "WHERE c.trashed_at IS NULL"
    )
    return {row[0]: row[1] for row in rows}


def tie(connection: sqlite3.Connection, drill_id: str, clip_id: int | None) -> None:
    """Let a clip show a drill, in place of another one; None: no clip any more."""
    if clip_id is None:
        connection.execute("DELETE FROM drill_clips WHERE drill_id = ?", (drill_id,))
        return
    connection.execute(
        "INSERT INTO drill_clips (drill_id, clip_id) VALUES (?, ?) "
        "ON CONFLICT (drill_id) DO UPDATE SET clip_id = excluded.clip_id",
        (drill_id, clip_id),
    )
