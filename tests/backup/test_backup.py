"""Backups: made while Norvik writes, stopped at any moment, looked through, and brought back."""

from __future__ import annotations

import os
import shutil
import signal
import sqlite3
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest
from click.testing import CliRunner
from flask.testing import FlaskClient

from norvik.backup.make import make_backup
from norvik.backup.manifest import generations, object_path, read_manifest
from norvik.backup.restore import restore
from norvik.backup.verify import verify
from norvik.cli import main
from norvik.core.errors import BackupError
from norvik.jobs.back_up import back_up_when_due
from norvik.jobs.runner import run_through
from norvik.settings import Settings
from norvik.storage.erase import erase
from norvik.storage.hold import held_still
from norvik.storage.release import delete_for_good, remove_doomed
from norvik.store import backups, clips, club, marks, swimmers, trash
from norvik.store.connection import connected, transaction
from norvik.store.swimmers import Swimmer
from norvik.web import create_app
from norvik.work_names import BACK_UP
from norvik.workflow.backup_due import backup_due
from tests.conftest import TOKEN, BroughtIn, holds


@pytest.fixture
def house(settings: Settings, brought_in: BroughtIn, small_clip: Path) -> Settings:
    brought_in(settings, [Swimmer("Wren Alder"), Swimmer("Ola Brekke")], (small_clip, {}))
    settings.secret_key()
    with connected(settings.database) as connection:
        for frame in range(10, 40, 3):
            marks.place(connection, 1, 1, frame, "arm", "right", "entry", "")
    return settings


def frames_and_rows(settings: Settings) -> dict[str, object]:
    """What somebody sees: rows of the tables, and a picture and the film by their bytes."""
    app = create_app(settings, immediate_jobs=True)
    client = app.test_client()
    holds(client, TOKEN)
    seen: dict[str, object] = {}
    for address in ("/clips/1/frames/30.jpg?w=320", "/clips/1/files/events.csv",
                    "/recordings/1/film-90.mp4", "/clips/1/frames.json"):  # fmt: skip
        answer = client.get(address)
        assert answer.status_code == 200, address
        seen[address] = answer.data
        answer.close()
    with connected(settings.database) as connection:
        for table in ("swimmers", "clips", "marks", "recordings", "users"):
            seen[table] = [tuple(r) for r in connection.execute(f"SELECT * FROM {table}")]
    return seen


def test_restored_on_an_empty_machine_all_is_as_it_was(house: Settings, tmp_path: Path) -> None:
    before = frames_and_rows(house)
    made = make_backup(house, tmp_path / "safe")
    assert {f.path for f in made.files} >= {"secret-key", "pictures/poster-1.jpg"}
    assert not [f for f in made.files if "/frame-" in f.path]
    shutil.rmtree(house.data)
    elsewhere = Settings(tmp_path / "new machine" / "data")
    restore(tmp_path / "safe", elsewhere)
    assert frames_and_rows(elsewhere) == before
    assert verify(tmp_path / "safe")[1] == []
    assert (elsewhere.data / "secret-key").stat().st_mode & 0o077 == 0
    with pytest.raises(BackupError, match="is not empty"):
        restore(tmp_path / "safe", elsewhere)


def test_what_has_not_changed_is_kept_once(house: Settings, tmp_path: Path) -> None:
    safe = tmp_path / "safe"
    first = make_backup(house, safe)
    there = {p: p.stat().st_mtime_ns for p in (safe / "objects").glob("*/*")}
    with connected(house.database) as connection:
        marks.place(connection, 1, 1, 55, "arm", "left", "entry", "")
    second = make_backup(house, safe)
    assert second.files == first.files
    assert second.database != first.database
    assert {p: p.stat().st_mtime_ns for p in (safe / "objects").glob("*/*")} == there
    # Linked on the same disk: no second copy of a film.
    film = next(f for f in first.files if f.path.startswith("copies/"))
    assert object_path(safe, film.sha256).stat().st_nlink == 2
    copied = tmp_path / "copied"
    make_backup(house, copied, link=False)
    assert object_path(copied, film.sha256).stat().st_nlink == 1


