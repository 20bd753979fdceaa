"""A house and a worker away in one process, each with what only it knows."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from pathlib import Path

import pytest

from norvik.away.house import serve_away
from norvik.away.worker import AwayWorker
from norvik.intake.receive import receive
from norvik.jobs.queue import JobQueue, close_huey
from norvik.jobs.runner import run_job
from norvik.jobs.worker import Rounds
from norvik.settings import Settings
from norvik.store import swimmers
from norvik.store.clips import Facts
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.engines import ACCESS, BUCKET, storage


@dataclass
class House:
    """settings: of the machine with the database. away: of the other one."""

    settings: Settings
    away: Settings
    queue: JobQueue
    rounds: Rounds
    connection: sqlite3.Connection
    workers: list[AwayWorker] = field(default_factory=list)

    def bring_in(self, path: Path) -> tuple[int, int]:
        """Clip and job of a film that came in."""
        with path.open("rb") as stream:
            facts = Facts(1, filmed_on="2026-11-20", view="side-under")
            return receive(self.settings, self.connection, stream, path.name, facts, stretch=1)

    def worker(self) -> AwayWorker:
        self.away.work.mkdir(parents=True, exist_ok=True)
        made = AwayWorker(self.away)
        self.workers.append(made)
        return made


@pytest.fixture(scope="module")
def endpoint() -> Iterator[str]:
    with storage() as address:
        yield address


@pytest.fixture(params=["folder", "bucket"])
def footage_at(
    request: pytest.FixtureRequest, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> str:
    """Where both machines find the films."""
    if request.param == "folder":
        return str(tmp_path / "shared")
    import boto3

    endpoint: str = request.getfixturevalue("endpoint")
    for name, value in {**ACCESS, "NORVIK_S3": endpoint}.items():
        monkeypatch.setenv(name, value)
    boto3.client("s3", endpoint_url=endpoint).create_bucket(Bucket=BUCKET)
    return f"s3://{BUCKET}/{tmp_path.name}"


@pytest.fixture
def house(settings: Settings, footage_at: str, queue_at: str, tmp_path: Path) -> Iterator[House]:
    ours = replace(settings, footage=footage_at, queue_at=queue_at)
    ours.prepare()
    with connected(ours.database) as connection:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))
        queue, rounds = JobQueue(ours, run_job), Rounds()
        desk = serve_away(ours, queue, rounds)
        away = Settings(tmp_path / "away", footage_at, queue_at)
        made = House(ours, away, queue, rounds, connection)
        yield made
        for consumer in desk:
            consumer.stop(graceful=True)
            close_huey(consumer.huey)
        queue.close()
        for worker in made.workers:
            worker.close()


Wait = Callable[[Callable[[], bool], str], None]


@pytest.fixture
def until() -> Wait:
    import time

    def wait(true: Callable[[], bool], what: str) -> None:
        deadline = time.monotonic() + 60
        while not true():
            assert time.monotonic() < deadline, what
            time.sleep(0.02)

    return wait
