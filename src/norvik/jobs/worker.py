"""The worker process: takes jobs from the queue until it is told to stop."""

from __future__ import annotations

import threading

from norvik.jobs.queue import JobQueue
from norvik.jobs.recovery import SILENT_S, enqueue_waiting, recover
from norvik.jobs.runner import run_job
from norvik.settings import Settings
from norvik.store.connection import migrate


def run_worker(settings: Settings) -> None:
    """Work until interrupted. One job at a time: an encoder fills the cores by itself."""
    settings.prepare()
    migrate(settings.database)
    queue = JobQueue(settings, run_job)
    enqueue_waiting(settings, queue)
    recover(settings, queue)
    stop = threading.Event()

    def look_after() -> None:
        while not stop.wait(SILENT_S / 2):
            recover(settings, queue)

    threading.Thread(target=look_after, name="recovery", daemon=True).start()
    try:
        queue.huey.create_consumer(
            workers=1, worker_type="thread", periodic=False, initial_delay=0.05, max_delay=0.3
        ).run()
    finally:
        stop.set()
