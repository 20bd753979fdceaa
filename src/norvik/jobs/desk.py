"""What a worker says of one job to whoever keeps the jobs, in the room or across a network."""

from __future__ import annotations

from typing import Protocol


class Desk(Protocol):
    """One job in one worker's hands. What it says after the job was given to another is not heard.

    Numbers that are given back are of jobs that go on from there, for whoever puts them into the
    queue.
    """

    def tell(self, doing: str, progress: float | None) -> str:
        """How far it is, 0 to 1; gives "go on", "cancel" or "lost"."""

    def beat(self) -> None:
        """The worker lives. Called from a thread of its own."""

    def copy_waits(self) -> bool:
        """Does a review copy wait that nobody has begun?"""

    def part(self, part: object) -> None:
        """Keep what is finished already."""

    def done(self, result: object) -> int | None:
        """It is whole."""

    def ended(self, how: str, sentence: str) -> None:
        """It came to another end. how: "cancelled", "failed" or "broke"."""

    def gave_way(self) -> int | None:
        """It lets another one go first, and is queued again behind."""
