"""Entries that a plan's calendar has told, with their sequence numbers."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Told:
    """said: JSON of the entry. changed_at: UTC, ISO 8601."""

    session: str
    sequence: int
    cancelled: bool
    said: str
    changed_at: str


def of_plan(connection: sqlite3.Connection, plan_id: int) -> dict[str, Told]:
    return {
        row["session"]: Told(
            row["session"], row["sequence"], bool(row["cancelled"]), row["said"], row["changed_at"]
        )
        for row in connection.execute(
            "SELECT session, sequence, cancelled, said, changed_at FROM calendar_entries "
            "WHERE plan_id = ?",
            (plan_id,),
        )
    }


def put(connection: sqlite3.Connection, plan_id: int, told: Told) -> None:
    connection.execute(
        "INSERT INTO calendar_entries (plan_id, session, sequence, cancelled, said, changed_at) "
        "VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (plan_id, session) DO UPDATE SET "
        "sequence = excluded.sequence, cancelled = excluded.cancelled, said = excluded.said, "
        "changed_at = excluded.changed_at",
        (plan_id, told.session, told.sequence, int(told.cancelled), told.said, told.changed_at),
    )
