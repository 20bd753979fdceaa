"""The worker process: takes jobs from the queues until it is told to stop."""

from __future__ import annotations

import logging
import os
import signal
import threading
from types import FrameType

from huey.consumer import Consumer

from norvik.jobs.back_up import back_up_when_due
from norvik.jobs.idle_reading import read_when_idle
from norvik.jobs.queue import JobQueue
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


class _Consumer(Consumer):
    """Takes the jobs of one queue; the process's signals are not its to answer.

    Two consumers run in this process. Each would put its own answer to a signal in the place of
    the other's, and a signal that came between would stop one of them and leave the other.
    """

    def _set_signal_handlers(self) -> None:
        pass


def run_worker(settings: Settings, with_parent: bool = False) -> None:
    """Work until told to stop. One long job at a time: an encoder fills the cores by itself.

    A job under way is handed back into the queue: the next worker starts it at once.

    with_parent: end by itself when the process that started it is gone.
    """
    parent = os.getppid()
    stop = threading.Event()

    def told(_signal: int, _frame: FrameType | None) -> None:
        stop.set()

    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, told)
    settings.prepare()
    migrate(settings.database)
    queue = JobQueue(settings, run_job)
    enqueue_waiting(settings, queue)
    recover(settings, queue)
    consumers = [
        _Consumer(huey, workers=1, periodic=False, initial_delay=0.05, max_delay=0.2)
        for huey in queue.hueys
    ]
    for consumer in consumers:
        consumer.start()
    since, read_since = 0.0, 0.0
    while not stop.wait(_LOOK_S):
        if with_parent and os.getppid() != parent:
            break
        since += _LOOK_S
        if since % _SEEN_S < _LOOK_S:
            (settings.data / "worker-seen").touch()
        read_since += _LOOK_S
        if read_since >= _READ_S:
            read_since = 0.0
            try:
                read_when_idle(settings, queue)
            except Exception:
                log.exception("asking for a clip to be read failed; it is tried again soon")
        if since >= SILENT_S / 2:
            since = 0.0
            try:
                recover(settings, queue)
                enqueue_waiting(settings, queue)
                sweep(settings)
                back_up_when_due(settings, queue.put)
            except Exception:
                # A full disk or a busy database passes; the jobs under way go on meanwhile.
                log.exception("looking after the jobs failed; it is tried again soon")
            for consumer in consumers:
                consumer.check_worker_health()
    for consumer in consumers:
        consumer.stop()
    hand_back(settings, queue)
