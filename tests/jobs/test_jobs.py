"""Jobs: every end has a name, a killed worker loses nothing, nobody takes a job twice."""

from __future__ import annotations

import os
import sqlite3
import subprocess
import sys
import time
from collections.abc import Iterator
from io import BytesIO
from pathlib import Path

import pytest

from norvik.core.errors import FootageError
from norvik.intake import receive as receive_module
from norvik.intake.receive import AlreadyThere, Facts, clean_name, receive
from norvik.jobs import prepare_clip as prepare_module
from norvik.jobs.queue import JobQueue
from norvik.jobs.recovery import enqueue_waiting, recover
from norvik.jobs.runner import run_job
from norvik.settings import Settings
from norvik.store import clips, jobs, swimmers
from norvik.store.connection import connect, connected
from norvik.store.swimmers import Swimmer


@pytest.fixture
def database(settings: Settings) -> Iterator[sqlite3.Connection]:
    connection = connect(settings.database)
    swimmers.add(connection, Swimmer("Tilde Vassholm"))
    yield connection
    connection.close()


def bring_in(settings: Settings, database: sqlite3.Connection, path: Path) -> tuple[int, int]:
    with path.open("rb") as stream:
        return receive(
            settings, database, stream, path.name, Facts(1, filmed_on="2026-11-20"),
            path.stat().st_size,
        )  # fmt: skip


def files_in(settings: Settings) -> list[str]:
    folders = (settings.originals, settings.copies, settings.incoming, settings.pictures)
    return sorted(p.name for folder in folders for p in folder.iterdir())


