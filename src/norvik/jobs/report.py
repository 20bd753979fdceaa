"""How a job tells how far it is, hears that it should stop, and shows that its worker lives.

Three signals, apart from each other: progress comes when there is some; the pulse beats also
through a step that reports nothing for minutes; only somebody's wish cancels a job.
"""

from __future__ import annotations

import logging
import sqlite3
import threading
import time
from collections.abc import Callable
from typing import ClassVar

from norvik.jobs.desk import Desk
from norvik.jobs.turn import TURN
from norvik.work.report import JobCancelled, JobLost

log = logging.getLogger(__name__)

#: Seconds between two writes of progress.
EVERY_S = 0.4
#: Seconds between two beats of the pulse.
PULSE_S = 2.0
_PAUSE_S = 0.02


class Pulse:
    """Beats for a job from a thread of its own.

    While it beats, `alive` holds the job's number: its own process never takes it for dead, also
    when the whole machine slept.
    """

    alive: ClassVar[set[int]] = set()

    def __init__(self, job_id: int, beat: Callable[[], None], every_s: float = PULSE_S) -> None:
        self._job_id, self._tell, self._every_s = job_id, beat, every_s
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
                self._tell()
            except Exception:
                # A busy disk or a line that is down passes; the next beat comes soon.
                log.debug("a beat for job %d was not heard", self._job_id, exc_info=True)


class JobReport:
    """What work says, by way of a desk. gives_way: pauses while a quick job is under way here."""

    def __init__(self, desk: Desk, gives_way: bool = False) -> None:
        self._desk = desk
        self._gives_way = gives_way
        self._last = 0.0

    def __call__(self, doing: str, done: int, of: int | None) -> None:
        """Tell how much is done. Cheap to call for every frame. Raises JobCancelled, JobLost."""
        self._tell(doing, done, of)
        while self._gives_way and TURN.taken:
            time.sleep(_PAUSE_S)
            self._tell(doing, done, of)

    def part(self, part: object) -> None:
        self._desk.part(part)

    def copy_waits(self) -> bool:
        return self._desk.copy_waits()

    def _tell(self, doing: str, done: int, of: int | None) -> None:
        now = time.monotonic()
        if now - self._last < EVERY_S:
            return
        self._last = now
        answer = self._desk.tell(doing, min(1.0, done / of) if of else None)
        if answer == "cancel":
            raise JobCancelled
        if answer == "lost":
            raise JobLost


class HouseReport(JobReport):
    """For work on the database itself. connection: to it."""

    def __init__(self, desk: Desk, connection: sqlite3.Connection, gives_way: bool = True) -> None:
        super().__init__(desk, gives_way)
        self.connection = connection
