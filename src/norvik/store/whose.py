"""Whose a thing is: the swimmers it is of, and who brought it in where it is nobody's yet."""

from __future__ import annotations

import sqlite3

#: (swimmer's id or None, id of the person who brought it in or None)
Whose = tuple[int | None, int | None]

_OF_CLIPS_OF_REVIEW = (
    "SELECT coalesce(v.swimmer_id, c.swimmer_id), c.created_by FROM reviews v "
    "LEFT JOIN review_clips m ON m.review_id = v.id AND NOT m.taken_out "
    "LEFT JOIN clips c ON c.id = m.clip_id WHERE v.id = "
)
#: Kind of thing: the query that says whose one with this id is. A recording is of all who are on
#: its clips; what hangs on a review is of whoever the review is of.
_QUERIES = {
    "clip": "SELECT swimmer_id, created_by FROM clips WHERE id = ?",
    "recording": (
        "SELECT c.swimmer_id, coalesce(c.created_by, r.created_by) FROM recordings r "
        "LEFT JOIN clips c ON c.recording_id = r.id WHERE r.id = ?"
    ),
    "swimmer": "SELECT id, NULL FROM swimmers WHERE id = ?",
    "plan": "SELECT swimmer_id, NULL FROM plans WHERE id = ?",
    "swim": "SELECT swimmer_id, NULL FROM swims WHERE id = ?",
    "pool test": "SELECT swimmer_id, NULL FROM pool_tests WHERE id = ?",
    "review": _OF_CLIPS_OF_REVIEW + "?",
    "talk": _OF_CLIPS_OF_REVIEW + "(SELECT review_id FROM talks WHERE id = ?)",
    "film": (
        "SELECT coalesce(v.swimmer_id, c.swimmer_id), c.created_by FROM made_films f "
        "LEFT JOIN reviews v ON v.id = f.review_id LEFT JOIN clips c ON c.id = f.clip_id "
        "WHERE f.id = ?"
    ),
    "answer": (
        "SELECT v.swimmer_id, NULL FROM link_answers a JOIN review_links l ON l.id = a.link_id "
        "JOIN reviews v ON v.id = l.review_id WHERE a.id = ?"
    ),
}


def whose(connection: sqlite3.Connection, kind: str, key: int) -> list[Whose]:
    """Whose this thing is; empty where there is no such thing."""
    return [(row[0], row[1]) for row in connection.execute(_QUERIES[kind], (key,))]
