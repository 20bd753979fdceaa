"""Where the tests write: into memory where there is room for it.

Every commit waits until it is on the disk, as it has to; thousands of them in a test run would be a
quarter of its time. Nothing here is to outlive the run.
"""

from __future__ import annotations

import os
import shutil
import tempfile
from pathlib import Path

from norvik.storage import reserve

#: The file system in memory that Linux has, where it has one.
_MEMORY = Path("/dev/shm")
#: A run holds 0.4 GB at most at one time; under 5 GiB the product begins to speak of little room.
_ROOM_BYTES, _MEMORY_BYTES = 8 * 10**9, 8 * 10**9
#: Sixteen times as much in each of a thousand data folders would prove nothing more.
reserve.BYTES = 1 << 20


def _free_memory() -> int:
    try:
        told = Path("/proc/meminfo").read_text().split("MemAvailable:")[1]
        return int(told.split()[0]) * 1024
    except (OSError, IndexError, ValueError):
        return 0


def _use_memory() -> None:
    if "TMPDIR" in os.environ or not os.access(_MEMORY, os.W_OK):
        return
    if shutil.disk_usage(_MEMORY).free < _ROOM_BYTES or _free_memory() < _MEMORY_BYTES:
        return
    folder = _MEMORY / f"norvik-tests-{os.getuid()}"
    folder.mkdir(mode=0o700, exist_ok=True)
    # For this process, and for those that it starts.
    tempfile.tempdir = os.environ["TMPDIR"] = str(folder)


_use_memory()
