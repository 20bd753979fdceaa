"""Swimmers who were erased, by their numbers: the trail says so, and nothing else of them."""

from __future__ import annotations

import sqlite3
from datetime import UTC, datetime


def erased_since(connection: sqlite3.Connection, since: float) -> set[int]:
    """Ids of swimmers erased since an instant (seconds since 1970)."""
    at = datetime.fromtimestamp(since, UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
    rows = connection.execute(
        "SELECT thing_id FROM trail WHERE deed = 'erased' AND kind = 'swimmer' AND at >= ?", (at,)
    )
    return {row[0] for row in rows}
