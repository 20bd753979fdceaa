"""Taking jobs from queues, several in one process."""

from __future__ import annotations

from collections.abc import Iterable

from huey.api import Huey
from huey.consumer import Consumer


class QuietConsumer(Consumer):
    """Takes the jobs of one queue; the process's signals are not its to answer.

    Several consumers run in one process. Each would put its own answer to a signal in the place of
    the others', and a signal that came between would stop one of them and leave the rest.
    """

    def _set_signal_handlers(self) -> None:
        pass


def consumers_of(hueys: Iterable[Huey]) -> list[QuietConsumer]:
    """One job at a time from each: an encoder fills the cores by itself."""
    return [
        QuietConsumer(huey, workers=1, periodic=False, initial_delay=0.05, max_delay=0.2)
        for huey in hueys
    ]
