"""Finding jobs whose worker was killed, and starting them again."""

from __future__ import annotations

import time

from norvik.jobs.kinds import ENDS
from norvik.jobs.queue import JobQueue
from norvik.jobs.report import Pulse
from norvik.settings import Settings
from norvik.store import jobs
from norvik.store.connection import connected

#: A worker reports every half second; one that was silent this long is gone.
SILENT_S = 15.0
#: A job that took its worker down this often is not tried again.
MOST_ATTEMPTS = 3


def recover(settings: Settings, queue: JobQueue, silent_s: float = SILENT_S) -> int:
    """Queue again what was running in a worker that is gone. Returns how many jobs.

    What runs in this very process is left alone, however long it was silent.
    """
    count = 0
    with connected(settings.database) as connection:
        for job in jobs.stale(connection, time.time(), silent_s):
            if job.id in Pulse.alive:
                continue
            if job.attempts >= MOST_ATTEMPTS:
                sentence = "This was started three times and each time the worker stopped in it."
                ENDS[job.kind].ended(connection, settings, job, "interrupted", sentence)
                jobs.end(connection, job.id, "interrupted", sentence)
                continue
            jobs.requeue(connection, job.id)
            queue.put(job.id)
            count += 1
    return count


def hand_back(settings: Settings, queue: JobQueue) -> int:
    """Queue again what this process has under way, because it was told to stop. How many."""
    count = 0
    with connected(settings.database) as connection:
        for job_id in sorted(Pulse.alive):
            if jobs.hand_back(connection, job_id):
                queue.put(job_id)
                count += 1
    return count


def enqueue_waiting(settings: Settings, queue: JobQueue) -> int:
    """Jobs that the table knows and whose message is lost.

    A web server was stopped between the row and the message. Only while nothing waits in the
    queues, so that none is put twice. How many.
    """
    if queue.waiting():
        return 0
    with connected(settings.database) as connection:
        waiting = jobs.queued(connection)
    for job_id in waiting:
        queue.put(job_id)
    return len(waiting)
