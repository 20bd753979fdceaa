"""What work says while it goes on, and the three ways in which it is told to end."""

from __future__ import annotations

from typing import Protocol


class JobCancelled(Exception):
    """Raised inside a job at its next report after somebody asked to cancel it."""


class JobLost(Exception):
    """Raised inside a job at its next report when it was given to another worker meanwhile."""


class JobGivesWay(Exception):
    """Raised inside a job that lets a more urgent one go before it; it is queued again behind."""


class Report(Protocol):
    """Raises JobCancelled or JobLost from any of its calls."""

    def __call__(self, doing: str, done: int, of: int | None) -> None:
        """Tell how much is done. Cheap to call for every frame."""

    def part(self, part: object) -> None:
        """Hand over what is finished already, while the rest goes on."""

    def copy_waits(self) -> bool:
        """Does a review copy wait that nobody has begun?"""
