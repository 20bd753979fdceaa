"""The queues carry job numbers from web to worker; the jobs table holds everything else.

huey loses a running task when its worker is killed. Our own row with a heartbeat does not, so
the queues may be emptied or delivered twice at any time without harm. Quick jobs have a queue of
their own, so that none of them waits behind a long one, and so has what only the machine with the
database can do.
"""

from __future__ import annotations

import logging
from collections.abc import Callable, Sequence
from typing import Any

import msgspec
from huey import RedisHuey, SqliteHuey
from huey.api import Huey
from huey.registry import Message
from huey.serializer import Serializer
from huey.storage import RedisStorage
from redis.exceptions import RedisError

from norvik.jobs.kinds import queue_of
from norvik.settings import Settings
from norvik.store import jobs
from norvik.store.connection import connected

log = logging.getLogger(__name__)

#: Which queues there are. Workers on other machines serve the first two.
QUICK, LONG, HOUSE = "quick", "long", "house"
NAMES = (QUICK, LONG, HOUSE)


class PlainSerializer(Serializer):
    """Messages as MessagePack: whoever can write into the queue cannot make a worker run code."""

    def _serialize(self, data: Any) -> bytes:
        return msgspec.msgpack.encode(tuple(data) if isinstance(data, Message) else data)

    def _deserialize(self, data: bytes) -> Any:
        found = msgspec.msgpack.decode(data)
        return Message(*found) if isinstance(found, list) else found


def open_huey(settings: Settings, name: str, immediate: bool = False) -> Huey:
    """One queue by its name: on Redis where the settings say so, else in the data folder."""
    common = {"immediate": immediate, "results": False, "serializer": PlainSerializer()}
    if settings.queue_at:
        return RedisHuey(f"norvik-{name}", url=settings.queue_at, **common)
    return SqliteHuey(f"norvik-{name}", filename=str(settings.queue), fsync=True, **common)


def close_huey(huey: Huey) -> None:
    """End its connections; a queue in a file ends them by itself."""
    if isinstance(huey.storage, RedisStorage):
        huey.storage.pool.disconnect()


def task_of(huey: Huey, run: Callable[[int], None]) -> Callable[[int], object]:
    """What sends a job's number. run: gets it, where the queue is served.

    Made here for everybody: the name under which a message finds its work is that of this module.
    """

    def run_job(job_id: int) -> None:
        run(job_id)

    return huey.task(name="run_job")(run_job)


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
        self._hueys = {name: open_huey(settings, name, immediate) for name in NAMES}

        def run_job(job_id: int) -> None:
            following = run(settings, job_id)
            if following is not None:
                self.put(following)

        self._tasks = {name: task_of(huey, run_job) for name, huey in self._hueys.items()}

    def hueys(self, names: Sequence[str] = NAMES) -> list[Huey]:
        return [self._hueys[name] for name in names]

    def waiting(self) -> int:
        """Messages that no worker has taken yet."""
        return sum(huey.pending_count() for huey in self._hueys.values())

    def close(self) -> None:
        for huey in self._hueys.values():
            close_huey(huey)

    def put(self, job_id: int) -> None:
        """Send the number of a job that stands in its table. Where the queue does not answer, the
        worker finds it there.
        """
        with connected(self._settings.database) as connection:
            kind = jobs.by_id(connection, job_id).kind
        try:
            self._tasks[queue_of(kind)](job_id)
        except RedisError:
            log.warning("job %d is not sent yet: the queue does not answer", job_id)
