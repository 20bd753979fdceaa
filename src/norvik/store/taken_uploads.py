"""Which clip an upload became, so that a retry gets the same answer."""

from __future__ import annotations

import sqlite3


def put(connection: sqlite3.Connection, upload_id: str, clip_id: int, job_id: int) -> None:
    """Call in the transaction that makes the clip."""
    connection.execute(
        "INSERT INTO taken_uploads (upload_id, clip_id, job_id) VALUES (?, ?, ?)",
        (upload_id, clip_id, job_id),
    )


def find(connection: sqlite3.Connection, upload_id: str) -> tuple[int, int] | None:
    """Clip and job of an upload, while the clip is there."""
    row = connection.execute(
        "SELECT t.clip_id, t.job_id FROM taken_uploads t JOIN clips c ON c.id = t.clip_id "
        "WHERE t.upload_id = ?",
        (upload_id,),
    ).fetchone()
    return (row["clip_id"], row["job_id"]) if row else None
