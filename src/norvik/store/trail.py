"""The trail: who saw, sent, changed, erased what and when. Rows are added and never changed."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

#: Days that rows are kept where the club says nothing; the database refuses to remove newer ones.
KEPT_DAYS = 1095


@dataclass(frozen=True, slots=True)
class Step:
    """One row. at: ISO 8601 in UTC. kind, thing_id: what it was done to. swimmer_id: whose it is.

    swimmer: the name, as long as the swimmer is there.
    """

    id: int
    at: str
    user_id: int | None
    person: str
    deed: str
    kind: str
    thing_id: int | None
    swimmer_id: int | None
    swimmer: str
    words: str
    address: str


#: Names of swimmers and guardians are not written down: they can be erased, and rows cannot.
def add(
    connection: sqlite3.Connection, user_id: int | None, deed: str, kind: str,
    thing_id: int | None, swimmer_id: int | None, words: str, address: str,
) -> None:  # fmt: skip
    connection.execute(
        "INSERT INTO trail (user_id, person, deed, kind, thing_id, swimmer_id, words, address) "
        "VALUES (?, coalesce((SELECT name FROM users WHERE id = ? "
        "AND role NOT IN ('swimmer', 'guardian')), ''), ?, ?, ?, ?, ?, ?)",
        (user_id, user_id, deed, kind, thing_id, swimmer_id, words[:300], address[:60]),
    )


def seen_since(
    connection: sqlite3.Connection, user_id: int | None, deed: str, kind: str,
    thing_id: int | None, since: str,
) -> bool:  # fmt: skip
    """Was the same noted already since an instant?"""
    return (
        connection.execute(
            "SELECT 1 FROM trail WHERE user_id IS ? AND deed = ? AND kind = ? AND thing_id IS ? "
            "AND at >= ? LIMIT 1",
            (user_id, deed, kind, thing_id, since),
        ).fetchone()
        is not None
    )


def find(
    connection: sqlite3.Connection, *, user_id: int | None = None, swimmer_id: int | None = None,
    deeds: Sequence[str] = (), before: int | None = None, limit: int = 100,
) -> list[Step]:  # fmt: skip
    """The newest first. before: only rows with a smaller number."""
    parts, values = ["1"], list[object]()
    for column, value in (("t.user_id", user_id), ("t.swimmer_id", swimmer_id)):
        if value is not None:
            parts.append(f"{column} = ?")
            values.append(value)
    if deeds:
        parts.append(f"t.deed IN ({', '.join('?' * len(deeds))})")
        values += deeds
    if before is not None:
        parts.append("t.id < ?")
        values.append(before)
    rows = connection.execute(
        "SELECT t.id, t.at, t.user_id, coalesce(nullif(t.person, ''), u.name, '') AS person, "
        "t.deed, t.kind, t.thing_id, t.swimmer_id, coalesce(s.name, '') AS swimmer, t.words, "
        "t.address FROM trail t LEFT JOIN users u ON u.id = t.user_id "
        # The number of a swimmer who was erased may be given to another one later.
        "LEFT JOIN swimmers s ON s.id = t.swimmer_id AND s.created_at <= t.at "
        f"WHERE {' AND '.join(parts)} "
        "ORDER BY t.id DESC LIMIT ?",
        (*values, limit),
    )
    return [Step(**dict(row)) for row in rows]


def forget_old(connection: sqlite3.Connection, days: int) -> int:
    """Remove rows that are older than the club keeps them. How many."""
    return connection.execute(
        "DELETE FROM trail WHERE at < strftime('%Y-%m-%dT%H:%M:%SZ', 'now', ?)",
        (f"-{days + 1} days",),
    ).rowcount