def test_generations_beyond_the_kept_ones_go_with_their_files(
    house: Settings, tmp_path: Path
) -> None:
    safe = tmp_path / "safe"
    extra = house.films / "old.mp4"
    extra.write_bytes(b"a film that is deleted later")
    old = make_backup(house, safe, keep=2)
    sha = next(f.sha256 for f in old.files if f.path == "films/old.mp4")
    extra.unlink()
    make_backup(house, safe, keep=2)
    assert object_path(safe, sha).is_file()
    make_backup(house, safe, keep=2)
    assert [g.name for g in generations(safe)][-1] != old.generation
    assert len(generations(safe)) == 2
    assert not object_path(safe, sha).is_file()
    assert verify(safe)[1] == []


def test_a_generation_is_chosen_by_its_name(house: Settings, tmp_path: Path) -> None:
    safe = tmp_path / "safe"
    old = make_backup(house, safe)
    with connected(house.database) as connection:
        connection.execute("UPDATE swimmers SET name = 'Wren Changed' WHERE id = 1")
    make_backup(house, safe)
    back = Settings(tmp_path / "back")
    restore(safe, back, old.generation)
    with connected(back.database) as connection:
        assert swimmers.by_id(connection, 1).name == "Wren Alder"
    with pytest.raises(BackupError, match="There are"):
        restore(safe, Settings(tmp_path / "x"), "2020")
    with pytest.raises(BackupError, match="There is no backup"):
        restore(tmp_path / "nowhere", Settings(tmp_path / "x"))


