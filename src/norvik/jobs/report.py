"""How a job tells how far it is, and hears that it should stop."""

from __future__ import annotations

import sqlite3
import time

from norvik.jobs.turn import TURN
from norvik.store import jobs

#: Seconds between two writes of progress; also the heartbeat.
EVERY_S = 0.4
_PAUSE_S = 0.02


class JobCancelled(Exception):
    """Raised inside a job at its next report after somebody asked to cancel it."""


class Report:
    """gives_way: the job pauses in its reports while a quick job is under way."""

    def __init__(
        self, connection: sqlite3.Connection, job_id: int, gives_way: bool = False
    ) -> None:
        self.connection = connection
        self._job_id = job_id
        self._gives_way = gives_way
        self._last = 0.0

    def __call__(self, doing: str, done: int, of: int | None) -> None:
        """Tell how much is done. Cheap to call for every frame. Raises JobCancelled."""
        self._tell(doing, done, of)
        while self._gives_way and TURN.taken:
            time.sleep(_PAUSE_S)
            self._tell(doing, done, of)

    def _tell(self, doing: str, done: int, of: int | None) -> None:
        now = time.monotonic()
        if now - self._last < EVERY_S:
            return
        self._last = now
        progress = min(1.0, done / of) if of else None
        if not jobs.beat(self.connection, self._job_id, time.time(), doing, progress):
            raise JobCancelled
