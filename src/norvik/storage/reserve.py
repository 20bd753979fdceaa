"""A piece of disk kept free by a file: given up when the disk is full, so that tidying up works."""

from __future__ import annotations

from contextlib import suppress

from norvik.settings import Settings

#: Own choice: enough for the database to write while a coach empties the trash.
BYTES = 16 << 20
_NAME = "reserve"


def keep(settings: Settings) -> bool:
    """Make the file when there is room for it. True when it is there."""
    path = settings.data / _NAME
    if path.is_file() and path.stat().st_size == BYTES:
        return True
    try:
        with path.open("wb") as file:
            for _ in range(BYTES >> 20):
                file.write(bytes(1 << 20))
    except OSError:
        with suppress(OSError):
            path.unlink(missing_ok=True)
        return False
    return True


def give_up(settings: Settings) -> None:
    """Free the room. It is taken again at the next start."""
    with suppress(OSError):
        (settings.data / _NAME).unlink(missing_ok=True)
