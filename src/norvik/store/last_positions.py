"""Where each person stopped in each clip."""

from __future__ import annotations

import sqlite3


def put(connection: sqlite3.Connection, clip_id: int, user_id: int, frame: int) -> None:
    connection.execute(
        "INSERT INTO places (clip_id, user_id, frame) VALUES (?, ?, ?) "
        "ON CONFLICT (clip_id, user_id) DO UPDATE SET frame = excluded.frame, "
        "seen_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now')",
        (clip_id, user_id, frame),
    )


def of(connection: sqlite3.Connection, clip_id: int, user_id: int) -> int | None:
    row = connection.execute(
        "SELECT frame FROM places WHERE clip_id = ? AND user_id = ?", (clip_id, user_id)
    ).fetchone()
    return row["frame"] if row else None
