"""How a job tells how far it is, hears that it should stop, and shows that its worker lives.

Three signals, apart from each other: progress comes when there is some; the pulse beats also
through a step that reports nothing for minutes; only somebody's wish cancels a job.
"""

from __future__ import annotations

import sqlite3
import threading
import time
from typing import ClassVar

from norvik.jobs.turn import TURN
from norvik.settings import Settings
from norvik.store import jobs
from norvik.store.connection import connected

#: Seconds between two writes of progress.
EVERY_S = 0.4
#: Seconds between two beats of the pulse.
PULSE_S = 2.0
_PAUSE_S = 0.02


class JobCancelled(Exception):
    """Raised inside a job at its next report after somebody asked to cancel it."""


class JobLost(Exception):
    """Raised inside a job at its next report when it was given to another worker meanwhile."""


class JobGivesWay(Exception):
    """Raised inside a job that lets a more urgent one go before it; it is queued again behind."""


class Pulse:
    """Beats for a job from a thread of its own, over a connection of its own.

    While it beats, `alive` holds the job's number: its own process never takes it for dead, also
    when the whole machine slept.
    """

    alive: ClassVar[set[int]] = set()

    def __init__(self, settings: Settings, job_id: int, every_s: float = PULSE_S) -> None:
        self._settings, self._job_id, self._every_s = settings, job_id, every_s
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._beat, daemon=True, name=f"pulse-{job_id}")

    def __enter__(self) -> None:
        Pulse.alive.add(self._job_id)
        self._thread.start()

    def __exit__(self, *_: object) -> None:
        self._stop.set()
        self._thread.join()
        Pulse.alive.discard(self._job_id)

    def _beat(self) -> None:
        while not self._stop.wait(self._every_s):
            try:
                with connected(self._settings.database) as connection:
                    jobs.beat(connection, self._job_id, time.time())
            except sqlite3.Error:
                continue  # a busy or full disk passes; the next beat comes soon


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
        answer = jobs.tell(self.connection, self._job_id, time.time(), doing, progress)
        if answer == "cancel":
            raise JobCancelled
        if answer == "lost":
            raise JobLost
