"""What the club has chosen once for everybody."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Mapping

_APPROACH = "coaching-approach"


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
