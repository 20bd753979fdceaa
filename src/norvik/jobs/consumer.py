"""Taking jobs from queues, several in one process."""

from __future__ import annotations

import signal
import threading
from collections.abc import Iterable
from types import FrameType

from huey.api import Huey
from huey.consumer import Consumer


class QuietConsumer(Consumer):
    """Takes the jobs of one queue; the process's signals are not its to answer.

    Several consumers run in one process. Each would put its own answer to a signal in the place of
    the others', and a signal that came between would stop one of them and leave the rest.
    """

    def _set_signal_handlers(self) -> None:
        pass


def told_to_stop() -> threading.Event:
    """Set when this process is told to stop. Call it in the process's first thread."""
    stop = threading.Event()

    def told(_signal: int, _frame: FrameType | None) -> None:
        stop.set()

    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, told)
    return stop


def consumers_of(hueys: Iterable[Huey]) -> list[QuietConsumer]:
    """One job at a time from each: an encoder fills the cores by itself."""
    return [
        QuietConsumer(huey, workers=1, periodic=False, initial_delay=0.05, max_delay=0.2)
        for huey in hueys
    ]
