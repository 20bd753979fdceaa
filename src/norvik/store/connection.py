"""Opening the database and owning its transactions."""

from __future__ import annotations

import fcntl
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from urllib.parse import quote

import yoyo

from norvik.core.errors import StoreError

MIGRATIONS = Path(__file__).parent / "migrations"
#: Pages that a backup copies before it lets others write.
_PAGES_AT_ONCE = 1000


def migrate(database: Path) -> None:
    """Bring the database file to the newest schema, making it when it is missing.

    yoyo applies each migration and records it in two transactions; every statement of ours is
    written so that it can run again, in case the machine stops between the two. Its own lock is a
    row that outlives a process that was killed; ours is the operating system's, which does not, and
    it is asked for only when there is something to apply. Raises StoreError for a database that a
    newer version has written.
    """
    database.parent.mkdir(parents=True, exist_ok=True)
    with connected(database) as connection:
        connection.execute("PRAGMA journal_mode = WAL")
    known = yoyo.read_migrations(str(MIGRATIONS))
    _refuse_newer(database, {m.id for m in known})
    if not _missing(database, [m.id for m in known]):
        return
    with _locked(database.parent / "migrate.lock"):
        backend = yoyo.get_backend(f"sqlite:///{quote(str(database.resolve()))}")
        try:
            # Whoever wrote a row of that lock is gone: we hold the one that counts.
            backend.break_lock()
            with backend.lock():
                backend.apply_migrations(backend.to_apply(known))
        finally:
            backend.connection.close()


def _applied(database: Path) -> set[str]:
    with connected(database) as connection:
        there = connection.execute(
            "SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = '_yoyo_migration'"
        ).fetchone()
        if not there:
            return set()
        rows = connection.execute("SELECT migration_id FROM _yoyo_migration")
        return {row["migration_id"] for row in rows}


def _missing(database: Path, known: list[str]) -> list[str]:
    applied = _applied(database)
    return [m for m in known if m not in applied]


def schema_missing(database: Path) -> list[str]:
    """Changes of the schema that a database has not had yet, by their names."""
    return _missing(database, [m.id for m in yoyo.read_migrations(str(MIGRATIONS))])


def _refuse_newer(database: Path, known: set[str]) -> None:
    unknown = _applied(database) - known
    if unknown:
        raise StoreError(
            "This data folder was used by a newer version of Norvik. Install that version again, "
            f"or use another data folder ({', '.join(sorted(unknown))} is not known here)."
        )


@contextmanager
def _locked(path: Path) -> Iterator[None]:
    """One process at a time; the lock ends with the process, however that ends."""
    with path.open("w", encoding="ascii") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield


def connect(database: Path, any_thread: bool = False) -> sqlite3.Connection:
    """A connection in autocommit mode: every transaction is opened by `transaction` below.

    any_thread: it may go from one thread to another, which then have it one after the other.

    Python's own implicit transactions do not cover schema changes and begin at surprising times.
    """
    connection = sqlite3.connect(
        database, isolation_level=None, timeout=10, check_same_thread=not any_thread
    )
    connection.row_factory = sqlite3.Row
    # Off by default in SQLite, for each connection.
    connection.execute("PRAGMA foreign_keys = ON")
    # Web and worker write at the same time now and then; waiting beats failing.
    connection.execute("PRAGMA busy_timeout = 10000")
    # What was acknowledged is on the disk, also when the machine loses power.
    connection.execute("PRAGMA synchronous = FULL")
    # Deleted words and notes are overwritten, not only forgotten.
    connection.execute("PRAGMA secure_delete = ON")
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
        connection.execute(commit)
    except BaseException:
        # On a full disk SQLite has rolled back by itself: the first error is the one to tell.
        if connection.in_transaction:
            connection.execute(undo)
            if undo != "ROLLBACK":
                connection.execute(commit)
        raise


def forget_for_good(connection: sqlite3.Connection) -> None:
    """After a deletion: what was deleted leaves the write-ahead log, too."""
    connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def rewrite(connection: sqlite3.Connection) -> None:
    """Write the whole database anew: pages that nothing uses, and their old words, are gone."""
    connection.execute("VACUUM")
    forget_for_good(connection)


def rewrite_file(path: Path) -> None:
    """The same for a database that others keep, as the queue and the uploads do."""
    with closing(sqlite3.connect(path, timeout=10, isolation_level=None)) as other:
        other.execute("PRAGMA secure_delete = ON")
        other.execute("VACUUM")
        other.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def copy_whole(source: Path, target: Path, told: Callable[[int, int], None]) -> None:
    """Copy a database by SQLite's own backup: whole, however much is written meanwhile.

    told: gets pages that were copied and pages in all; between some of them others may write.
    """
    with connected(source) as here, closing(sqlite3.connect(target)) as there:
        here.backup(
            there, pages=_PAGES_AT_ONCE, sleep=0.005,
            progress=lambda status, left, of: told(of - left, of),
        )  # fmt: skip
        there.execute("PRAGMA journal_mode = DELETE")


def reading_only(path: Path) -> sqlite3.Connection:
    """A database that nobody writes, opened without leaving a trace beside it."""
    connection = sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro&immutable=1", uri=True)
    connection.row_factory = sqlite3.Row
    return connection


def damage(connection: sqlite3.Connection, quick: bool = False) -> str:
    """What SQLite finds wrong with a database and its references; empty when it is whole."""
    found = connection.execute(f"PRAGMA {'quick' if quick else 'integrity'}_check").fetchone()[0]
    if found != "ok":
        return str(found)
    broken = len(connection.execute("PRAGMA foreign_key_check").fetchall())
    return f"{broken} references lead nowhere" if broken else ""
