"""How a job tells how far it is, and hears that it should stop."""

from __future__ import annotations

import sqlite3
import time

from norvik.store import jobs

#: Seconds between two writes of progress; also the heartbeat.
EVERY_S = 0.4


class JobCancelled(Exception):
    """Raised inside a job at its next report after somebody asked to cancel it."""


class Report:
    def __init__(self, connection: sqlite3.Connection, job_id: int) -> None:
        self.connection = connection
        self._job_id = job_id
        self._last = 0.0

    def __call__(self, doing: str, done: int, of: int | None) -> None:
        """Tell how much is done. Cheap to call for every frame. Raises JobCancelled."""
        now = time.monotonic()
        if now - self._last < EVERY_S:
            return
        self._last = now
        progress = min(1.0, done / of) if of else None
        if not jobs.beat(self.connection, self._job_id, time.time(), doing, progress):
            raise JobCancelled
