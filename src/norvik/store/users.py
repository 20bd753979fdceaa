"""People who sign in."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class User:
    id: int
    email: str
    name: str
    role: str
    password_hash: str


_COLUMNS = "id, email, name, role, password_hash"


def add(
    connection: sqlite3.Connection, email: str, name: str, role: str, password_hash: str
) -> int:
    row = connection.execute(
        "INSERT INTO users (email, name, role, password_hash) VALUES (?, ?, ?, ?) RETURNING id",
        (email.strip(), name.strip(), role, password_hash),
    ).fetchone()
    return int(row["id"])


def by_id(connection: sqlite3.Connection, user_id: int) -> User:
    row = connection.execute(f"SELECT {_COLUMNS} FROM users WHERE id = ?", (user_id,)).fetchone()
    if row is None:
        raise NotFoundError("This account has been deleted. Sign in again.")
    return User(**row)


def by_email(connection: sqlite3.Connection, email: str) -> User | None:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM users WHERE email = ?", (email.strip(),)
    ).fetchone()
    return User(**row) if row else None


def set_password(connection: sqlite3.Connection, user_id: int, password_hash: str) -> None:
    connection.execute("UPDATE users SET password_hash = ? WHERE id = ?", (password_hash, user_id))


def count(connection: sqlite3.Connection) -> int:
    return int(connection.execute("SELECT count(*) FROM users").fetchone()[0])
