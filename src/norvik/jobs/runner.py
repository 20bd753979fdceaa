"""Runs one job: claims it, does its work, and gives its end a name."""

from __future__ import annotations

import logging
import secrets
import sqlite3
import time
from collections.abc import Callable
from contextlib import nullcontext

from norvik.core.errors import NorvikError
from norvik.files.opened import footage_of
from norvik.jobs import booking
from norvik.jobs.desk import Desk
from norvik.jobs.kinds import HOUSE_KINDS, KINDS
from norvik.jobs.report import HouseReport, JobReport, Pulse
from norvik.jobs.turn import TURN
from norvik.settings import Settings
from norvik.store import jobs
from norvik.store.connection import connected
from norvik.work.kinds import WORK
from norvik.work.place import Place
from norvik.work.report import JobCancelled, JobGivesWay, JobLost
from norvik.work_names import PREPARE

log = logging.getLogger(__name__)


class HouseDesk:
    """The desk in the room: says everything to the database at once."""

    def __init__(
        self, connection: sqlite3.Connection, settings: Settings, job_id: int, by: str
    ) -> None:
        self._connection, self._settings = connection, settings
        self._job_id, self._by = job_id, by

    def tell(self, doing: str, progress: float | None) -> str:
        return jobs.tell(self._connection, self._job_id, time.time(), doing, progress, self._by)

    def beat(self) -> None:
        with connected(self._settings.database) as own:
            jobs.beat(own, self._job_id, time.time(), self._by)

    def copy_waits(self) -> bool:
        return jobs.waiting_of(self._connection, PREPARE)

    def part(self, part: object) -> None:
        booking.keep_part(self._connection, self._settings, self._job_id, self._by, part)

    def done(self, result: object) -> int | None:
        return booking.done(self._connection, self._settings, self._job_id, self._by, result)

    def ended(self, how: str, sentence: str) -> None:
        booking.ended(self._connection, self._settings, self._job_id, self._by, how, sentence)

    def gave_way(self) -> int | None:
        return booking.gave_way(self._connection, self._job_id, self._by)


def run_job(settings: Settings, job_id: int) -> int | None:
    """Do a queued job. Returns the number of a job that goes on from there, if there is one.

    A job that is gone or taken by another worker is left alone.
    """
    by = secrets.token_hex(8)
    with connected(settings.database) as connection:
        waiting = jobs.find(connection, job_id)
        if waiting is None:
            return None
        desk = HouseDesk(connection, settings, job_id, by)
        if waiting.kind in HOUSE_KINDS:
            job = jobs.claim(connection, job_id, time.time(), by)
            if job is None:
                return None
            work, report = HOUSE_KINDS[job.kind].work, HouseReport(desk, connection)
            return work_through(desk, job_id, job.kind, lambda: work(settings, job, report))
        taken = booking.take(connection, settings, job_id, by)
        if taken is None:
            return None
        return work_on(desk, taken.job.kind, job_id, taken.order, settings)


def work_on(desk: Desk, kind: str, job_id: int, order: object, settings: Settings) -> int | None:
    """Do the work of a job that was claimed with its order."""
    quick = KINDS[kind].quick
    place = Place(footage_of(settings), settings.work)
    report = JobReport(desk, gives_way=not quick)
    with TURN.quick() if quick else nullcontext():
        return work_through(desk, job_id, kind, lambda: WORK[kind].do(order, place, report))


def work_through(desk: Desk, job_id: int, kind: str, work: Callable[[], object]) -> int | None:
    """Do work, and say how it ended."""
    with Pulse(job_id, desk.beat):
        try:
            result = work()
        except JobCancelled:
            desk.ended("cancelled", "")
        except JobGivesWay:
            return desk.gave_way()
        except JobLost:
            log.warning("job %d (%s) was given to another worker", job_id, kind)
        except NorvikError as error:
            desk.ended("failed", error.sentence)
        except Exception:
            log.exception("job %d (%s) failed", job_id, kind)
            desk.ended("broke", booking.SORRY)
        else:
            return desk.done(result)
    return None


def run_through(settings: Settings, job_id: int) -> None:
    """Do a job and all that follow from it, here and now."""
    following: int | None = job_id
    while following is not None:
        following = run_job(settings, following)
