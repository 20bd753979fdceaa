"""Who began which upload: nobody else goes on with it."""

from __future__ import annotations

import sqlite3


def put(connection: sqlite3.Connection, upload_id: str, user_id: int) -> None:
    connection.execute(
        "INSERT OR IGNORE INTO upload_owners (upload_id, user_id) VALUES (?, ?)",
        (upload_id, user_id),
    )


def owner(connection: sqlite3.Connection, upload_id: str) -> int | None:
    row = connection.execute(
        "SELECT user_id FROM upload_owners WHERE upload_id = ?", (upload_id,)
    ).fetchone()
    return int(row["user_id"]) if row else None


def forget_old(connection: sqlite3.Connection, days: int = 7) -> None:
    """Uploads are finished or given up long before."""
    connection.execute(
        "DELETE FROM upload_owners WHERE begun_at < strftime('%Y-%m-%dT%H:%M:%SZ', 'now', ?)",
        (f"-{days} days",),
    )
