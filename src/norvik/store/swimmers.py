"""Swimmers and what a coach has to know of them before judging."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass, field, replace
from typing import NamedTuple

from norvik.core.errors import NotFoundError
from norvik.store import club
from norvik.store.scope import Within, of_swimmers

#: What an adult need not have written down, where the club does not ask for it.
OF_ADULTS = ("filming", "keeping", "sending")


@dataclass(frozen=True, slots=True)
class Swimmer:
    """pain: body parts that hurt or were injured. kit: what the swimmer owns. minor: under age.

    schools: question id to school id; a missing one is the default school. email, guardian_email:
    where links go. consents: kind to whether it holds today, of the kinds that have a record;
    asks_everybody: the club wants a record of adults, too. These two are read and never written
    here (`consents`).
    """

    name: str
    level: str = "improver"
    usual_breath: str = ""
    aim: str = ""
    pain: tuple[str, ...] = ()
    kit: tuple[str, ...] = ()
    schools: dict[str, str] = field(default_factory=dict)
    minor: bool = False
    email: str = ""
    guardian_email: str = ""
    id: int = 0
    consents: dict[str, bool] = field(default_factory=dict)
    asks_everybody: bool = False

    def allows(self, kind: str) -> bool:
        """Is this allowed today? A record decides, withdrawn and expired ones too.

        Without one an adult who comes to be filmed may be filmed, the film kept, and the review
        sent to them, unless the club asks everybody; nothing else goes without a record, and
        nothing of a minor.
        """
        if kind in self.consents:
            return self.consents[kind]
        return kind in OF_ADULTS and not self.minor and not self.asks_everybody

    @property
    def may_be_compared(self) -> bool:
        """May other swimmers and their coach see this one beside them? Not unless it was said."""
        return self.allows("squad")


_COLUMNS = (
    "id, name, level, usual_breath, aim, pain, kit, schools, minor, email, guardian_email, "
    "(SELECT json_group_object(kind, holds) FROM (SELECT kind, max(withdrawn_on = '' AND "
    "(until = '' OR until >= date('now', 'localtime')) "
    "AND given_on <= date('now', 'localtime')) AS holds "
    "FROM consents WHERE swimmer_id = swimmers.id GROUP BY kind)) AS consents, "
    "(SELECT value FROM club WHERE name = 'consent-from-everybody') AS asks_everybody"
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
        email=row["email"],
        guardian_email=row["guardian_email"],
        consents={k: bool(v) for k, v in json.loads(row["consents"]).items()},
        asks_everybody=row["asks_everybody"] == "true",
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
        swimmer.email,
        swimmer.guardian_email,
    )


def add(connection: sqlite3.Connection, swimmer: Swimmer) -> int:
    """Store a new swimmer, who starts from the club's coaching approach without an own one."""
    swimmer = replace(swimmer, schools=swimmer.schools or club.approach(connection))
    row = connection.execute(
        "INSERT INTO swimmers (name, level, usual_breath, aim, pain, kit, schools, minor, "
        "email, guardian_email) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        _values(swimmer),
    ).fetchone()
    return int(row["id"])


def update(connection: sqlite3.Connection, swimmer: Swimmer) -> None:
    connection.execute(
        "UPDATE swimmers SET name = ?, level = ?, usual_breath = ?, aim = ?, pain = ?, kit = ?, "
        "schools = ?, minor = ?, email = ?, guardian_email = ? WHERE id = ?",
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


class Named(NamedTuple):
    id: int
    name: str


def names(connection: sqlite3.Connection, within: Within = None) -> list[Named]:
    """Those to choose from, by name: of a thousand swimmers nothing else is read."""
    mine, values = of_swimmers(within, "id")
    rows = connection.execute(
        f"SELECT id, name FROM swimmers WHERE removed_at IS NULL AND {mine} "
        "ORDER BY name COLLATE NOCASE, id",
        values,
    )
    return [Named(row["id"], row["name"]) for row in rows]


def any_there(connection: sqlite3.Connection, within: Within = None) -> bool:
    mine, values = of_swimmers(within, "id")
    row = connection.execute(
        f"SELECT 1 FROM swimmers WHERE removed_at IS NULL AND {mine} LIMIT 1", values
    ).fetchone()
    return row is not None


def all_by_name(connection: sqlite3.Connection, within: Within = None) -> list[Swimmer]:
    mine, values = of_swimmers(within, "id")
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM swimmers WHERE removed_at IS NULL AND {mine} "
        "ORDER BY name COLLATE NOCASE, id",
        values,
    )
    return [_swimmer(row) for row in rows]


def by_name(connection: sqlite3.Connection, name: str) -> Swimmer | None:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM swimmers WHERE removed_at IS NULL AND name = ? COLLATE NOCASE",
        (name.strip(),),
    ).fetchone()
    return _swimmer(row) if row else None
