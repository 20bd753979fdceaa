"""Frames of a clip that are kept as pictures for the review."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class StoredStill:
    """caption: the coach's own words; empty where the measures speak."""

    id: int
    frame: int
    caption: str


def of_clip(connection: sqlite3.Connection, clip_id: int) -> list[StoredStill]:
    rows = connection.execute(
        "SELECT id, frame, caption FROM stills WHERE clip_id = ? ORDER BY frame", (clip_id,)
    )
    return [StoredStill(*row) for row in rows]


def keep(connection: sqlite3.Connection, clip_id: int, user_id: int | None, frame: int) -> bool:
    """Keep a frame; False when it was kept already."""
    row = connection.execute(
        "INSERT INTO stills (clip_id, frame, created_by) VALUES (?, ?, ?) "
        "ON CONFLICT DO NOTHING RETURNING id",
        (clip_id, frame, user_id),
    ).fetchone()
    return row is not None


def set_caption(connection: sqlite3.Connection, clip_id: int, still_id: int, caption: str) -> None:
    connection.execute(
        "UPDATE stills SET caption = ? WHERE clip_id = ? AND id = ?", (caption, clip_id, still_id)
    )


def delete(connection: sqlite3.Connection, clip_id: int, still_id: int) -> None:
    connection.execute("DELETE FROM stills WHERE clip_id = ? AND id = ?", (clip_id, still_id))
