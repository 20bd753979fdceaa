"""The queues carry job numbers from web to worker; the jobs table holds everything else.

huey loses a running task when its worker is killed. Our own row with a heartbeat does not, so
the queues may be emptied or delivered twice at any time without harm. Quick jobs have a queue of
their own, so that none of them waits behind a long one.
"""

from __future__ import annotations

from collections.abc import Callable

from huey import SqliteHuey
from huey.api import Huey

from norvik.jobs.kinds import KINDS
from norvik.settings import Settings
from norvik.store import jobs
from norvik.store.connection import connected


class JobQueue:
    """Hands job numbers to `run`, which may return the number of a job that follows.

    immediate: do the work at once in this thread (tests).
    """

    def __init__(
        self,
        settings: Settings,
        run: Callable[[Settings, int], int | None],
        immediate: bool = False,
    ) -> None:
        self._settings = settings
        self.immediate = immediate
        self.quick, self.long = (
            SqliteHuey(
                f"norvik-{name}",
                filename=str(settings.queue),
                immediate=immediate,
                results=False,
                fsync=True,
            )
            for name in ("quick", "long")
        )

        def run_job(job_id: int) -> None:
            following = run(settings, job_id)
            if following is not None:
                self.put(following)

        self._tasks = {
            quick: huey.task(name="run_job")(run_job)
            for quick, huey in ((True, self.quick), (False, self.long))
        }

    @property
    def hueys(self) -> tuple[Huey, Huey]:
        return self.quick, self.long

    def waiting(self) -> int:
        """Messages that no worker has taken yet."""
        return sum(huey.pending_count() for huey in self.hueys)

    def put(self, job_id: int) -> None:
        with connected(self._settings.database) as connection:
            kind = jobs.by_id(connection, job_id).kind
        self._tasks[KINDS[kind].quick](job_id)
