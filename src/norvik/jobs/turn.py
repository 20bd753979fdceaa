"""Whose turn it is on the machine: somebody waits for a quick job, nobody for a long one."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager


class Turn:
    """Counts quick jobs under way in this process; long ones pause meanwhile."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._quick = 0

    @contextmanager
    def quick(self) -> Iterator[None]:
        with self._lock:
            self._quick += 1
        try:
            yield
        finally:
            with self._lock:
                self._quick -= 1

    @property
    def taken(self) -> bool:
        return self._quick > 0


TURN = Turn()
