"""What is acknowledged stays: durable commits, one migration at a time, nothing newer."""

from __future__ import annotations

import multiprocessing
import sqlite3
from pathlib import Path

import pytest

from norvik.core.errors import StoreError
from norvik.settings import Settings
from norvik.storage import reserve
from norvik.store import swimmers, taken_uploads
from norvik.store.connection import connected, forget_for_good, migrate, transaction
from norvik.store.swimmers import Swimmer
from tests.uploading import add_clip


def test_a_commit_is_on_the_disk_and_deleted_words_are_overwritten(settings: Settings) -> None:
    with connected(settings.database) as connection:
        # 2 is FULL (SQLite documentation, pragma synchronous).
        assert connection.execute("PRAGMA synchronous").fetchone()[0] == 2
        assert connection.execute("PRAGMA secure_delete").fetchone()[0] == 1
        swimmers.add(connection, Swimmer("Vassholm-the-secret"))
        connection.execute("DELETE FROM swimmers")
        forget_for_good(connection)
    raw = settings.database.read_bytes() + b"".join(
        p.read_bytes() for p in settings.data.glob("*-wal")
    )
    assert b"Vassholm-the-secret" not in raw


def test_a_database_of_a_newer_version_is_refused_in_words(settings: Settings) -> None:
    with connected(settings.database) as connection:
        row = dict(connection.execute("SELECT * FROM _yoyo_migration LIMIT 1").fetchone())
        row |= {"migration_hash": "f" * 64, "migration_id": "9999_what_comes"}
        names = ", ".join(row)
        connection.execute(
            f"INSERT INTO _yoyo_migration ({names}) VALUES ({', '.join('?' * len(row))})",
            tuple(row.values()),
        )
    with pytest.raises(StoreError, match="newer version"):
        migrate(settings.database)


def test_a_lock_that_a_killed_process_left_holds_nobody_up(tmp_path: Path) -> None:
    database = tmp_path / "norvik.sqlite3"
    migrate(database)
    with connected(database) as connection:
        connection.execute(
            "INSERT INTO yoyo_lock (locked, ctime, pid) VALUES (1, 'long ago', 4711)"
        )
        connection.execute("DELETE FROM _yoyo_migration WHERE migration_id LIKE '0014%'")
    migrate(database)
    with connected(database) as connection:
        assert connection.execute(
            "SELECT 1 FROM _yoyo_migration WHERE migration_id LIKE '0014%'"
        ).fetchone()


def _migrate(path: str) -> None:
    migrate(Path(path))


def test_processes_that_start_together_migrate_one_after_the_other(tmp_path: Path) -> None:
    path = str(tmp_path / "norvik.sqlite3")
    with multiprocessing.get_context("spawn").Pool(3) as pool:
        pool.map(_migrate, [path] * 3)
    with connected(Path(path)) as connection:
        rows = connection.execute("SELECT count(*) FROM _yoyo_migration").fetchone()[0]
        distinct = connection.execute(
            "SELECT count(DISTINCT migration_id) FROM _yoyo_migration"
        ).fetchone()[0]
    assert rows == distinct > 10


def test_a_failure_inside_a_savepoint_ends_only_the_savepoint(settings: Settings) -> None:
    with connected(settings.database) as connection:
        with transaction(connection):
            swimmers.add(connection, Swimmer("Ida Brekke"))
            with pytest.raises(sqlite3.IntegrityError), transaction(connection):
                connection.execute("INSERT INTO swimmers (name) VALUES (NULL)")
        assert connection.execute("SELECT count(*) FROM swimmers").fetchone()[0] == 1


def test_an_upload_that_was_taken_is_known(settings: Settings) -> None:
    with connected(settings.database) as connection:
        clip = add_clip(connection, None)
        assert taken_uploads.find(connection, "abc") is None
        taken_uploads.put(connection, "abc", clip, 7)
        assert taken_uploads.find(connection, "abc") == (clip, 7)


def test_the_reserve_is_room_that_can_be_given_up(settings: Settings) -> None:
    assert reserve.keep(settings)
    assert (settings.data / "reserve").stat().st_size == reserve.BYTES
    reserve.give_up(settings)
    reserve.give_up(settings)
    assert not (settings.data / "reserve").exists()
