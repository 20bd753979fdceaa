"""Opening the database and owning its transactions."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from urllib.parse import quote

import yoyo

MIGRATIONS = Path(__file__).parent / "migrations"


def migrate(database: Path) -> None:
    """Bring the database file to the newest schema, making it when it is missing.

    yoyo applies each migration and records it in two transactions; every statement of ours is
    written so that it can run again, in case the machine stops between the two.
    """
    database.parent.mkdir(parents=True, exist_ok=True)
    with connected(database) as connection:
        connection.execute("PRAGMA journal_mode = WAL")
    backend = yoyo.get_backend(f"sqlite:///{quote(str(database.resolve()))}")
    try:
        with backend.lock():
            backend.apply_migrations(backend.to_apply(yoyo.read_migrations(str(MIGRATIONS))))
    finally:
        backend.connection.close()


def connect(database: Path) -> sqlite3.Connection:
    """A connection in autocommit mode: every transaction is opened by `transaction` below.

    Python's own implicit transactions do not cover schema changes and begin at surprising times.
    """
    connection = sqlite3.connect(database, isolation_level=None, timeout=10)
    connection.row_factory = sqlite3.Row
    # Off by default in SQLite, for each connection.
    connection.execute("PRAGMA foreign_keys = ON")
    # Web and worker write at the same time now and then; waiting beats failing.
    connection.execute("PRAGMA busy_timeout = 10000")
    # With the write-ahead log this loses nothing committed when the program dies, only (and
    # never corrupts) the last moments when the whole machine loses power.
    connection.execute("PRAGMA synchronous = NORMAL")
    return connection


@contextmanager
def connected(database: Path) -> Iterator[sqlite3.Connection]:
    connection = connect(database)
    try:
        yield connection
    finally:
        connection.close()


@contextmanager
def transaction(connection: sqlite3.Connection) -> Iterator[None]:
    """All or nothing. Inside another transaction it is a savepoint of that one."""
    if connection.in_transaction:
        begin, commit, undo = "SAVEPOINT inner", "RELEASE inner", "ROLLBACK TO inner"
    else:
        # Immediate: fail or wait at the start, not at the first write after a read.
        begin, commit, undo = "BEGIN IMMEDIATE", "COMMIT", "ROLLBACK"
    connection.execute(begin)
    try:
        yield
    except BaseException:
        connection.execute(undo)
        if undo != "ROLLBACK":
            connection.execute(commit)
        raise
    connection.execute(commit)
