"""Which clips a review gathers: by day of themselves, else as the coach puts them in or out."""

from __future__ import annotations

import sqlite3


def join_day(connection: sqlite3.Connection, clip_id: int) -> None:
    """Let a clip join the open review of its swimmer and day, or begin one.

    A clip that is in a review of its swimmer, or was taken out of one, stays as it is. Beside a
    finished review it stays apart: what was finished changes only when the coach puts it in.
    """
    clip = connection.execute(
        "SELECT swimmer_id, filmed_on, stroke, trashed_at FROM clips WHERE id = ?", (clip_id,)
    ).fetchone()
    if clip is None or clip["swimmer_id"] is None or clip["trashed_at"]:
        return
    connection.execute(
        "UPDATE reviews SET swimmer_id = ?1 WHERE swimmer_id IS NULL AND id IN "
        "(SELECT review_id FROM review_clips WHERE clip_id = ?2)",
        (clip["swimmer_id"], clip_id),
    )
    known = connection.execute(
        "SELECT v.id, m.taken_out FROM review_clips m JOIN reviews v ON v.id = m.review_id "
        "WHERE m.clip_id = ? AND v.swimmer_id = ?",
        (clip_id, clip["swimmer_id"]),
    ).fetchall()
    if known:
        for row in known:
            if not row["taken_out"]:
                _follow_days(connection, row["id"])
        return
    there = connection.execute(
        "SELECT id, done_at FROM reviews WHERE swimmer_id = ? AND filmed_on = ? "
        "ORDER BY done_at IS NOT NULL, id LIMIT 1",
        (clip["swimmer_id"], clip["filmed_on"]),
    ).fetchone()
    if there is not None and there["done_at"]:
        return
    review_id = there["id"] if there else begin(connection, clip["swimmer_id"], clip["filmed_on"])
    put_in(connection, review_id, clip_id)


def begin(connection: sqlite3.Connection, swimmer_id: int, filmed_on: str) -> int:
    """A new review without clips."""
    row = connection.execute(
        "INSERT INTO reviews (swimmer_id, filmed_on) VALUES (?, ?) RETURNING id",
        (swimmer_id, filmed_on),
    ).fetchone()
    return int(row["id"])


def put_in(connection: sqlite3.Connection, review_id: int, clip_id: int) -> None:
    connection.execute(
        "INSERT INTO review_clips (review_id, clip_id, stroke) "
        "SELECT ?1, id, stroke FROM clips WHERE id = ?2 "
        "ON CONFLICT (review_id, clip_id) DO UPDATE SET taken_out = 0, stroke = excluded.stroke",
        (review_id, clip_id),
    )


def take_out(connection: sqlite3.Connection, review_id: int, clip_id: int) -> None:
    """Out of the review; it does not come back by itself."""
    connection.execute(
        "UPDATE review_clips SET taken_out = 1 WHERE review_id = ? AND clip_id = ?",
        (review_id, clip_id),
    )


def forget_gone(connection: sqlite3.Connection, review_id: int) -> None:
    """No more word of clips that were deleted for good."""
    connection.execute(
        "DELETE FROM review_clips WHERE review_id = ? AND clip_id IS NULL", (review_id,)
    )


def remember(connection: sqlite3.Connection, clip_id: int) -> None:
    """Before a clip is deleted for good: the reviews that hold it keep in words what it was."""
    connection.execute(
        "UPDATE review_clips SET was = (SELECT c.stroke || ', ' || c.view || ', ' || c.filmed_on "
        "FROM clips c WHERE c.id = review_clips.clip_id) WHERE clip_id = ?",
        (clip_id,),
    )


def apart(connection: sqlite3.Connection, swimmer_id: int) -> list[int]:
    """Ids of a swimmer's clips that are in no review, newest first."""
    rows = connection.execute(
        "SELECT c.id FROM clips c WHERE c.swimmer_id = ?1 AND c.trashed_at IS NULL AND c.id NOT IN "
        "(SELECT m.clip_id FROM review_clips m JOIN reviews v ON v.id = m.review_id "
        "WHERE v.swimmer_id = ?1 AND NOT m.taken_out AND m.clip_id IS NOT NULL) "
        "ORDER BY c.filmed_on DESC, c.id DESC",
        (swimmer_id,),
    )
    return [row["id"] for row in rows]


def views(connection: sqlite3.Connection, review_id: int) -> tuple[str, ...]:
    """Views of the clips that a review gathers, each once."""
    rows = connection.execute(
        "SELECT DISTINCT c.view FROM review_clips m JOIN clips c ON c.id = m.clip_id "
        "WHERE m.review_id = ? AND NOT m.taken_out ORDER BY m.id",
        (review_id,),
    )
    return tuple(row["view"] for row in rows)


def _follow_days(connection: sqlite3.Connection, review_id: int) -> None:
    """A review whose clips are all of another day, because it was corrected, is of that day."""
    days = [
        row["filmed_on"]
        for row in connection.execute(
            "SELECT DISTINCT c.filmed_on FROM review_clips m JOIN clips c ON c.id = m.clip_id "
            "WHERE m.review_id = ? AND NOT m.taken_out",
            (review_id,),
        )
    ]
    if len(days) == 1:
        connection.execute("UPDATE reviews SET filmed_on = ? WHERE id = ?", (days[0], review_id))
