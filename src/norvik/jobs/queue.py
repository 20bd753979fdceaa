"""The queue carries job numbers from web to worker; the jobs table holds everything else.

huey loses a running task when its worker is killed. Our own row with a heartbeat does not, so
the queue may be emptied or delivered twice at any time without harm.
"""

from __future__ import annotations

from collections.abc import Callable

from huey import SqliteHuey
from huey.api import Huey

from norvik.settings import Settings


class JobQueue:
    """Hands job numbers to `run`. immediate: do the work at once in this thread (tests)."""

    def __init__(
        self, settings: Settings, run: Callable[[Settings, int], None], immediate: bool = False
    ) -> None:
        self.huey: Huey = SqliteHuey(
            "norvik", filename=str(settings.queue), immediate=immediate, results=False
        )
        self.immediate = immediate

        @self.huey.task(name="run_job")
        def run_job(job_id: int) -> None:
            run(settings, job_id)

        self._run_job = run_job

    def put(self, job_id: int) -> None:
        self._run_job(job_id)