def test_damage_is_found_and_not_brought_back(house: Settings, tmp_path: Path) -> None:
    safe = tmp_path / "safe"
    made = make_backup(house, safe, link=False)
    film = next(f for f in made.files if f.path.startswith("originals/"))
    poster = next(f for f in made.files if "poster" in f.path)
    path = object_path(safe, film.sha256)
    data = bytearray(path.read_bytes())
    data[len(data) // 2] ^= 1
    path.write_bytes(data)
    object_path(safe, poster.sha256).unlink()
    wrong = verify(safe)[1]
    assert f"{film.path} is damaged." in wrong
    assert f"{poster.path} is missing." in wrong
    target = Settings(tmp_path / "back")
    with pytest.raises(BackupError, match="in the backup"):
        restore(safe, target)
    # Nothing half-made counts as a data folder.
    assert not target.data.exists()
    (generations(safe)[0] / "norvik.sqlite3").write_bytes(b"no database")
    assert "The database is damaged." in verify(safe)[1]


def test_made_while_others_write_it_is_whole(house: Settings, tmp_path: Path) -> None:
    stop = threading.Event()

    def write() -> None:
        with connected(house.database) as connection:
            n = 0
            while not stop.is_set():
                with transaction(connection):
                    # A pair that belongs together: whole in a backup, or not in it.
                    for side in ("one", "other"):
                        connection.execute(
                            "INSERT INTO club (name, value) VALUES (?, '1')", (f"{side}-{n}",)
                        )
                n += 1

    writer = threading.Thread(target=write)
    writer.start()
    try:
        for _ in range(4):
            make_backup(house, tmp_path / "safe")
    finally:
        stop.set()
        writer.join()
    for generation in generations(tmp_path / "safe"):
        assert verify(tmp_path / "safe", generation.name)[1] == []
        with sqlite3.connect(generation / "norvik.sqlite3") as connection:
            ones, others = (
                {row[0].partition("-")[2] for row in connection.execute(
                    "SELECT name FROM club WHERE name LIKE ?", (f"{side}-%",))}
                for side in ("one", "other")
            )  # fmt: skip
            assert ones == others


def test_nothing_is_removed_while_files_are_copied(house: Settings, tmp_path: Path) -> None:
    with connected(house.database) as connection:
        trash.put(connection, [1])
        original = house.data / str(clips.by_id(connection, 1).recording.original_path)
        with held_still(house):
            delete_for_good(connection, house, [1])
            assert original.is_file()
        remove_doomed(connection, house)
        assert not original.is_file()


def test_killed_at_any_moment_the_last_one_stays_good(house: Settings, tmp_path: Path) -> None:
    """kill -9 while a backup is made: what was finished before is whole, and the next one too."""
    safe = tmp_path / "safe"
    for n in range(60):
        (house.films / f"{n}.mp4").write_bytes(os.urandom(200_000))
    make_backup(house, safe, link=False)
    environment = {**os.environ, "NORVIK_DATA": str(house.data)}
    unfinished = 0
    for delay in (0.0, 0.02, 0.05, 0.1, 0.15, 0.2):
        for m in range(60):
            (house.films / f"{m}.mp4").write_bytes(os.urandom(200_000))
        process = subprocess.Popen(
            [sys.executable, "-m", "norvik", "backup", str(safe), "--copy", "--keep", "2"],
            env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        while not any((safe / "generations").glob("*.part")) and process.poll() is None:
            time.sleep(0.002)
        time.sleep(delay)
        process.send_signal(signal.SIGKILL)
        process.wait()
        unfinished += any((safe / "generations").glob("*.part"))
        assert verify(safe)[1] == []
        with connected(house.database) as connection:
            assert connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    assert unfinished
    made = make_backup(house, safe, keep=1, link=False)
    assert [g.name for g in (safe / "generations").iterdir()] == [made.generation]
    # Nothing of the ones that were stopped is left over.
    kept = {f.sha256 for f in made.files}
    assert {p.name for p in (safe / "objects").glob("*/*")} == kept
    restore(safe, Settings(tmp_path / "back"))


def test_who_was_erased_does_not_come_back(house: Settings, tmp_path: Path) -> None:
    safe = tmp_path / "safe"
    with_them = make_backup(house, safe)
    with connected(house.database) as connection:
        erase(connection, house, 1, "Wren Alder", 1)
    make_backup(house, safe)
    back = Settings(tmp_path / "back")
    restore(safe, back, with_them.generation)
    with connected(back.database) as connection:
        assert [s.name for s in swimmers.all_by_name(connection)] == ["Ola Brekke"]
        assert connection.execute("SELECT count(*) FROM clips").fetchone()[0] == 0
    assert not list(back.originals.iterdir())


def test_the_worker_makes_one_when_the_last_grows_old(
    house: Settings, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[int] = []
    assert not back_up_when_due(house, asked.append)
    monkeypatch.setenv("NORVIK_BACKUP", str(tmp_path / "safe"))
    assert back_up_when_due(house, asked.append)
    assert not back_up_when_due(house, asked.append)
    run_through(house, asked[0])
    with connected(house.database) as connection:
        good = backups.newest_good(connection)
        assert good is not None
        assert good.files == len(read_manifest(generations(tmp_path / "safe")[0]).files)
        assert backup_due(connection, time.time()) == ""
        assert not back_up_when_due(house, asked.append)
        connection.execute("UPDATE backups SET made_at = made_at - 90000")
        assert "25 hours old" in backup_due(connection, time.time())
    assert back_up_when_due(house, asked.append)
    with connected(house.database) as connection:
        kinds = [r["kind"] for r in connection.execute("SELECT kind FROM jobs ORDER BY id")]
        assert kinds[-1] == BACK_UP


def test_today_says_when_there_is_none(client: FlaskClient, house: Settings) -> None:
    assert "No backup has been made yet" in client.get("/").text
    with connected(house.database) as connection:
        backups.add(connection, "/safe", "", time.time(), failure="The disk is full.")
        assert "The last backup failed" in client.get("/").text
        backups.add(connection, "/safe", "g", time.time())
        assert "backup" not in client.get("/").text
        club.set_house(connection, "backup-hours", 1)
        connection.execute("UPDATE backups SET made_at = made_at - 7300")
    assert "2 hours old" in client.get("/").text


def test_from_the_command_line(
    house: Settings, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("NORVIK_DATA", str(house.data))
    run = CliRunner()
    safe = str(tmp_path / "safe")
    made = run.invoke(main, ["backup", safe])
    assert made.exit_code == 0, made.output
    assert "and the database" in made.output
    assert "all of it is whole" in run.invoke(main, ["verify", safe]).output
    inside = run.invoke(main, ["backup", str(house.data / "backup")])
    assert inside.exit_code == 1
    assert "inside of the data folder" in inside.stderr
    full = run.invoke(main, ["restore", safe])
    assert "is not empty" in full.stderr
    monkeypatch.setenv("NORVIK_DATA", str(tmp_path / "back"))
    assert "restored into" in run.invoke(main, ["restore", safe]).output
    monkeypatch.setenv("NORVIK_DATA", str(tmp_path / "empty"))
    assert "nothing to back up" in run.invoke(main, ["backup", safe]).stderr
