"""The coach's drills, own versions of shipped ones, what is hidden, and own cues."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import asdict, dataclass
from typing import Any

import msgspec

from norvik.core.judging.coaching_model import Drill


@dataclass(frozen=True, slots=True)
class OwnDrill:
    """drill: None where a shipped one is only hidden."""

    id: str
    drill: Drill | None
    hidden: bool


def as_json(drill: Drill) -> dict[str, Any]:
    """All fields of a drill as plain values."""
    said = asdict(drill)
    del said["own"]
    return said


def every(connection: sqlite3.Connection) -> list[OwnDrill]:
    rows = connection.execute("SELECT id, drill, hidden FROM own_drills ORDER BY id")
    return [
        OwnDrill(
            row["id"],
            msgspec.convert({**json.loads(row["drill"]), "own": True}, Drill)
            if row["drill"]
            else None,
            bool(row["hidden"]),
        )
        for row in rows
    ]


def put(connection: sqlite3.Connection, drill: Drill) -> None:
    """Store an own drill, or an own version of a shipped one."""
    connection.execute(
        "INSERT INTO own_drills (id, drill) VALUES (?, ?) "
        "ON CONFLICT (id) DO UPDATE SET drill = excluded.drill",
        (drill.id, json.dumps(as_json(drill))),
    )


def hide(connection: sqlite3.Connection, drill_id: str, hidden: bool) -> None:
    connection.execute(
        "INSERT INTO own_drills (id, hidden) VALUES (?, ?) "
        "ON CONFLICT (id) DO UPDATE SET hidden = excluded.hidden",
        (drill_id, int(hidden)),
    )


def delete(connection: sqlite3.Connection, drill_id: str) -> None:
    """Forget an own drill, or go back to the shipped version."""
    connection.execute("DELETE FROM own_drills WHERE id = ?", (drill_id,))


def cues(connection: sqlite3.Connection) -> dict[str, str]:
    """Fault id to the coach's own cue."""
    return dict(connection.execute("SELECT fault, cue FROM own_cues").fetchall())


def set_cue(connection: sqlite3.Connection, fault: str, cue: str) -> None:
    """An empty cue goes back to the shipped one."""
    if not cue:
        connection.execute("DELETE FROM own_cues WHERE fault = ?", (fault,))
        return
    connection.execute(
        "INSERT INTO own_cues (fault, cue) VALUES (?, ?) "
        "ON CONFLICT (fault) DO UPDATE SET cue = excluded.cue",
        (fault, cue),
    )
