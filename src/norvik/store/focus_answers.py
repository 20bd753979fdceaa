"""What the coach says, in a later review, of a point that is in training."""

from __future__ import annotations

import sqlite3

from norvik.core.strokes.names import StrokeName

ANSWERS = ("still", "better", "gone", "unseen")


def of_review(connection: sqlite3.Connection, review_id: int, stroke: StrokeName) -> dict[str, str]:
    """Answer by fault."""
    rows = connection.execute(
        "SELECT fault, answer FROM focus_answers WHERE review_id = ? AND stroke = ?",
        (review_id, stroke),
    )
    return {row["fault"]: row["answer"] for row in rows}


def put(
    connection: sqlite3.Connection, review_id: int, stroke: StrokeName, fault: str, answer: str
) -> None:
    connection.execute(
        "INSERT INTO focus_answers (review_id, stroke, fault, answer) VALUES (?, ?, ?, ?) "
        "ON CONFLICT (review_id, stroke, fault) DO UPDATE SET answer = excluded.answer",
        (review_id, stroke, fault, answer),
    )


def remove(connection: sqlite3.Connection, review_id: int, stroke: StrokeName, fault: str) -> None:
    connection.execute(
        "DELETE FROM focus_answers WHERE review_id = ? AND stroke = ? AND fault = ?",
        (review_id, stroke, fault),
    )


def newest(
    connection: sqlite3.Connection, swimmer_id: int, stroke: StrokeName
) -> dict[str, tuple[str, str]]:
    """(answer, day of filming) by fault: the newest one that says something of it."""
    rows = connection.execute(
        "SELECT a.fault, a.answer, v.filmed_on "
        "FROM focus_answers a JOIN reviews v ON v.id = a.review_id "
        "WHERE v.swimmer_id = ? AND a.stroke = ? AND a.answer != 'unseen' "
        "ORDER BY v.filmed_on, v.id",
        (swimmer_id, stroke),
    )
    return {row["fault"]: (row["answer"], row["filmed_on"]) for row in rows}


def in_training(
    connection: sqlite3.Connection,
    swimmer_id: int,
    stroke: StrokeName,
    filmed_on: str,
    review_id: int,
) -> list[str]:
    """Faults that were chosen in reviews of days before this one, oldest first.

    Left out: what the coach has called done or paused, and what the newest answer before this day
    calls gone. review_id: the review itself, which does not count.
    """
    rows = connection.execute(
        "SELECT f.fault, min(v.filmed_on) AS since "
        "FROM focuses f JOIN reviews v ON v.id = f.review_id "
        "WHERE v.swimmer_id = ?1 AND f.stroke = ?2 AND v.filmed_on < ?3 AND v.id != ?4 "
        "AND NOT EXISTS (SELECT 1 FROM rungs r WHERE r.swimmer_id = v.swimmer_id "
        "AND r.stroke = f.stroke AND r.fault = f.fault) "
        "AND coalesce((SELECT a.answer FROM focus_answers a JOIN reviews e ON e.id = a.review_id "
        "WHERE a.fault = f.fault AND e.swimmer_id = v.swimmer_id AND a.stroke = f.stroke "
        "AND e.filmed_on < ?3 AND a.answer != 'unseen' "
        "ORDER BY e.filmed_on DESC, e.id DESC LIMIT 1), '') != 'gone' "
        "GROUP BY f.fault ORDER BY since, f.fault",
        (swimmer_id, stroke, filmed_on, review_id),
    )
    return [row["fault"] for row in rows]
