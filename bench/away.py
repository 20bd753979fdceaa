"""Workers over Redis: how much two do against one, and what a job costs the house."""

from __future__ import annotations

import os
import time
from contextlib import closing
from pathlib import Path

import redis
from tests.browser.serving import end
from tests.clips import numbered_clip
from tests.engines import RedisServer, worker

from bench.figures import line
from norvik.intake.receive import receive
from norvik.jobs.queue import JobQueue
from norvik.jobs.runner import run_job
from norvik.settings import Settings
from norvik.store import club, recordings, swimmers
from norvik.store.clips import Facts
from norvik.store.connection import connected, migrate
from norvik.store.swimmers import Swimmer

#: Films of five seconds at 60 frames/s, 1280x720, hard to encode.
FILMS, FRAMES = 4, 300


def run(room: Path) -> None:
    films = [
        numbered_clip(
            room / f"away-{n}.mp4", [k / 60 for k in range(FRAMES + n)], (1280, 720), busy=True
        )
        for n in range(FILMS)
    ]  # fmt: skip
    server = RedisServer(room)
    try:
        one = _prepared_a_minute(room / "one", server, films, workers=1)
        two = _prepared_a_minute(room / "two", server, films, workers=2)
    finally:
        server.kill()
    line("recordings of 5 s a minute, one worker away", f"{one[0]:.1f}", "")
    line("two workers on the same cores, times as many", f"{two[0] / one[0]:.2f}", "")
    line("house: processor ms for a recording", f"{two[1]:.0f}", "")
    line("house: bytes through Redis for a recording", f"{two[2]:,.0f}", "")


def _prepared_a_minute(
    folder: Path, server: RedisServer, films: list[Path], workers: int
) -> tuple[float, float, float]:
    """Recordings a minute, processor ms of the house for each, bytes through Redis for each."""
    server.empty()
    house = Settings(folder / "house", str(folder / "films"), server.at)
    house.prepare()
    migrate(house.database)
    with connected(house.database) as connection, closing(JobQueue(house, run_job)) as queue:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))
        club.set_reads_films(connection, False)
        asked = []
        for path in films:
            with path.open("rb") as stream:
                facts = Facts(1, filmed_on="2026-11-20")
                asked.append(receive(house, connection, stream, path.name, facts, stretch=1)[1])
        common = {"NORVIK_QUEUE": server.at, "NORVIK_FOOTAGE": house.footage}
        at_home = worker({**common, "NORVIK_DATA": str(house.data)}, "--no-films")
        away = [
            worker({**common, "NORVIK_DATA": str(folder / f"away-{n}")}, "--away")
            for n in range(workers)
        ]
        with redis.Redis.from_url(server.at) as client:
            while client.keys("norvik:worker:*").__len__() < workers:
                time.sleep(0.1)
            bytes_before = _bytes(client)
            used_before, began = _processor_s(at_home.pid or 0), time.monotonic()
            for job_id in asked:
                queue.put(job_id)
            while any(r.state != "ready" for r in recordings.everyone(connection)):
                time.sleep(0.05)
            seconds = time.monotonic() - began
            used = _processor_s(at_home.pid or 0) - used_before
            through = _bytes(client) - bytes_before
        for process in [*away, at_home]:
            end(process)
    return 60 * len(films) / seconds, 1000 * used / len(films), through / len(films)


def _bytes(client: redis.Redis) -> int:
    told = client.info("stats")
    return int(told["total_net_input_bytes"]) + int(told["total_net_output_bytes"])


def _processor_s(process: int) -> float:
    """Seconds of processor time that a process has used."""
    after_name = Path(f"/proc/{process}/stat").read_text().rsplit(")", 1)[1].split()
    return (int(after_name[11]) + int(after_name[12])) / os.sysconf("SC_CLK_TCK")
