"""People who sign in."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from typing import Literal, get_args

from norvik.core.errors import NotFoundError

#: Every role, from the one that may do everything to those that see only their own. The table of
#: people holds the same by its CHECK; what each may is said in workflow/access.py.
Role = Literal["head-coach", "coach", "assistant", "swimmer", "guardian"]
ROLES: tuple[Role, ...] = get_args(Role)
#: Who works with squads.
STAFF: tuple[Role, ...] = ("head-coach", "coach", "assistant")


@dataclass(frozen=True, slots=True)
class User:
    """second_factor: the secret of the app that shows codes, or empty. disabled: may not sign in.

    password_hash is empty for somebody who was invited and has not answered yet.
    """

    id: int
    email: str
    name: str
    role: Role
    password_hash: str
    second_factor: str = ""
    second_factor_used: int = 0
    disabled_at: str | None = None

    @property
    def invited(self) -> bool:
        return not self.password_hash


_COLUMNS = "id, email, name, role, password_hash, second_factor, second_factor_used, disabled_at"


def add(
    connection: sqlite3.Connection, email: str, name: str, role: Role, password_hash: str
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


def every(connection: sqlite3.Connection) -> list[User]:
    """In the order of their roles, then by name."""
    rows = connection.execute(f"SELECT {_COLUMNS} FROM users ORDER BY name COLLATE NOCASE, id")
    return sorted((User(**row) for row in rows), key=lambda u: ROLES.index(u.role))


def head_coaches(connection: sqlite3.Connection) -> list[User]:
    """Those who can sign in and do everything."""
    return [
        u for u in every(connection)
        if u.role == "head-coach" and not u.disabled_at and not u.invited
    ]  # fmt: skip


def set_password(connection: sqlite3.Connection, user_id: int, password_hash: str) -> None:
    connection.execute("UPDATE users SET password_hash = ? WHERE id = ?", (password_hash, user_id))


def set_role(connection: sqlite3.Connection, user_id: int, role: Role) -> None:
    connection.execute("UPDATE users SET role = ? WHERE id = ?", (role, user_id))


def set_disabled(connection: sqlite3.Connection, user_id: int, disabled: bool) -> None:
    now = "strftime('%Y-%m-%dT%H:%M:%SZ', 'now')" if disabled else "NULL"
    connection.execute(f"UPDATE users SET disabled_at = {now} WHERE id = ?", (user_id,))


def set_second_factor(connection: sqlite3.Connection, user_id: int, secret: str) -> None:
    """secret: as the app and Norvik share it, in base 32; empty to go without."""
    connection.execute("UPDATE users SET second_factor = ? WHERE id = ?", (secret, user_id))


def use_second_factor(connection: sqlite3.Connection, user_id: int, step: int) -> bool:
    """Note that the code of a half minute was used; False where it, or a later one, already was."""
    changed = connection.execute(
        "UPDATE users SET second_factor_used = ? WHERE id = ? AND second_factor_used < ?",
        (step, user_id, step),
    ).rowcount
    return changed == 1


def remove(connection: sqlite3.Connection, user_id: int) -> None:
    """What the person made stays, without saying who made it."""
    # These rows were made before such columns let go by themselves.
    for table in ("recordings", "clips", "swims", "drawings", "drawing_changes", "drawing_repeats",
                  "tracks", "stills"):  # fmt: skip
        column = "user_id" if table == "drawing_changes" else "created_by"
        connection.execute(f"UPDATE {table} SET {column} = NULL WHERE {column} = ?", (user_id,))
    connection.execute("DELETE FROM undo_steps WHERE user_id = ?", (user_id,))
    connection.execute("DELETE FROM users WHERE id = ?", (user_id,))


def count(connection: sqlite3.Connection) -> int:
    return int(connection.execute("SELECT count(*) FROM users").fetchone()[0])
