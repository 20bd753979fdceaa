"""Three workers as processes of their own, killed at random: each recording is prepared once."""

from __future__ import annotations

import random
import sqlite3
import time
from collections.abc import Callable
from contextlib import closing
from dataclasses import replace
from multiprocessing.process import BaseProcess
from pathlib import Path

import pytest

from norvik.files.opened import footage_of
from norvik.intake.receive import receive
from norvik.jobs.queue import JobQueue
from norvik.jobs.runner import run_job
from norvik.settings import Settings
from norvik.store import clips, club, jobs, swimmers
from norvik.store.clips import Facts
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.browser.serving import end
from tests.clips import numbered_clip
from tests.engines import RedisServer, worker

RECORDINGS = 40
KILLS = 6


def test_forty_recordings_are_prepared_once_each_while_workers_are_killed(
    settings: Settings, queue_at: str, tmp_path: Path
) -> None:
    """Also while the house itself is killed once, and told nothing of it."""
    house, environment = _two_machines(settings, queue_at, tmp_path)
    with connected(house.database) as connection, closing(JobQueue(house, run_job)) as queue:
        made = _bring_in(house, connection, tmp_path, RECORDINGS)
        for _, job_id in made:
            queue.put(job_id)
        at_home = _start_house(house)
        away = [_start_away(environment, n) for n in range(3)]
        luck = random.Random(7)
        killed = 0
        try:
            deadline = time.monotonic() + 240
            next_kill = time.monotonic() + 2
            while not _all_ready(connection):
                assert time.monotonic() < deadline, _states(connection)
                time.sleep(0.05)
                if time.monotonic() > next_kill and killed < KILLS:
                    n = luck.randrange(3)
                    away[n].kill()
                    away[n].join()
                    away[n] = _start_away(environment, n)
                    killed += 1
                    next_kill = time.monotonic() + luck.uniform(0.3, 1.0)
                    if killed == KILLS // 2:
                        at_home.kill()
                        at_home.join()
                        at_home = _start_house(house)
        finally:
            _end([*away, at_home])
        assert killed >= 3
        for n, (clip_id, _) in enumerate(made):
            assert clips.by_id(connection, clip_id).recording.frames == 40 + n
        names = {s.name for s in footage_of(house).listed("copies/")}
        whole = {f"copies/{n}.mp4" for n in range(1, RECORDINGS + 1)}
        # A beginning that was handed out stays a minute for pages that still play it.
        assert whole == {name for name in names if "-" not in name}
        # Once each: no job is left over, and none was asked for twice.
        rows = connection.execute("SELECT kind, recording_id, state FROM jobs").fetchall()
        assert {row["state"] for row in rows} == {"done"}
        assert len({(row["kind"], row["recording_id"]) for row in rows}) == len(rows)
        assert connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    for n in range(3):
        assert not list((tmp_path / f"away-{n}").rglob("*.sqlite3*"))


def test_workers_go_on_when_redis_was_killed_and_has_come_back(
    settings: Settings, redis_server: RedisServer, queue_at: str, tmp_path: Path
) -> None:
    house, environment = _two_machines(settings, queue_at, tmp_path)
    with connected(house.database) as connection, closing(JobQueue(house, run_job)) as queue:
        made = _bring_in(house, connection, tmp_path, 6)
        running = [_start_house(house), _start_away(environment, 0)]
        try:
            for _, job_id in made[:3]:
                queue.put(job_id)
            _wait(lambda: "running" in _states(connection).values(), "nothing began")
            redis_server.kill()
            # Nothing is lost by asking meanwhile: the table knows it.
            for _, job_id in made[3:]:
                queue.put(job_id)
            redis_server.start()
            _wait(lambda: _all_ready(connection), "not all were prepared")
            assert [p.exitcode for p in running] == [None, None]
        finally:
            _end(running)
    assert [p.exitcode for p in running] == [0, 0]


