"""Reading new clips while the machine has nothing else to do."""

from __future__ import annotations

from norvik.jobs.queue import JobQueue
from norvik.settings import Settings
from norvik.store import clips, club, jobs, readings
from norvik.store.connection import connected
from norvik.work_names import READ
from norvik.workflow.reading import ask_to_read


def read_when_idle(settings: Settings, queue: JobQueue) -> int | None:
    """Ask for the newest clip that was never read; the number of the job, or None.

    Nothing is asked for while any job waits or is under way, where the club does not want it, and
    of a clip on which it failed or was stopped before.
    """
    with connected(settings.database) as connection:
        if not club.reads_films(connection) or jobs.any_active(connection):
            return None
        clip_id = readings.next_unread(connection, READ)
        if clip_id is None:
            return None
        job_id = ask_to_read(connection, clips.by_id(connection, clip_id))
    if job_id is not None:
        queue.put(job_id)
    return job_id