def test_a_clip_becomes_ready(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    clip_id, job_id = bring_in(settings, database, small_clip)
    assert clips.by_id(database, clip_id).state == "waiting"
    run_job(settings, job_id)
    clip = clips.by_id(database, clip_id)
    assert (clip.state, clip.frames, clip.failure) == ("ready", 90, None)
    assert jobs.by_id(database, job_id).state == "done"
    assert clips.time_base(database, clip).frames == 90
    original = settings.data / clip.original_path
    assert original.read_bytes() == small_clip.read_bytes()
    assert clip.sha256 in original.name


def test_the_same_file_again_is_recognised(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    clip_id, _ = bring_in(settings, database, small_clip)
    before = files_in(settings)
    with pytest.raises(AlreadyThere) as caught:
        bring_in(settings, database, small_clip)
    assert caught.value.clip.id == clip_id
    assert files_in(settings) == before


def test_an_upload_that_ends_early_leaves_nothing(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    data = small_clip.read_bytes()
    with pytest.raises(FootageError, match="bytes arrived"):
        receive(settings, database, BytesIO(data[:-9]), "a.mp4", Facts(1), len(data))
    with pytest.raises(FootageError, match="not a video"):
        receive(settings, database, BytesIO(b"hello"), "a.mp4", Facts(1), 5)
    assert files_in(settings) == []
    assert clips.newest_first(database) == []


def test_a_full_disk_is_said_before_and_during(
    settings: Settings, database: sqlite3.Connection, small_clip: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    class Full:
        def read(self, size: int) -> bytes:
            raise OSError(28, "No space left on device")

    with pytest.raises(FootageError, match="ran full"):
        receive(settings, database, Full(), "a.mp4", Facts(1), 5)
    usage = type("Usage", (), {"free": 1_000})
    monkeypatch.setattr(receive_module.shutil, "disk_usage", lambda folder: usage)
    with pytest.raises(FootageError, match="not enough room"):
        bring_in(settings, database, small_clip)
    assert files_in(settings) == []


@pytest.mark.parametrize(
    ("name", "shown"),
    [
        ("../../etc/passwd.mp4", "passwd.mp4"),
        ("C:\\clips\\a.mp4", "a.mp4"),
        ("..", ".."),
        ("", "clip"),
        ("bad\x00\nname.mp4", "badname.mp4"),
        ("x" * 300 + ".mp4", "x" * 100 + "…" + "x" * 15 + ".mp4"),
        ("🏊 lane 3.mp4", "🏊 lane 3.mp4"),
    ],
)
def test_names_are_shown_without_folders_and_shortened(name: str, shown: str) -> None:
    assert clean_name(name) == shown


def test_names_never_leave_the_data_folder(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    clip_id, _ = receive(
        settings, database, BytesIO(small_clip.read_bytes()), "../../evil.mp4", Facts(1)
    )
    path = (settings.data / clips.by_id(database, clip_id).original_path).resolve()
    assert path.parent == settings.originals.resolve()


def test_footage_that_fails_in_the_job_is_not_kept(
    settings: Settings, database: sqlite3.Connection, small_clip: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    clip_id, job_id = bring_in(settings, database, small_clip)

    def fail(*args: object) -> None:
        raise FootageError("This film is empty.")

    monkeypatch.setattr(prepare_module, "make_review_copy", fail)
    run_job(settings, job_id)
    assert jobs.by_id(database, job_id).state == "failed"
    clip = clips.by_id(database, clip_id)
    assert (clip.state, clip.failure) == ("failed", "This film is empty.")
    assert files_in(settings) == []


def test_an_unforeseen_error_keeps_the_original(
    settings: Settings, database: sqlite3.Connection, small_clip: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    _, job_id = bring_in(settings, database, small_clip)
    monkeypatch.setattr(prepare_module, "frame_image", lambda *a: 1 / 0)
    run_job(settings, job_id)
    job = jobs.by_id(database, job_id)
    assert job.state == "failed"
    assert job.failure is not None
    assert "Norvik itself" in job.failure
    assert len(files_in(settings)) == 1


def test_a_cancelled_job_leaves_no_copy(
    settings: Settings, database: sqlite3.Connection, small_clip: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    monkeypatch.setattr("norvik.jobs.report.EVERY_S", 0.0)
    clip_id, job_id = bring_in(settings, database, small_clip)
    real = prepare_module.make_review_copy

    def cancel_midway(source: Path, out: Path, progress) -> object:  # type: ignore[no-untyped-def]
        def ask(done: int, of: int | None) -> None:
            if done == 20:
                jobs.ask_cancel(database, job_id)
            progress(done, of)

        return real(source, out, ask)

    monkeypatch.setattr(prepare_module, "make_review_copy", cancel_midway)
    run_job(settings, job_id)
    assert jobs.by_id(database, job_id).state == "cancelled"
    assert clips.by_id(database, clip_id).state == "failed"
    assert len(files_in(settings)) == 1  # the original, for another try


def test_two_workers_never_take_the_same_job(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    _, job_id = bring_in(settings, database, small_clip)
    with connected(settings.database) as other:
        taken = [jobs.claim(c, job_id, time.time()) for c in (database, other)]
    assert [t is not None for t in taken] == [True, False]


def test_a_job_whose_worker_is_gone_is_done_by_the_next(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    clip_id, job_id = bring_in(settings, database, small_clip)
    jobs.claim(database, job_id, time.time() - 60)
    queue = JobQueue(settings, run_job, immediate=True)
    assert recover(settings, queue) == 1
    assert clips.by_id(database, clip_id).state == "ready"
    assert jobs.by_id(database, job_id).attempts == 2


def test_a_job_that_keeps_killing_its_worker_ends_as_interrupted(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    clip_id, job_id = bring_in(settings, database, small_clip)
    for _ in range(3):
        jobs.claim(database, job_id, time.time() - 60)
        jobs.requeue(database, job_id)
    database.execute("UPDATE jobs SET state = 'running' WHERE id = ?", (job_id,))
    assert recover(settings, JobQueue(settings, run_job, immediate=True)) == 0
    assert jobs.by_id(database, job_id).state == "interrupted"
    assert clips.by_id(database, clip_id).state == "failed"


def test_a_message_that_the_queue_lost_is_sent_again(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    clip_id, _ = bring_in(settings, database, small_clip)
    enqueue_waiting(settings, JobQueue(settings, run_job, immediate=True))
    assert clips.by_id(database, clip_id).state == "ready"


def test_a_real_worker_survives_a_kill(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    """A worker is killed in the middle of a job; the next one finishes it."""
    environment = {**os.environ, "NORVIK_DATA": str(settings.data)}

    def start() -> subprocess.Popen[bytes]:
        return subprocess.Popen([sys.executable, "-m", "norvik", "worker"], env=environment)

    clip_id, job_id = bring_in(settings, database, small_clip)
    jobs.claim(database, job_id, time.time() - 60)  # as left by a worker that was killed
    worker = start()
    try:
        deadline = time.monotonic() + 60
        while clips.by_id(database, clip_id).state != "ready":
            assert time.monotonic() < deadline, "the worker did not finish the job"
            time.sleep(0.1)
    finally:
        worker.terminate()
        worker.wait(timeout=20)