def test_a_worker_that_is_told_to_stop_hands_back_and_ends(
    settings: Settings, queue_at: str, tmp_path: Path
) -> None:
    house, environment = _two_machines(settings, queue_at, tmp_path)
    with connected(house.database) as connection, closing(JobQueue(house, run_job)) as queue:
        film = numbered_clip(tmp_path / "long.mp4", [n / 60 for n in range(1500)], busy=True)
        swimmers.add(connection, Swimmer("Tilde Vassholm"))
        clip_id, job_id = _take(house, connection, film)
        running = [_start_house(house), _start_away(environment, 0)]
        try:
            queue.put(job_id)
            _wait(lambda: clips.by_id(connection, clip_id).state == "opening", "it did not open")
            _wait(lambda: job_id + 1 in _states(connection), "the rest is not asked for")
            _wait(lambda: jobs.by_id(connection, job_id + 1).doing != "", "the rest did not begin")
            end(running[1])
            assert running[1].exitcode == 0
            _wait(lambda: jobs.by_id(connection, job_id + 1).state == "queued", "not handed back")
            assert jobs.by_id(connection, job_id + 1).attempts == 0
            running.append(_start_away(environment, 1))
            _wait(lambda: clips.by_id(connection, clip_id).state == "ready", "not made whole")
        finally:
            _end([running[0], *running[2:]])


@pytest.mark.parametrize(
    ("options", "environment", "says"),
    [
        (["--away"], {}, "NORVIK_QUEUE"),
        (["--away"], {"NORVIK_QUEUE": "redis://127.0.0.1:9"}, "NORVIK_FOOTAGE"),
        (["--no-films"], {}, "NORVIK_QUEUE"),
        (["--away"], {"NORVIK_QUEUE": "redis://127.0.0.1:9", "NORVIK_FOOTAGE": "/nowhere"},
         "refused"),
    ],
)  # fmt: skip
def test_what_is_missing_is_said_at_the_start(
    tmp_path: Path, options: list[str], environment: dict[str, str], says: str
) -> None:
    log = tmp_path / "log"
    started = worker({"NORVIK_DATA": str(tmp_path / "data"), **environment}, *options, log=log)
    started.join(60)
    assert started.exitcode not in (0, None)
    assert says in log.read_text()
    assert "Traceback" not in log.read_text()


def _two_machines(
    settings: Settings, queue_at: str, tmp_path: Path
) -> tuple[Settings, dict[str, str]]:
    """The house, and the environment of workers away: another folder, and no database."""
    house = replace(settings, footage=str(tmp_path / "shared"), queue_at=queue_at)
    house.prepare()
    return house, {
        "NORVIK_QUEUE": queue_at, "NORVIK_FOOTAGE": house.footage, "AWAY": str(tmp_path),
    }  # fmt: skip


def _start_house(house: Settings) -> BaseProcess:
    return worker(
        {"NORVIK_DATA": str(house.data), "NORVIK_QUEUE": house.queue_at,
         "NORVIK_FOOTAGE": house.footage}, "--no-films",
    )  # fmt: skip


def _start_away(environment: dict[str, str], n: int) -> BaseProcess:
    return worker({**environment, "NORVIK_DATA": f"{environment['AWAY']}/away-{n}"}, "--away")


def _bring_in(
    house: Settings, connection: sqlite3.Connection, tmp_path: Path, count: int
) -> list[tuple[int, int]]:
    swimmers.add(connection, Swimmer("Tilde Vassholm"))
    club.set_reads_films(connection, False)
    return [
        _take(
            house, connection,
            numbered_clip(tmp_path / f"{n}.mp4", [k / 30 for k in range(40 + n)], (320, 180)),
        )
        for n in range(count)
    ]  # fmt: skip


def _take(house: Settings, connection: sqlite3.Connection, path: Path) -> tuple[int, int]:
    facts = Facts(1, filmed_on="2026-11-20")
    with path.open("rb") as stream:
        return receive(house, connection, stream, path.name, facts, stretch=1)


def _states(connection: sqlite3.Connection) -> dict[int, str]:
    return dict(connection.execute("SELECT id, state FROM jobs").fetchall())


def _all_ready(connection: sqlite3.Connection) -> bool:
    row = connection.execute("SELECT count(*) FROM recordings WHERE state <> 'ready'").fetchone()
    return bool(row[0] == 0)


def _wait(true: Callable[[], bool], what: str) -> None:
    deadline = time.monotonic() + 120
    while not true():
        assert time.monotonic() < deadline, what
        time.sleep(0.02)


def _end(processes: list[BaseProcess]) -> None:
    for process in processes:
        end(process)
