"""Links by which somebody chooses a password: newly invited, or having forgotten it."""

from __future__ import annotations

import secrets
import sqlite3
from typing import Literal

from norvik.store.sessions import digest

Kind = Literal["invitation", "reset"]
#: Own choice, in seconds: how long each kind of link opens.
VALID_S: dict[Kind, float] = {"invitation": 7 * 86_400.0, "reset": 3600.0}


def make(connection: sqlite3.Connection, user_id: int, kind: Kind, now: float) -> str:
    """A new link's token, 192 random bits; earlier links of this person open no more."""
    connection.execute("DELETE FROM account_links WHERE user_id = ?", (user_id,))
    token = secrets.token_urlsafe(24)
    connection.execute(
        "INSERT INTO account_links (user_id, kind, digest, valid_until) VALUES (?, ?, ?, ?)",
        (user_id, kind, digest(token), now + VALID_S[kind]),
    )
    return token


def user_of(connection: sqlite3.Connection, token: str, now: float) -> int | None:
    """Whose link it is; None where it has run out, was used, or never was."""
    row = connection.execute(
        "SELECT user_id FROM account_links WHERE digest = ? AND used_at IS NULL "
        "AND valid_until >= ?",
        (digest(token), now),
    ).fetchone()
    return int(row["user_id"]) if row else None


def use(connection: sqlite3.Connection, token: str, now: float) -> bool:
    """Use a link up; False where somebody else was faster."""
    return (
        connection.execute(
            "UPDATE account_links SET used_at = ? WHERE digest = ? AND used_at IS NULL",
            (now, digest(token)),
        ).rowcount
        == 1
    )
