"""What the coach says, on a later clip, of a point that is in training."""

from __future__ import annotations

import sqlite3

ANSWERS = ("still", "better", "gone", "unseen")


def of_clip(connection: sqlite3.Connection, clip_id: int) -> dict[str, str]:
    """Answer by fault."""
    rows = connection.execute(
        "SELECT fault, answer FROM focus_answers WHERE clip_id = ?", (clip_id,)
    )
    return {row["fault"]: row["answer"] for row in rows}


def put(connection: sqlite3.Connection, clip_id: int, fault: str, answer: str) -> None:
    connection.execute(
        "INSERT INTO focus_answers (clip_id, fault, answer) VALUES (?, ?, ?) "
        "ON CONFLICT (clip_id, fault) DO UPDATE SET answer = excluded.answer",
        (clip_id, fault, answer),
    )


def remove(connection: sqlite3.Connection, clip_id: int, fault: str) -> None:
    connection.execute(
        "DELETE FROM focus_answers WHERE clip_id = ? AND fault = ?", (clip_id, fault)
    )


def newest(
    connection: sqlite3.Connection, swimmer_id: int, stroke: str
) -> dict[str, tuple[str, str]]:
    """(answer, day of filming) by fault: the newest one that says something of it."""
    rows = connection.execute(
        "SELECT a.fault, a.answer, c.filmed_on "
        "FROM focus_answers a JOIN clips c ON c.id = a.clip_id "
        "WHERE c.swimmer_id = ? AND c.stroke = ? AND c.trashed_at IS NULL AND a.answer != 'unseen' "
        "ORDER BY c.filmed_on, c.id",
        (swimmer_id, stroke),
    )
    return {row["fault"]: (row["answer"], row["filmed_on"]) for row in rows}


def in_training(
    connection: sqlite3.Connection, swimmer_id: int, stroke: str, filmed_on: str, clip_id: int
) -> list[str]:
    """Faults that were chosen on clips filmed before this day, oldest first.

    Left out: what the coach has called done or paused, and what the newest answer before this clip
    calls gone. clip_id: the clip itself, which does not count.
    """
    rows = connection.execute(
        "SELECT f.fault, min(c.filmed_on) AS since FROM focuses f JOIN clips c ON c.id = f.clip_id "
        "WHERE c.swimmer_id = ? AND c.stroke = ? AND c.filmed_on < ? AND c.id != ? "
        "AND c.trashed_at IS NULL "
        "AND NOT EXISTS (SELECT 1 FROM rungs r WHERE r.swimmer_id = c.swimmer_id "
        "AND r.stroke = c.stroke AND r.fault = f.fault) "
        "AND coalesce((SELECT a.answer FROM focus_answers a JOIN clips e ON e.id = a.clip_id "
        "WHERE a.fault = f.fault AND e.swimmer_id = c.swimmer_id AND e.stroke = c.stroke "
        "AND e.filmed_on < ? AND e.trashed_at IS NULL AND a.answer != 'unseen' "
        "ORDER BY e.filmed_on DESC, e.id DESC LIMIT 1), '') != 'gone' "
        "GROUP BY f.fault ORDER BY since, f.fault",
        (swimmer_id, stroke, filmed_on, clip_id, filmed_on),
    )
    return [row["fault"] for row in rows]
