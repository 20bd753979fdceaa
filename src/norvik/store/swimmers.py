"""Swimmers and what a coach has to know of them before judging."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass, field, replace

from norvik.core.errors import NotFoundError
from norvik.store import club


@dataclass(frozen=True, slots=True)
class Swimmer:
    """pain: body parts that hurt or were injured. kit: what the swimmer owns. minor: under age.

    schools: question id to school id; a missing one is the default school. leave_by, leave_on: who
    allowed on which day to show the swimmer beside others; both empty where nobody did. email,
    guardian_email: where links go; sending_by, sending_on: who allowed that on which day.
    """

    name: str
    level: str = "improver"
    usual_breath: str = ""
    aim: str = ""
    pain: tuple[str, ...] = ()
    kit: tuple[str, ...] = ()
    schools: dict[str, str] = field(default_factory=dict)
    minor: bool = False
    leave_by: str = ""
    leave_on: str = ""
    email: str = ""
    guardian_email: str = ""
    sending_by: str = ""
    sending_on: str = ""
    id: int = 0

    @property
    def may_be_compared(self) -> bool:
        """May other swimmers and their coach see this one beside them? Not unless it was said."""
        return bool(self.leave_by and self.leave_on)


_COLUMNS = (
    "id, name, level, usual_breath, aim, pain, kit, schools, minor, leave_by, leave_on, email, "
    "guardian_email, sending_by, sending_on"
)


def _swimmer(row: sqlite3.Row) -> Swimmer:
    return Swimmer(
        id=row["id"],
        name=row["name"],
        level=row["level"],
        usual_breath=row["usual_breath"],
        aim=row["aim"],
        pain=tuple(json.loads(row["pain"])),
        kit=tuple(json.loads(row["kit"])),
        schools=json.loads(row["schools"]),
        minor=bool(row["minor"]),
        leave_by=row["leave_by"],
        leave_on=row["leave_on"],
        email=row["email"],
        guardian_email=row["guardian_email"],
        sending_by=row["sending_by"],
        sending_on=row["sending_on"],
    )


def _values(swimmer: Swimmer) -> tuple[str | int, ...]:
    return (
        swimmer.name,
        swimmer.level,
        swimmer.usual_breath,
        swimmer.aim,
        json.dumps(swimmer.pain),
        json.dumps(swimmer.kit),
        json.dumps(swimmer.schools),
        int(swimmer.minor),
        swimmer.leave_by,
        swimmer.leave_on,
        swimmer.email,
        swimmer.guardian_email,
        swimmer.sending_by,
        swimmer.sending_on,
    )


def add(connection: sqlite3.Connection, swimmer: Swimmer) -> int:
    """Store a new swimmer, who starts from the club's coaching approach without an own one."""
    swimmer = replace(swimmer, schools=swimmer.schools or club.approach(connection))
    row = connection.execute(
        "INSERT INTO swimmers (name, level, usual_breath, aim, pain, kit, schools, minor, "
        "leave_by, leave_on, email, guardian_email, sending_by, sending_on) "
        "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        _values(swimmer),
    ).fetchone()
    return int(row["id"])


def update(connection: sqlite3.Connection, swimmer: Swimmer) -> None:
    connection.execute(
        "UPDATE swimmers SET name = ?, level = ?, usual_breath = ?, aim = ?, pain = ?, kit = ?, "
        "schools = ?, minor = ?, leave_by = ?, leave_on = ?, email = ?, guardian_email = ?, "
        "sending_by = ?, sending_on = ? WHERE id = ?",
        (*_values(swimmer), swimmer.id),
    )


def by_id(connection: sqlite3.Connection, swimmer_id: int, removed: bool = False) -> Swimmer:
    """Raises NotFoundError. removed: also one who was removed and can still be restored."""
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM swimmers WHERE id = ? AND (removed_at IS NULL OR ?)",
        (swimmer_id, removed),
    ).fetchone()
    if row is None:
        raise NotFoundError("This swimmer has been deleted.")
    return _swimmer(row)


def all_by_name(connection: sqlite3.Connection) -> list[Swimmer]:
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM swimmers WHERE removed_at IS NULL ORDER BY name COLLATE NOCASE, id"
    )
    return [_swimmer(row) for row in rows]


def by_name(connection: sqlite3.Connection, name: str) -> Swimmer | None:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM swimmers WHERE removed_at IS NULL AND name = ? COLLATE NOCASE",
        (name.strip(),),
    ).fetchone()
    return _swimmer(row) if row else None
