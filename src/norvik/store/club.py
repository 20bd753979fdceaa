"""What the club has chosen once for everybody."""

from __future__ import annotations

import json
import sqlite3
import uuid
from collections.abc import Mapping

from norvik.core.time.marker import DEFAULT_MARKER, MarkError

_APPROACH = "coaching-approach"
_MARKER = "marker"
_INSTALLATION = "installation"
_TABLES = "tables"
_READS = "reads-films"
#: Days and months that things are kept, and other rules of the house, by their names.
_TRAIL_DAYS = "trail-days"
_HOUSE: dict[str, int] = {
    _TRAIL_DAYS: 1095,
    "originals-months": 0,
    "clips-months": 0,
    "consent-from-everybody": 0,
    "consent-outlives": 1,
    "backup-hours": 24,
    "second-factor": 0,
}


def installation(connection: sqlite3.Connection) -> str:
    """A number that no other installation has; drawn when it is first asked for."""
    connection.execute(
        "INSERT INTO club (name, value) VALUES (?, ?) ON CONFLICT DO NOTHING",
        (_INSTALLATION, json.dumps(uuid.uuid4().hex)),
    )
    row = connection.execute("SELECT value FROM club WHERE name = ?", (_INSTALLATION,)).fetchone()
    return str(json.loads(row["value"]))


def approach(connection: sqlite3.Connection) -> dict[str, str]:
    """The club's coaching approach: question to school; empty where the shipped one holds."""
    row = connection.execute("SELECT value FROM club WHERE name = ?", (_APPROACH,)).fetchone()
    return dict(json.loads(row["value"])) if row else {}


def set_approach(connection: sqlite3.Connection, schools: Mapping[str, str]) -> None:
    connection.execute(
        "INSERT INTO club (name, value) VALUES (?, ?) "
        "ON CONFLICT (name) DO UPDATE SET value = excluded.value",
        (_APPROACH, json.dumps(dict(schools))),
    )


def marker(connection: sqlite3.Connection) -> dict[str, MarkError]:
    """How well events are marked, by family: the club's own setting over the shipped one."""
    row = connection.execute("SELECT value FROM club WHERE name = ?", (_MARKER,)).fetchone()
    own = {f: MarkError(**e) for f, e in json.loads(row["value"]).items()} if row else {}
    return {**DEFAULT_MARKER.errors, **own}


def set_marker(connection: sqlite3.Connection, errors: Mapping[str, MarkError]) -> None:
    """errors: of the families that are not marked as the shipped setting says."""
    written = {
        family: {name: getattr(e, name) for name in MarkError.__slots__}
        for family, e in errors.items()
        if e != DEFAULT_MARKER.errors[family]
    }
    connection.execute(
        "INSERT INTO club (name, value) VALUES (?, ?) "
        "ON CONFLICT (name) DO UPDATE SET value = excluded.value",
        (_MARKER, json.dumps(written)),
    )


def tables(connection: sqlite3.Connection) -> str:
    """How the club's tables are written, by the id of a style; empty for the standard."""
    row = connection.execute("SELECT value FROM club WHERE name = ?", (_TABLES,)).fetchone()
    return str(json.loads(row["value"])) if row else ""


def set_tables(connection: sqlite3.Connection, style: str) -> None:
    connection.execute(
        "INSERT INTO club (name, value) VALUES (?, ?) "
        "ON CONFLICT (name) DO UPDATE SET value = excluded.value",
        (_TABLES, json.dumps(style)),
    )


def reads_films(connection: sqlite3.Connection) -> bool:
    """Whether new clips are read by themselves while the machine is idle; yes unless said."""
    row = connection.execute("SELECT value FROM club WHERE name = ?", (_READS,)).fetchone()
    return bool(json.loads(row["value"])) if row else True


def set_reads_films(connection: sqlite3.Connection, wanted: bool) -> None:
    connection.execute(
        "INSERT INTO club (name, value) VALUES (?, ?) "
        "ON CONFLICT (name) DO UPDATE SET value = excluded.value",
        (_READS, json.dumps(wanted)),
    )


def house(connection: sqlite3.Connection, name: str) -> int:
    """A rule of the house; the shipped one where the club has none.

    trail-days: how long the trail is kept. originals-months, clips-months: how long films are
    kept, 0 for ever. consent-from-everybody: of adults, too (0 or 1). consent-outlives: records of
    consent stay when a swimmer is erased. backup-hours: how old the last good backup may get.
    second-factor: who has to have one, 0 nobody, 1 the head coach, 2 everybody who sees the club's
    films.
    """
    row = connection.execute("SELECT value FROM club WHERE name = ?", (name,)).fetchone()
    return int(json.loads(row["value"])) if row else _HOUSE[name]


def set_house(connection: sqlite3.Connection, name: str, value: int) -> None:
    # What reads it in SQL finds true and false for yes and no.
    written = json.dumps(bool(value) if name == "consent-from-everybody" else value)
    assert name in _HOUSE, name
    connection.execute(
        "INSERT INTO club (name, value) VALUES (?, ?) "
        "ON CONFLICT (name) DO UPDATE SET value = excluded.value",
        (name, written),
    )


def trail_days(connection: sqlite3.Connection) -> int:
    return house(connection, _TRAIL_DAYS)
