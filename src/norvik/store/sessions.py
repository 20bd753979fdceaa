"""Who is signed in where. The browser holds a random token; here lies only its digest."""

from __future__ import annotations

import hashlib
import secrets
import sqlite3
from dataclasses import dataclass

#: Own choice, in seconds: a session ends after so long without a request, and after so long in all;
#: the second pair where somebody asked to stay signed in on their own machine.
IDLE_S, LONGEST_S = 12 * 3600.0, 7 * 86_400.0
IDLE_STAYS_S, LONGEST_STAYS_S = 30 * 86_400.0, 90 * 86_400.0
#: Being seen is written down at most this often, so that looking at a page writes nothing.
_SEEN_EVERY_S = 300.0


@dataclass(frozen=True, slots=True)
class Session:
    """began_at, seen_at: seconds since 1970. stays: of somebody who asked to stay signed in."""

    id: int
    user_id: int
    device: str
    address: str
    stays: bool
    began_at: float
    seen_at: float

    def ended(self, now: float) -> bool:
        idle, longest = (IDLE_STAYS_S, LONGEST_STAYS_S) if self.stays else (IDLE_S, LONGEST_S)
        return now - self.seen_at > idle or now - self.began_at > longest


_COLUMNS = "id, user_id, device, address, stays, began_at, seen_at"


def _session(row: sqlite3.Row) -> Session:
    return Session(**{**dict(row), "stays": bool(row["stays"])})


def digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def begin(
    connection: sqlite3.Connection, user_id: int, now: float, *, device: str = "",
    address: str = "", stays: bool = False,
) -> str:  # fmt: skip
    """A new session; gives the token for the browser, 256 random bits."""
    token = secrets.token_urlsafe(32)
    connection.execute(
        "INSERT INTO sessions (user_id, digest, device, address, stays, began_at, seen_at) "
        "VALUES (?, ?, ?, ?, ?, ?, ?)",
        (user_id, digest(token), device[:200], address[:60], int(stays), now, now),
    )
    return token


def of_token(connection: sqlite3.Connection, token: str, now: float) -> Session | None:
    """The session that a browser's token belongs to; None where it has ended."""
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM sessions WHERE digest = ?", (digest(token),)
    ).fetchone()
    found = _session(row) if row else None
    if found is None or found.ended(now):
        return None
    if now - found.seen_at > _SEEN_EVERY_S:
        connection.execute("UPDATE sessions SET seen_at = ? WHERE id = ?", (now, found.id))
    return found


def of_user(connection: sqlite3.Connection, user_id: int, now: float) -> list[Session]:
    """Where somebody is signed in, the latest seen first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM sessions WHERE user_id = ? ORDER BY seen_at DESC, id DESC",
        (user_id,),
    )
    return [s for s in map(_session, rows) if not s.ended(now)]


def end(connection: sqlite3.Connection, user_id: int, session_id: int) -> None:
    connection.execute("DELETE FROM sessions WHERE id = ? AND user_id = ?", (session_id, user_id))


def end_token(connection: sqlite3.Connection, token: str) -> None:
    connection.execute("DELETE FROM sessions WHERE digest = ?", (digest(token),))


def end_all(connection: sqlite3.Connection, user_id: int, but: int | None = None) -> int:
    """Sign somebody out everywhere, but for one session. How many ended."""
    return connection.execute(
        "DELETE FROM sessions WHERE user_id = ? AND id IS NOT ?", (user_id, but)
    ).rowcount


def forget_ended(connection: sqlite3.Connection, now: float) -> int:
    """Remove rows of sessions that are over. How many."""
    return connection.execute(
        "DELETE FROM sessions WHERE seen_at < ? - CASE stays WHEN 1 THEN ? ELSE ? END "
        "OR began_at < ? - CASE stays WHEN 1 THEN ? ELSE ? END",
        (now, IDLE_STAYS_S, IDLE_S, now, LONGEST_STAYS_S, LONGEST_S),
    ).rowcount
