"""The request's own database connection, and what hangs on the application."""

from __future__ import annotations

import sqlite3
from pathlib import Path
from threading import Lock
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


class Connections:
    """Connections that requests use one after the other: opening one costs as much as a small page.

    Two requests never have the same one at a time.
    """

    def __init__(self, path: Path, most: int = 16) -> None:
        self._path, self._most = path, most
        self._free: list[sqlite3.Connection] = []
        self._lock = Lock()

    def take(self) -> sqlite3.Connection:
        with self._lock:
            if self._free:
                return self._free.pop()
        return connect(self._path, any_thread=True)

    def give_back(self, connection: sqlite3.Connection) -> None:
        """What a request that broke off has left undone is undone."""
        try:
            if connection.in_transaction:
                connection.rollback()
        except sqlite3.Error:
            connection.close()
            return
        with self._lock:
            if len(self._free) < self._most:
                self._free.append(connection)
                return
        connection.close()


def database() -> sqlite3.Connection:
    """One connection for each request, taken when first asked for."""
    if "database" not in g:
        g.database = _connections().take()
    return cast(sqlite3.Connection, g.database)


def _connections() -> Connections:
    return cast(Connections, current_app.config["NORVIK_CONNECTIONS"])


def held(path: Path) -> sqlite3.Connection:
    """A connection for the life of the application, which nobody uses."""
    connection = sqlite3.connect(path, isolation_level=None, check_same_thread=False)
    connection.execute("SELECT count(*) FROM sqlite_master").fetchone()
    return connection


def close_connection(error: BaseException | None = None) -> None:
    connection = g.pop("database", None)
    if connection is not None:
        _connections().give_back(connection)
