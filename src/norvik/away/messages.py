"""The queue by which workers away speak to the house."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable

from huey.api import Huey
from redis.exceptions import RedisError

from norvik.away import wire
from norvik.jobs.queue import open_huey
from norvik.settings import Settings

log = logging.getLogger(__name__)

#: Seconds for which a message is tried again while Redis does not answer.
_TRIED_S = 300.0
_AGAIN_S = 2.0


def open_messages(
    settings: Settings, hear: Callable[[bytes], None]
) -> tuple[Huey, Callable[[wire.Message], None]]:
    """The queue, and what sends a message. hear: gets each one, where the queue is served."""
    huey = open_huey(settings, "desk")

    def heard(packed: bytes) -> None:
        hear(packed)

    put = huey.task(name="heard")(heard)

    def send(message: wire.Message) -> None:
        packed, began = wire.pack(message), time.monotonic()
        while True:
            try:
                put(packed)
                return
            except RedisError:
                if time.monotonic() - began > _TRIED_S:
                    raise
                log.warning("the queue does not answer; trying again")
                time.sleep(_AGAIN_S)

    return huey, send
