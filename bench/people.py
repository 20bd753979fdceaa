"""The coach of the benchmarks' data folders."""

from __future__ import annotations

from norvik.settings import Settings
from norvik.store import users
from norvik.store.connection import connected, migrate
from norvik.workflow.passwords import hash_password

EMAIL, PASSWORD = "coach@kvarnholm.example", "made-up-password"


def add_coach(settings: Settings) -> int:
    """Make an empty data folder with a coach in it; gives the coach's id."""
    settings.prepare()
    migrate(settings.database)
    with connected(settings.database) as connection:
        return users.add(connection, EMAIL, "Coach", "head-coach", hash_password(PASSWORD))
