"""Answering workers away, in the process of the worker beside the database."""

from __future__ import annotations

import fcntl
import logging
import os
import time

from huey.consumer import Consumer

from norvik.away.clerk import Clerk
from norvik.away.messages import open_messages
from norvik.jobs.consumer import consumers_of
from norvik.jobs.queue import JobQueue
from norvik.jobs.worker import Rounds
from norvik.settings import Settings

log = logging.getLogger(__name__)

#: Seconds between two looks at the board.
_BOARD_S = 0.5
#: Seconds that what was said meanwhile is listened to before jobs are missed.
_CATCH_UP_S = 30.0
_WAIT_S = 0.1


def serve_away(settings: Settings, queue: JobQueue, rounds: Rounds) -> list[Consumer]:
    """Serve the desk, and hear first what was said while nobody listened.

    Gives what serves it; nothing where another process beside this database does.
    """
    if not _alone(settings):
        log.warning("another worker beside this database answers those away")
        return []
    clerk = Clerk(settings, queue.put)
    huey, _ = open_messages(settings, clerk.hear)
    desk = consumers_of([huey])[0]
    desk.start()
    until = time.monotonic() + _CATCH_UP_S
    while huey.pending_count() and time.monotonic() < until:
        time.sleep(_WAIT_S)
    clerk.look()
    rounds.every(_BOARD_S, "looking at the board", clerk.look)
    return [desk]


def _alone(settings: Settings) -> bool:
    """One process answers: what a worker says stays in its order. The lock ends with it."""
    descriptor = os.open(settings.data / "desk.lock", os.O_CREAT | os.O_WRONLY, 0o600)
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        os.close(descriptor)
        return False
    return True
