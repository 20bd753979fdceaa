"""The worker on another machine: takes jobs from Redis, films from the footage store."""

from __future__ import annotations

import logging
import os
import socket
import threading
import time
from collections.abc import Callable

import msgspec
from redis.exceptions import RedisError

from norvik.away import same_store, wire
from norvik.away.board import Board, new_token
from norvik.away.desk import AwayDesk
from norvik.away.messages import open_messages
from norvik.core.errors import FootageError, NorvikError
from norvik.files.bucket import BucketFootage
from norvik.files.opened import footage_of
from norvik.jobs.consumer import consumers_of, told_to_stop
from norvik.jobs.queue import LONG, QUICK, close_huey, open_huey, task_of
from norvik.jobs.runner import work_on
from norvik.settings import Settings
from norvik.work.kinds import WORK

log = logging.getLogger(__name__)

#: Seconds that the house is waited for before a job is left to others.
_ANSWER_S = 20.0
_LOOK_S = 0.25
_PAUSE_S = 5.0
#: Seconds that the house is waited for at the start.
_HOUSE_S = 120.0
_SHOW_S = 3.0
_TRIM_S = 600.0


class AwayWorker:
    """One worker: jobs in hand, and how to speak of them."""

    def __init__(self, settings: Settings) -> None:
        self._settings = settings
        self.name = f"{socket.gethostname()}-{os.getpid()}"
        self.board = Board(settings.queue_at)
        self._messages, self._send = open_messages(settings, hear=lambda _: None)
        self.hueys = [open_huey(settings, name) for name in (QUICK, LONG)]
        self._again: dict[str, Callable[[int], object]] = {}
        for huey in self.hueys:
            self._again[huey.name] = task_of(huey, self._running(huey.name))
        self._in_hand: set[AwayDesk] = set()

    def close(self) -> None:
        for huey in (*self.hueys, self._messages):
            close_huey(huey)
        self.board.close()

    def check_store(self) -> None:
        """Raises FootageError where this machine does not see the films of the house."""
        meant = self.board.store()
        if not meant:
            raise FootageError(
                "The main machine has not reported yet where its films are. Start norvik worker "
                "beside the database first, with the same NORVIK_QUEUE."
            )
        if same_store.found(footage_of(self._settings)) != meant:
            raise FootageError(
                f"The films of the house do not lie in {self._settings.footage}. Is it mounted, "
                "and does NORVIK_FOOTAGE name the same place on both machines?"
            )

    def hand_back(self) -> None:
        """Give back what is in hand, because this worker was told to stop."""
        for desk in list(self._in_hand):
            desk.hand_back()
        self.board.gone(self.name)

    def _running(self, queue: str) -> Callable[[int], None]:
        def run_job(job_id: int) -> None:
            try:
                self.run(job_id)
            except NoAnswerError:
                log.warning("job %d cannot be had; its number goes back", job_id)
                self._again[queue](job_id)
                # Others may be better off: they get it first.
                time.sleep(_PAUSE_S)

        return run_job

    def run(self, job_id: int) -> None:
        """Ask the house for a job and do it. Raises NoAnswerError; the job stays as it is then."""
        try:
            self.check_store()
        except NorvikError as error:
            log.error("%s", error.sentence)
            raise NoAnswerError from error
        token = new_token()
        self._send(wire.Ask(job_id, token, self.name))
        given = self.board.wait_for_answer(token, _ANSWER_S)
        if given is None:
            raise NoAnswerError
        if not given.kind:
            return
        desk = AwayDesk(self.board, self._send, job_id, token)
        try:
            order = wire.unpack(given.order, WORK[given.kind].order)
        except (msgspec.MsgspecError, KeyError, ValueError):
            log.exception("an order cannot be read; are all of one version?")
            desk.hand_back()
            time.sleep(_PAUSE_S)
            return
        self._in_hand.add(desk)
        try:
            work_on(desk, given.kind, job_id, order, self._settings)
        finally:
            self._in_hand.discard(desk)


def _wait_for_house(worker: AwayWorker, stop: threading.Event) -> None:
    """Machines come up in any order."""
    until = time.monotonic() + _HOUSE_S
    if not worker.board.store():
        log.warning("waiting for the worker beside the database")
    while not worker.board.store() and time.monotonic() < until and not stop.wait(_LOOK_S):
        pass


class NoAnswerError(Exception):
    """Raised where a job cannot be had just now."""


def run_away_worker(settings: Settings, with_parent: bool = False) -> None:
    """Work until told to stop; what is under way then goes back into the queue.

    Raises FootageError where this machine does not see the films of the house.
    """
    parent = os.getppid()
    stop = told_to_stop()
    settings.work.mkdir(parents=True, exist_ok=True)
    worker = AwayWorker(settings)
    _wait_for_house(worker, stop)
    if stop.is_set():
        return
    worker.check_store()
    consumers = consumers_of(worker.hueys)
    for consumer in consumers:
        consumer.start()
    shown = trimmed = 0.0
    while not stop.wait(_LOOK_S):
        if with_parent and os.getppid() != parent:
            break
        shown, trimmed = shown - _LOOK_S, trimmed - _LOOK_S
        if shown <= 0:
            shown = _SHOW_S
            try:
                worker.board.here(worker.name)
            except RedisError:
                log.warning("the queue does not answer; trying again")
            for consumer in consumers:
                consumer.check_worker_health()
        if trimmed <= 0:
            trimmed = _TRIM_S
            footage = footage_of(settings)
            if isinstance(footage, BucketFootage):
                footage.trim()
    for consumer in consumers:
        consumer.stop()
    worker.hand_back()
