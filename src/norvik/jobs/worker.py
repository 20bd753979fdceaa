"""The worker beside the database: takes jobs from the queues until it is told to stop.

Where workers on other machines take jobs as well, it answers them (away/house.py).
"""

from __future__ import annotations

import logging
import os
import time
from collections.abc import Callable

from huey.consumer import Consumer
from redis.exceptions import RedisError

from norvik.files.bucket import BucketFootage
from norvik.files.opened import footage_of
from norvik.jobs.back_up import back_up_when_due
from norvik.jobs.consumer import consumers_of, told_to_stop
from norvik.jobs.idle_reading import read_when_idle
from norvik.jobs.queue import HOUSE, NAMES, JobQueue
from norvik.jobs.recovery import SILENT_S, enqueue_waiting, hand_back, recover
from norvik.jobs.runner import run_job
from norvik.jobs.sweep import sweep
from norvik.settings import Settings
from norvik.store.connection import migrate

log = logging.getLogger(__name__)

_LOOK_S = 0.25
#: Seconds between two signs that a worker is there.
_SEEN_S = 2.0
#: Seconds between two looks whether a clip could be read.
_READ_S = 2.0
#: Seconds between two looks through all files.
_THOROUGH_S = 600.0


class Rounds:
    """Things to do again and again, each in its own time. What fails is tried at its next time."""

    def __init__(self) -> None:
        self._due: list[list[float]] = []
        self._what: list[tuple[float, str, Callable[[], object]]] = []

    def every(self, seconds: float, doing: str, what: Callable[[], object]) -> None:
        self._what.append((seconds, doing, what))
        self._due.append([time.monotonic() + seconds])

    def go(self) -> None:
        now = time.monotonic()
        for due, (seconds, doing, what) in zip(self._due, self._what, strict=True):
            if now < due[0]:
                continue
            due[0] = now + seconds
            try:
                what()
            except RedisError as error:
                log.warning("%s: the queue does not answer (%s)", doing, error)
            except Exception:
                # A full disk or a busy database passes; the jobs under way go on meanwhile.
                log.exception("%s failed; it is tried again soon", doing)


def run_worker(
    settings: Settings, with_parent: bool = False, films: bool = True,
    serve_away: Callable[[Settings, JobQueue, Rounds], list[Consumer]] | None = None,
) -> None:  # fmt: skip
    """Work until told to stop. One long job at a time: an encoder fills the cores by itself.

    A job under way is handed back into the queue: the next worker starts it at once.

    with_parent: end by itself when the process that started it is gone. films: False leaves films
    to workers away. serve_away: answers them, and gives the consumers that do.
    """
    parent = os.getppid()
    stop = told_to_stop()
    settings.prepare()
    migrate(settings.database)
    queue = JobQueue(settings, run_job)
    rounds = Rounds()
    consumers: list[Consumer] = []
    if serve_away is not None:
        consumers += serve_away(settings, queue, rounds)
    enqueue_waiting(settings, queue)
    recover(settings, queue)
    own = consumers_of(queue.hueys(NAMES if films else (HOUSE,)))
    for consumer in own:
        consumer.start()
    consumers += own

    def look_after() -> None:
        recover(settings, queue)
        enqueue_waiting(settings, queue)
        back_up_when_due(settings, queue.put)
        for consumer in consumers:
            consumer.check_worker_health()

    footage = footage_of(settings)
    rounds.every(_SEEN_S, "showing itself", (settings.data / "worker-seen").touch)
    rounds.every(_READ_S, "asking for a clip to be read", lambda: read_when_idle(settings, queue))
    rounds.every(SILENT_S / 2, "looking after the jobs", look_after)
    rounds.every(SILENT_S / 2, "tidying up", lambda: sweep(settings, thorough=False))
    rounds.every(_THOROUGH_S, "tidying up", lambda: sweep(settings))
    if isinstance(footage, BucketFootage):
        rounds.every(_THOROUGH_S, "making room", footage.trim)
    while not stop.wait(_LOOK_S):
        if with_parent and os.getppid() != parent:
            break
        rounds.go()
    for consumer in consumers:
        consumer.stop()
    hand_back(settings, queue)
