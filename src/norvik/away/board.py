"""What stands on Redis for a while: who works on what, who is to stop, answers on their way.

Everything on it ends by itself, so that a machine that is gone leaves nothing, and no two clocks
are ever compared: what still stands is fresh.
"""

from __future__ import annotations

import secrets
from collections.abc import Iterator

import redis

from norvik.away import wire

#: Seconds: a worker writes every two.
PULSE_LASTS_S = 8
_STOP_LASTS_S = 120
_ANSWER_LASTS_S = 60
_COPIES_LASTS_S = 5
_WORKER_LASTS_S = 10
_KEY = "norvik"


class Board:
    """at: redis://... or rediss://..., with a password."""

    def __init__(self, at: str) -> None:
        self._redis = redis.Redis.from_url(at, socket_timeout=30, socket_connect_timeout=5)

    def close(self) -> None:
        self._redis.close()

    def answers(self) -> bool:
        return bool(self._redis.ping())

    def beat(self, job_id: int, token: str, pulse: wire.Pulse) -> None:
        self._redis.set(f"{_KEY}:pulse:{job_id}:{token}", wire.pack(pulse), ex=PULSE_LASTS_S)

    def no_more(self, job_id: int, token: str) -> None:
        self._redis.delete(f"{_KEY}:pulse:{job_id}:{token}")

    def beating(self) -> Iterator[tuple[int, str, wire.Pulse]]:
        """Job, token and pulse of everybody who works just now."""
        for key in self._redis.scan_iter(f"{_KEY}:pulse:*", count=500):
            packed = self._redis.get(key)
            if packed is not None:
                _, _, job_id, token = key.decode().split(":")
                yield int(job_id), token, wire.unpack(_bytes(packed), wire.Pulse)

    def tell_to_stop(self, token: str, why: str) -> None:
        """why: "cancel" or "lost"."""
        self._redis.set(f"{_KEY}:stop:{token}", why, ex=_STOP_LASTS_S)

    def told_to_stop(self, token: str) -> str:
        """ "go on", "cancel" or "lost"."""
        found = self._redis.get(f"{_KEY}:stop:{token}")
        return _bytes(found).decode() if found else "go on"

    def answer(self, token: str, given: wire.Given) -> None:
        key = f"{_KEY}:answer:{token}"
        self._redis.rpush(key, wire.pack(given))
        self._redis.expire(key, _ANSWER_LASTS_S)

    def wait_for_answer(self, token: str, seconds: float) -> wire.Given | None:
        """None when nobody answered in that time."""
        found = self._redis.blpop([f"{_KEY}:answer:{token}"], timeout=seconds)
        return wire.unpack(_bytes(found[1]), wire.Given) if found else None

    def say_copies_wait(self) -> None:
        self._redis.set(f"{_KEY}:copies-wait", "1", ex=_COPIES_LASTS_S)

    def copies_wait(self) -> bool:
        return bool(self._redis.exists(f"{_KEY}:copies-wait"))

    def set_store(self, mark: str) -> None:
        """Say which footage store is meant; see same_store.py."""
        self._redis.set(f"{_KEY}:store", mark)

    def store(self) -> str:
        found = self._redis.get(f"{_KEY}:store")
        return _bytes(found).decode() if found else ""

    def here(self, worker: str) -> None:
        """A worker shows itself."""
        self._redis.set(f"{_KEY}:worker:{worker}", "1", ex=_WORKER_LASTS_S)

    def gone(self, worker: str) -> None:
        self._redis.delete(f"{_KEY}:worker:{worker}")

    def workers(self) -> list[str]:
        return sorted(
            key.decode().split(":", 2)[2] for key in self._redis.scan_iter(f"{_KEY}:worker:*")
        )


def _bytes(found: bytes | str) -> bytes:
    return found if isinstance(found, bytes) else found.encode()


def new_token() -> str:
    return secrets.token_hex(12)
