"""Consent as tests need it: given and withdrawn in one line."""

from __future__ import annotations

import sqlite3

from norvik.store import consents
from norvik.store.consents import Consent


def allow(
    connection: sqlite3.Connection, swimmer_id: int, *kinds: str, by: str = "Tilde Vassholm",
    until: str = "",
) -> None:  # fmt: skip
    for kind in kinds:
        new = Consent(swimmer_id, kind, by, False, "2026-11-01", until)
        consents.add(connection, new, None)


def withdraw(connection: sqlite3.Connection, swimmer_id: int) -> None:
    """All of it, since long ago."""
    for one in consents.of_swimmer(connection, swimmer_id):
        consents.withdraw(connection, one.id, "2026-11-02", "")
