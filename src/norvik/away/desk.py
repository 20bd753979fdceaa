"""A worker's side: says everything of one job over Redis."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from threading import Lock

from redis.exceptions import RedisError

from norvik.away import wire
from norvik.away.board import Board

Send = Callable[[wire.Message], None]


class AwayDesk:
    """See jobs/desk.py. Nothing is given back: the house puts what follows into the queue."""

    def __init__(self, board: Board, send: Send, job_id: int, token: str) -> None:
        self._board, self._send = board, send
        self._job_id, self._token = job_id, token
        self._lock = Lock()
        self._pulse = wire.Pulse("", None)
        self._over = False
        with suppress(RedisError):
            self.beat()

    def tell(self, doing: str, progress: float | None) -> str:
        self._pulse = wire.Pulse(doing, progress)
        try:
            self.beat()
            return self._board.told_to_stop(self._token)
        except RedisError:
            return "go on"  # a line that is down for a moment; what has changed is heard later

    def beat(self) -> None:
        with self._lock:
            if not self._over:
                self._board.beat(self._job_id, self._token, self._pulse)

    def copy_waits(self) -> bool:
        try:
            return self._board.copies_wait()
        except RedisError:
            return False

    def part(self, part: object) -> None:
        self._send(wire.Part(self._job_id, self._token, wire.pack(part)))

    def done(self, result: object) -> None:
        self._last(wire.Done(self._job_id, self._token, wire.pack(result)))

    def ended(self, how: str, sentence: str) -> None:
        self._last(wire.Ended(self._job_id, self._token, how, sentence))

    def gave_way(self) -> None:
        self._last(wire.GaveWay(self._job_id, self._token))

    def hand_back(self) -> None:
        """The worker was told to stop."""
        self._last(wire.GaveWay(self._job_id, self._token, stopping=True))

    def _last(self, message: wire.Message) -> None:
        """One end and no more; nobody beats for it afterwards."""
        with self._lock:
            if self._over:
                return
            self._over = True
        self._send(message)
        with suppress(RedisError):
            self._board.no_more(self._job_id, self._token)
