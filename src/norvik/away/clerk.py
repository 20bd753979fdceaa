"""The house's side: hears what workers away say, one thing after the other, and answers."""

from __future__ import annotations

import logging
import sqlite3
import time
from collections.abc import Callable

import msgspec

from norvik.away import same_store, wire
from norvik.away.board import Board
from norvik.core.errors import NorvikError
from norvik.files.bucket import BucketFootage
from norvik.files.opened import footage_of
from norvik.jobs import booking
from norvik.jobs.kinds import KINDS
from norvik.settings import Settings
from norvik.store import jobs
from norvik.store.connection import connected
from norvik.store.jobs import Job
from norvik.work.kinds import WORK
from norvik.work_names import PREPARE

log = logging.getLogger(__name__)


class Clerk:
    """put: sends the number of a job that follows into its queue."""

    def __init__(self, settings: Settings, put: Callable[[int], None]) -> None:
        self._settings, self._put = settings, put
        self._board = Board(settings.queue_at)
        self._store = same_store.mark(footage_of(settings), settings.work)

    def hear(self, packed: bytes) -> None:
        """One message. What cannot be right is logged and left: the job is found silent and tried
        again.
        """
        try:
            message = wire.message(packed)
        except (msgspec.MsgspecError, ValueError):
            log.warning("a message from a worker cannot be read; are all of one version?")
            return
        with connected(self._settings.database) as connection:
            self._heard(connection, message)

    def look(self) -> None:
        """Bring what stands on the board to the database, and the other way round."""
        self._board.set_store(self._store)
        with connected(self._settings.database) as connection:
            for job_id, token, pulse in self._board.beating():
                now = time.time()
                answer = jobs.tell(connection, job_id, now, pulse.doing, pulse.progress, token)
                if answer != "go on":
                    self._board.tell_to_stop(token, answer)
            if jobs.waiting_of(connection, PREPARE):
                self._board.say_copies_wait()

    def _heard(self, connection: sqlite3.Connection, message: wire.Message) -> None:
        job_id, token, settings = message.job_id, message.token, self._settings
        if isinstance(message, wire.Ask):
            taken = booking.take(connection, settings, job_id, token)
            given = wire.Given()
            if taken is not None:
                given = wire.Given(taken.job.kind, wire.pack(taken.order))
            self._board.answer(token, given)
            return
        if isinstance(message, wire.GaveWay):
            self._gave_way(connection, message)
            return
        if isinstance(message, wire.Ended):
            booking.ended(connection, settings, job_id, token, message.how, message.sentence)
            return
        job = jobs.held(connection, job_id, token)
        if job is None:
            return  # given to another worker meanwhile, or ended
        packed = message.part if isinstance(message, wire.Part) else message.result
        try:
            came = wire.unpack(packed, WORK[job.kind].result)
            self._forget_older(job, came)
            if isinstance(message, wire.Part):
                booking.keep_part(connection, settings, job_id, token, came)
                return
        except NorvikError as error:
            booking.ended(connection, settings, job_id, token, "failed", error.sentence)
            return
        except (msgspec.MsgspecError, ValueError):
            log.exception("job %d (%s) came back unreadable", job.id, job.kind)
            booking.ended(connection, settings, job_id, token, "broke", booking.SORRY)
            return
        following = booking.done(connection, settings, job_id, token, came)
        if following is not None:
            self._put(following)

    def _gave_way(self, connection: sqlite3.Connection, message: wire.GaveWay) -> None:
        if jobs.held(connection, message.job_id, message.token) is None:
            return
        if message.stopping:
            jobs.hand_back(connection, message.job_id)
        else:
            jobs.requeue(connection, message.job_id)
        self._put(message.job_id)

    def _forget_older(self, job: Job, came: object) -> None:
        """Files at hand here that the worker has put anew."""
        footage = footage_of(self._settings)
        if isinstance(footage, BucketFootage):
            for name in KINDS[job.kind].written(job, came):
                footage.forget(name)
