"""Squads, each in one season: who swims in them, who works with them, and who sees whom."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from norvik.core.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class Squad:
    """season: as the club calls it ("2026/27"). starts_on, ends_on: ISO 8601, or empty for open.

    swimmers, staff: ids.
    """

    name: str
    season: str = ""
    starts_on: str = ""
    ends_on: str = ""
    swimmers: frozenset[int] = frozenset()
    staff: frozenset[int] = frozenset()
    id: int = 0

    def over(self, today: str) -> bool:
        return bool(self.ends_on) and self.ends_on < today


#: A squad (q) gives access on a day: it has not ended yet.
_RUNNING = "(q.ends_on = '' OR q.ends_on >= ?)"


def every(connection: sqlite3.Connection) -> list[Squad]:
    """The running ones and the future ones first, then those that are over."""
    swimmers = _members(connection, "squad_swimmers", "swimmer_id")
    staff = _members(connection, "squad_staff", "user_id")
    rows = connection.execute(
        "SELECT id, name, season, starts_on, ends_on FROM squads "
        "ORDER BY ends_on != '', ends_on DESC, name, id"
    )
    return [
        Squad(**dict(row), swimmers=frozenset(swimmers.get(row["id"], ())),
              staff=frozenset(staff.get(row["id"], ())))
        for row in rows
    ]  # fmt: skip


def _members(connection: sqlite3.Connection, table: str, column: str) -> dict[int, set[int]]:
    found: dict[int, set[int]] = {}
    for row in connection.execute(f"SELECT squad_id, {column} FROM {table}"):
        found.setdefault(row[0], set()).add(row[1])
    return found


def by_id(connection: sqlite3.Connection, squad_id: int) -> Squad:
    row = connection.execute(
        "SELECT id, name, season, starts_on, ends_on FROM squads WHERE id = ?", (squad_id,)
    ).fetchone()
    if row is None:
        raise NotFoundError("This squad has been deleted.")

    def members(table: str, column: str) -> frozenset[int]:
        rows = connection.execute(f"SELECT {column} FROM {table} WHERE squad_id = ?", (squad_id,))
        return frozenset(one[0] for one in rows)

    return Squad(
        **dict(row), swimmers=members("squad_swimmers", "swimmer_id"),
        staff=members("squad_staff", "user_id"),
    )  # fmt: skip


def put(connection: sqlite3.Connection, squad: Squad) -> int:
    """Store a squad with its people, new or changed. Call inside a transaction."""
    said = (squad.name, squad.season, squad.starts_on, squad.ends_on)
    if squad.id:
        connection.execute(
            "UPDATE squads SET name = ?, season = ?, starts_on = ?, ends_on = ? WHERE id = ?",
            (*said, squad.id),
        )
        squad_id = squad.id
    else:
        row = connection.execute(
            "INSERT INTO squads (name, season, starts_on, ends_on) VALUES (?, ?, ?, ?) "
            "RETURNING id",
            said,
        ).fetchone()
        squad_id = int(row["id"])
    for table, column, ids in (
        ("squad_swimmers", "swimmer_id", squad.swimmers),
        ("squad_staff", "user_id", squad.staff),
    ):
        connection.execute(f"DELETE FROM {table} WHERE squad_id = ?", (squad_id,))
        connection.executemany(
            f"INSERT INTO {table} (squad_id, {column}) VALUES (?, ?)",
            [(squad_id, n) for n in sorted(ids)],
        )
    return squad_id


def add_swimmer(connection: sqlite3.Connection, squad_ids: Iterable[int], swimmer_id: int) -> None:
    connection.executemany(
        "INSERT OR IGNORE INTO squad_swimmers (squad_id, swimmer_id) VALUES (?, ?)",
        [(n, swimmer_id) for n in squad_ids],
    )


def delete(connection: sqlite3.Connection, squad_id: int) -> None:
    """The swimmers and the people stay."""
    connection.execute("DELETE FROM squads WHERE id = ?", (squad_id,))


def of_staff(connection: sqlite3.Connection, user_id: int, today: str) -> list[int]:
    """Squads that somebody works with on a day, by their ids."""
    rows = connection.execute(
        "SELECT q.id FROM squads q JOIN squad_staff p ON p.squad_id = q.id "
        f"WHERE p.user_id = ? AND {_RUNNING} ORDER BY q.name, q.id",
        (user_id, today),
    )
    return [row["id"] for row in rows]


def swimmers_of_staff(connection: sqlite3.Connection, user_id: int, today: str) -> frozenset[int]:
    """Swimmers of the squads that somebody works with on a day."""
    rows = connection.execute(
        "SELECT DISTINCT m.swimmer_id FROM squad_swimmers m JOIN squads q ON q.id = m.squad_id "
        f"JOIN squad_staff p ON p.squad_id = q.id WHERE p.user_id = ? AND {_RUNNING}",
        (user_id, today),
    )
    return frozenset(row["swimmer_id"] for row in rows)


def own_swimmers(connection: sqlite3.Connection, user_id: int) -> frozenset[int]:
    """Whose own pages a swimmer or a guardian opens."""
    rows = connection.execute(
        "SELECT swimmer_id FROM account_swimmers WHERE user_id = ?", (user_id,)
    )
    return frozenset(row["swimmer_id"] for row in rows)


def set_own_swimmers(connection: sqlite3.Connection, user_id: int, ids: Iterable[int]) -> None:
    connection.execute("DELETE FROM account_swimmers WHERE user_id = ?", (user_id,))
    connection.executemany(
        "INSERT INTO account_swimmers (user_id, swimmer_id) VALUES (?, ?)",
        [(user_id, n) for n in sorted(set(ids))],
    )
