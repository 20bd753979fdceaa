"""Holding still: while a backup copies files, none that the database knew is removed.

A lock of the operating system, which ends with the process that holds it. Whoever wants to remove
files asks; what stays is noted in the database and removed at the next look.
"""

from __future__ import annotations

import fcntl
from collections.abc import Iterator
from contextlib import contextmanager

from norvik.settings import Settings


@contextmanager
def held_still(settings: Settings) -> Iterator[None]:
    """Nothing is removed inside. Waits until a removal under way is done."""
    with (settings.data / "backup.lock").open("w") as file:
        fcntl.flock(file, fcntl.LOCK_SH)
        yield


@contextmanager
def may_remove(settings: Settings) -> Iterator[bool]:
    """Gives whether files may be removed now; while inside no backup begins."""
    with (settings.data / "backup.lock").open("w") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            yield False
            return
        yield True
