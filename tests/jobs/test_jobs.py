"""Jobs: every end has a name, a killed worker loses nothing, nobody takes a job twice."""

from __future__ import annotations

import os
import signal
import sqlite3
import threading
import time
from collections.abc import Iterator
from dataclasses import replace
from io import BytesIO
from pathlib import Path

import av
import pytest
from av.video.frame import VideoFrame

from norvik.core.errors import FootageError
from norvik.footage import review_copy
from norvik.footage.pieces import Pieces
from norvik.intake import receive as receive_module
from norvik.intake.receive import AlreadyThere, clean_name, receive
from norvik.jobs import runner as runner_module
from norvik.jobs.consumer import QuietConsumer
from norvik.jobs.queue import JobQueue
from norvik.jobs.recovery import enqueue_waiting, recover
from norvik.jobs.report import JobReport, Pulse
from norvik.jobs.runner import HouseDesk, run_job, run_through
from norvik.jobs.sweep import sweep
from norvik.jobs.turn import TURN
from norvik.jobs.worker import run_worker
from norvik.settings import Settings
from norvik.storage.release import remove_doomed
from norvik.store import clips, files_to_delete, jobs, marks, recordings, swimmers, trash
from norvik.store.clips import Facts
from norvik.store.connection import connect, connected, transaction
from norvik.store.swimmers import Swimmer
from norvik.work import prepare as prepare_module
from norvik.work.report import JobLost
from tests.browser.serving import end, start_worker
from tests.clips import numbered_clip


@pytest.fixture
def database(settings: Settings) -> Iterator[sqlite3.Connection]:
    connection = connect(settings.database)
    swimmers.add(connection, Swimmer("Tilde Vassholm"))
    yield connection
    connection.close()


@pytest.fixture(autouse=True)
def _whole_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    """However busy the machine is, a small clip is made whole by its first job."""
    monkeypatch.setattr(review_copy, "FIRST_STRETCH_S", 1000.0)


def bring_in(settings: Settings, database: sqlite3.Connection, path: Path) -> tuple[int, int]:
    with path.open("rb") as stream:
        return receive(
            settings, database, stream, path.name, Facts(1, filmed_on="2026-11-20"),
            expected_bytes=path.stat().st_size,
        )  # fmt: skip


def files_in(settings: Settings) -> list[str]:
    folders = (
        settings.originals, settings.copies, settings.incoming, settings.pictures, settings.work,
    )  # fmt: skip
    return sorted(p.name for folder in folders for p in folder.iterdir())


