"""The request's own database connection, and what hangs on the application."""

from __future__ import annotations

import sqlite3
from pathlib import Path
from typing import cast

from flask import current_app, g

from norvik.files.footage import Footage
from norvik.files.opened import footage_of
from norvik.jobs.queue import JobQueue
from norvik.settings import Settings
from norvik.store.connection import connect


def settings() -> Settings:
    return cast(Settings, current_app.config["NORVIK_SETTINGS"])


def footage() -> Footage:
    return footage_of(settings())


def queue() -> JobQueue:
    return cast(JobQueue, current_app.config["NORVIK_QUEUE"])


def database() -> sqlite3.Connection:
    """One connection for each request, opened when first asked for."""
    if "database" not in g:
        g.database = connect(settings().database)
    return cast(sqlite3.Connection, g.database)


def held(path: Path) -> sqlite3.Connection:
    """A connection for the life of the application, which nobody uses."""
    connection = sqlite3.connect(path, isolation_level=None, check_same_thread=False)
    connection.execute("SELECT count(*) FROM sqlite_master").fetchone()
    return connection


def close_connection(error: BaseException | None = None) -> None:
    connection = g.pop("database", None)
    if connection is not None:
        connection.close()
