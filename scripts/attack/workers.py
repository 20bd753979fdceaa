"""Worker processes that can be killed, and what helps to do it at a bad moment."""

from __future__ import annotations

import os
import subprocess
import sys
import time

from norvik.settings import Settings
from norvik.store import counts, jobs
from norvik.store.connection import connected


def end(wrong: list[str]) -> None:
    """Say what went wrong, and end with 1 where anything did."""
    for sentence in wrong:
        print(sentence, file=sys.stderr)
    sys.exit(1 if wrong else 0)


def worker_of(settings: Settings) -> subprocess.Popen[bytes]:
    return subprocess.Popen(
        [sys.executable, "-m", "norvik", "worker"],
        env={**os.environ, "NORVIK_DATA": str(settings.data)},
        stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip


def until_it_works(settings: Settings, seconds: float = 20.0) -> bool:
    """Until a worker that lives has a job: before that there is nothing to lose.

    False where it got none.
    The job of one that was killed stays under way until its pulse is missed: it does not count.
    """
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        with connected(settings.database) as connection:
            dead = len(jobs.stale(connection, time.time(), 30.0))
            if counts.jobs(connection)["running"] > dead:
                return True
            if not jobs.any_active(connection):
                return False
        time.sleep(0.02)
    return False


def a_minute_later(settings: Settings) -> None:
    """As if the next worker came after the pulse of the last one has been missed."""
    with connected(settings.database) as connection:
        jobs.age(connection, 60.0)
