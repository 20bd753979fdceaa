"""The worker process: takes jobs from the queue until it is told to stop."""

from __future__ import annotations

import os
import signal
import threading

from norvik.jobs.queue import JobQueue
from norvik.jobs.recovery import SILENT_S, enqueue_waiting, recover
from norvik.jobs.runner import run_job
from norvik.settings import Settings
from norvik.store.connection import migrate

_LOOK_S = 1.0


def run_worker(settings: Settings, with_parent: bool = False) -> None:
    """Work until interrupted. One job at a time: an encoder fills the cores by itself.

    with_parent: end by itself when the process that started it is gone.
    """
    parent = os.getppid()
    settings.prepare()
    migrate(settings.database)
    queue = JobQueue(settings, run_job)
    enqueue_waiting(settings, queue)
    recover(settings, queue)
    stop = threading.Event()

    def look_after() -> None:
        since = 0.0
        while not stop.wait(_LOOK_S):
            if with_parent and os.getppid() != parent:
                os.kill(os.getpid(), signal.SIGTERM)
                return
            since += _LOOK_S
            if since >= SILENT_S / 2:
                since = 0.0
                recover(settings, queue)

    threading.Thread(target=look_after, name="recovery", daemon=True).start()
    try:
        queue.huey.create_consumer(
            workers=1, worker_type="thread", periodic=False, initial_delay=0.05, max_delay=0.3
        ).run()
    finally:
        stop.set()