def test_a_clip_becomes_ready(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    clip_id, job_id = bring_in(settings, database, small_clip)
    assert clips.by_id(database, clip_id).state == "waiting"
    run_job(settings, job_id)
    clip = clips.by_id(database, clip_id)
    assert (clip.state, clip.recording.frames, clip.recording.failure) == ("ready", 90, None)
    assert jobs.by_id(database, job_id).state == "done"
    assert clips.time_base(database, clip).frames == 90
    original = settings.data / str(clip.recording.original_path)
    assert original.read_bytes() == small_clip.read_bytes()
    assert clip.recording.sha256 in original.name


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
        receive(settings, database, BytesIO(data[:-9]), "a.mp4", Facts(1), expected_bytes=len(data))
    with pytest.raises(FootageError, match="not a video"):
        receive(settings, database, BytesIO(b"hello"), "a.mp4", Facts(1), expected_bytes=5)
    assert files_in(settings) == []
    assert clips.newest_first(database) == []


def test_a_full_disk_is_said_before_and_during(
    settings: Settings, database: sqlite3.Connection, small_clip: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    class Full:
        def read(self, size: int) -> bytes:
            raise OSError(28, "No space left on device")

    with pytest.raises(FootageError, match="filled up"):
        receive(settings, database, Full(), "a.mp4", Facts(1), expected_bytes=5)
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
        settings, database, BytesIO(small_clip.read_bytes()), "../../evil.mp4",
        Facts(1, filmed_on="2026-11-20"),
    )  # fmt: skip
    path = (settings.data / str(clips.by_id(database, clip_id).recording.original_path)).resolve()
    assert path.parent == settings.originals.resolve()


def test_a_copy_that_fails_leaves_the_original_for_another_try(
    settings: Settings, database: sqlite3.Connection, small_clip: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    """The disk runs full in the middle of the copy."""
    clip_id, job_id = bring_in(settings, database, small_clip)
    add = Pieces.add

    def full(pieces: Pieces, frame: VideoFrame) -> None:
        if pieces.frames == 20:
            raise av.error.OSError(28, "No space left on device", "copy.mp4")
        add(pieces, frame)

    with monkeypatch.context() as broken:
        broken.setattr(Pieces, "add", full)
        run_job(settings, job_id)
    assert jobs.by_id(database, job_id).state == "failed"
    clip = clips.by_id(database, clip_id)
    assert clip.state == "failed"
    assert "disk is full" in str(clip.recording.failure)
    assert files_in(settings) == [Path(str(clip.recording.original_path)).name]
    again = jobs.add(database, "open-recording", {"recording_id": 1}, 1)
    recordings.set_waiting(database, 1)
    run_through(settings, again)
    assert clips.by_id(database, clip_id).state == "ready"


def test_a_long_recording_opens_at_once_and_grows(
    settings: Settings, database: sqlite3.Connection, tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    monkeypatch.setattr(review_copy, "FIRST_STRETCH_S", 0.0)
    monkeypatch.setattr(review_copy, "NEXT_STRETCH_S", 0.0)
    film = numbered_clip(tmp_path / "long.mp4", [n / 60 for n in range(200)])
    clip_id, job_id = bring_in(settings, database, film)
    following = run_job(settings, job_id)
    assert following is not None
    clip = clips.by_id(database, clip_id)
    assert (clip.state, clip.to_end) == ("opening", True)
    assert 0 < clip.recording.frames < 200
    assert clip.last_frame == clip.recording.frames - 1
    # What is marked meanwhile stays where it is.
    marks.place(database, clip_id, None, 5, "arm", "right", "entry")
    first = settings.data / str(clip.recording.review_path)
    run_through(settings, following)
    clip = clips.by_id(database, clip_id)
    assert (clip.state, clip.recording.frames) == ("ready", 200)
    assert [m.frame for m in marks.of_clip(database, clip_id)] == [5]
    # A page may still play the first stretch; later it is cleared away, and nothing else.
    assert first.is_file()
    assert sweep(settings) == 0
    assert sweep(settings, keep_s=-1) >= 1
    assert [p.name for p in settings.copies.iterdir()] == ["1.mp4"]


def test_a_long_job_gives_way_to_a_quick_one(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    _, job_id = bring_in(settings, database, small_clip)
    jobs.claim(database, job_id, time.time(), "me")
    told: list[int] = []

    def long_job() -> None:
        with connected(settings.database) as own:
            report = JobReport(HouseDesk(own, settings, job_id, "me"), gives_way=True)
            for n in range(1000):
                report("Making the review copy", n, 1000)
                told.append(n)

    with TURN.quick():
        thread = threading.Thread(target=long_job)
        thread.start()
        time.sleep(0.2)
        assert told == []
    thread.join(timeout=20)
    assert len(told) == 1000


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
    assert "went wrong in Norvik" in job.failure
    assert len(files_in(settings)) == 1


def test_a_cancelled_job_leaves_no_copy(
    settings: Settings, database: sqlite3.Connection, small_clip: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    monkeypatch.setattr("norvik.jobs.report.EVERY_S", 0.0)
    clip_id, job_id = bring_in(settings, database, small_clip)
    real = prepare_module.make_review_copy

    def cancel_midway(source: Path, out: Path, progress, **options) -> object:  # type: ignore[no-untyped-def]
        def ask(done: int, of: int | None) -> None:
            if done == 20:
                jobs.ask_cancel(database, job_id)
            progress(done, of)

        return real(source, out, ask, **options)

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


@pytest.mark.parametrize("signal_number", [signal.SIGTERM, signal.SIGINT])
def test_a_worker_told_to_stop_while_it_starts_stops(
    settings: Settings, monkeypatch: pytest.MonkeyPatch, signal_number: int
) -> None:
    """The signal comes when the first of the two queues is being served and the second is not."""
    ours = (signal.SIGTERM, signal.SIGINT, signal.SIGALRM)
    before = {number: signal.getsignal(number) for number in ours}
    started = QuietConsumer.start
    told: list[bool] = []

    def start(consumer: QuietConsumer) -> None:
        started(consumer)
        if not told:
            told.append(True)
            os.kill(os.getpid(), signal_number)

    def gone_on(_signal: int, _frame: object) -> None:
        raise TimeoutError("the worker went on")

    monkeypatch.setattr(QuietConsumer, "start", start)
    signal.signal(signal.SIGALRM, gone_on)
    signal.alarm(20)
    try:
        run_worker(settings)
    finally:
        signal.alarm(0)
        for number, handler in before.items():
            signal.signal(number, handler)
    assert told == [True]


def test_a_worker_is_killed_in_the_middle(
    settings: Settings, database: sqlite3.Connection, tmp_path: Path
) -> None:
    """Nothing half-made stays, and the next worker makes the recording whole."""
    film = numbered_clip(tmp_path / "film.mp4", [n / 60 for n in range(500)], busy=True)
    clip_id, _ = bring_in(settings, database, film)
    worker = start_worker(settings)
    deadline = time.monotonic() + 60
    while not list(settings.work.glob("*/*.part")):
        assert time.monotonic() < deadline, "the worker did not begin"
        time.sleep(0.01)
    worker.kill()
    worker.join()
    assert clips.by_id(database, clip_id).state in ("waiting", "opening")
    database.execute("UPDATE jobs SET heartbeat_at = heartbeat_at - 60")  # a minute later
    worker = start_worker(settings)
    try:
        while clips.by_id(database, clip_id).state != "ready":
            assert time.monotonic() < deadline, "the next worker did not finish"
            time.sleep(0.05)
    finally:
        end(worker)
    assert clips.by_id(database, clip_id).recording.frames == 500
    assert not [name for name in files_in(settings) if name.endswith(".part")]


def test_a_worker_that_is_told_to_stop_hands_its_job_back(
    settings: Settings, database: sqlite3.Connection, tmp_path: Path
) -> None:
    """The next one takes it at once, and the stop does not count as a failed attempt."""
    film = numbered_clip(tmp_path / "film.mp4", [n / 60 for n in range(500)], busy=True)
    clip_id, job_id = bring_in(settings, database, film)
    worker = start_worker(settings)
    deadline = time.monotonic() + 60
    while not list(settings.work.glob("*/*.part")):
        assert time.monotonic() < deadline, "the worker did not begin"
        time.sleep(0.01)
    running = next(n for n in range(job_id, job_id + 3)
                   if jobs.by_id(database, n).state == "running")  # fmt: skip
    worker.terminate()
    worker.join(20)
    assert worker.exitcode == 0
    job = jobs.by_id(database, running)
    assert (job.state, job.attempts) == ("queued", 0)
    assert JobQueue(settings, run_job).waiting() == 1
    worker = start_worker(settings)
    try:
        while clips.by_id(database, clip_id).state != "ready":
            assert time.monotonic() < deadline, "the next worker did not finish"
            time.sleep(0.05)
    finally:
        end(worker)
    assert jobs.by_id(database, running).attempts == 1


def test_a_worker_never_takes_its_own_job_for_dead(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    """The machine slept: its job was silent for longer than anybody waits, and lives."""
    _, job_id = bring_in(settings, database, small_clip)
    jobs.claim(database, job_id, time.time() - 3600)
    queue = JobQueue(settings, run_job, immediate=True)
    with Pulse(job_id, lambda: None, every_s=60):
        assert recover(settings, queue) == 0
    assert recover(settings, queue) == 1


def test_a_job_given_to_another_worker_stops_without_ending_it(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    clip_id, job_id = bring_in(settings, database, small_clip)

    def stolen(*_: object) -> None:
        jobs.requeue(database, job_id)
        raise JobLost

    kind = jobs.by_id(database, job_id).kind
    changed = {kind: replace(runner_module.WORK[kind], do=stolen)}
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(runner_module, "WORK", {**runner_module.WORK, **changed})
        run_job(settings, job_id)
    assert jobs.by_id(database, job_id).state == "queued"
    run_through(settings, job_id)
    assert clips.by_id(database, clip_id).state == "ready"


def test_files_whose_removal_was_cut_short_go_at_the_next_round(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    """The power failed between the rows and the files."""
    clip_id, job_id = bring_in(settings, database, small_clip)
    run_through(settings, job_id)
    trash.put(database, [clip_id])
    with transaction(database):
        gone = trash.delete(database, [clip_id])
        files_to_delete.add(database, [path for _, path in gone if path])
    assert len(files_to_delete.every(database)) == 1
    assert list(settings.originals.iterdir())
    remove_doomed(database, settings)
    assert list(settings.originals.iterdir()) == []
    assert files_to_delete.every(database) == []


def test_a_file_brought_in_again_meanwhile_is_not_removed(
    settings: Settings, database: sqlite3.Connection, small_clip: Path
) -> None:
    """The same film belongs to a recording again when its removal comes round."""
    clip_id, job_id = bring_in(settings, database, small_clip)
    path = str(clips.by_id(database, clip_id).recording.original_path)
    files_to_delete.add(database, [path])
    remove_doomed(database, settings)
    assert (settings.data / path).is_file()
    run_through(settings, job_id)
    assert clips.by_id(database, clip_id).state == "ready"
