"""A plan's calendar over its changes: what is new, what moved, what is off."""

from __future__ import annotations

import json
import sqlite3
from datetime import UTC, date, datetime

from norvik.formats.plan_ics import Entry
from norvik.store import calendar_entries, club
from norvik.store.calendar_entries import Told
from norvik.store.connection import transaction
from norvik.workflow.plan_files import session_entries
from norvik.workflow.plans import SwimmerPlan


def calendar_of(connection: sqlite3.Connection, plan: SwimmerPlan, now: datetime) -> list[Entry]:
    """Every entry with its sequence number; those that are planned no longer as cancelled.

    The number grows when an entry differs from what was told last, so that a calendar takes the
    newer one (RFC 5545, 3.8.7.4). Identifiers hold a number of this installation: two clubs never
    share one. now: aware.
    """
    told = calendar_entries.of_plan(connection, plan.stored.id)
    at = now.astimezone(UTC).isoformat(timespec="seconds")
    found: dict[str, Told] = {}
    for key, (on, title, lines) in session_entries(plan).items():
        said = json.dumps([on.isoformat(), plan.stored.begins_at, title, list(lines)])
        before = told.get(key)
        if before is not None and before.said == said and not before.cancelled:
            found[key] = before
        else:
            found[key] = Told(key, before.sequence + 1 if before else 0, False, said, at)
    for key, before in told.items():
        if key not in found:
            found[key] = (
                before if before.cancelled
                else Told(key, before.sequence + 1, True, before.said, at)
            )  # fmt: skip
    with transaction(connection):
        for key, entry in found.items():
            if told.get(key) != entry:
                calendar_entries.put(connection, plan.stored.id, entry)
    here = club.installation(connection)
    return [_entry(plan, entry, here) for entry in found.values()]


def _entry(plan: SwimmerPlan, told: Told, here: str) -> Entry:
    on, _, title, lines = json.loads(told.said)
    return Entry(
        uid=f"plan-{plan.stored.id}-session-{told.session}-{here}@norvik",
        on=date.fromisoformat(on),
        title=title,
        lines=tuple(lines),
        sequence=told.sequence,
        cancelled=told.cancelled,
        changed_at=datetime.fromisoformat(told.changed_at),
    )
