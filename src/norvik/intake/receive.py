"""From a stream of bytes to a clip in the library with a job that prepares it."""

from __future__ import annotations

import hashlib
import os
import secrets
import shutil
import sqlite3
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Protocol

from norvik.core.errors import DiskFullError, FootageError
from norvik.footage.frames import Losses, decoded_frames
from norvik.footage.opening import open_footage
from norvik.settings import Settings
from norvik.store import clips, jobs
from norvik.store.clips import Clip, NewClip
from norvik.store.connection import transaction

_CHUNK = 1 << 20
#: Room left on the disk beyond the file itself: its review copy and some air.
_SPARE_BYTES = 64 << 20
_SUFFIXES = (".mp4", ".mov", ".m4v", ".webm", ".mkv", ".avi", ".3gp", ".ts", ".mts")


class _Readable(Protocol):
    def read(self, size: int, /) -> bytes: ...


@dataclass(frozen=True, slots=True)
class Facts:
    """What the coach says of a clip."""

    swimmer_id: int
    stroke: str = "freestyle"
    view: str = "side-under"
    role: str = "before"
    filmed_on: str = ""
    stretch: float = 1.0
    created_by: int | None = None


class AlreadyThere(FootageError):
    """Raised when the very same file is in the library; `clip` is the one that holds it."""

    def __init__(self, clip: Clip) -> None:
        super().__init__(
            f"This very file is in the library already: {clip.swimmer_name}, {clip.filmed_on}."
        )
        self.clip = clip


def clean_name(name: str) -> str:
    """A file name to show: without folders and control characters, at most 120 characters."""
    last = name.replace("\\", "/").rsplit("/", 1)[-1]
    shown = "".join(c for c in last if c.isprintable()).strip()
    if len(shown) > 120:
        shown = shown[:100] + "…" + shown[-19:]
    return shown or "clip"


def receive(
    settings: Settings,
    connection: sqlite3.Connection,
    stream: _Readable | IO[bytes],
    name: str,
    facts: Facts,
    expected_bytes: int | None = None,
) -> tuple[int, int]:
    """Take a file in. Returns the clip's id and the number of the job that will prepare it.

    The bytes go to the disk as they come. A file that ends early, is no footage, or is there
    already raises FootageError and leaves nothing behind.
    """
    settings.prepare()
    _check_room(settings.data, expected_bytes)
    shown = clean_name(name)
    suffix = Path(shown).suffix.lower()
    part = settings.incoming / f"{secrets.token_hex(8)}{suffix if suffix in _SUFFIXES else ''}"
    try:
        sha256, size = _store(stream, part)
        if expected_bytes is not None and size != expected_bytes:
            raise FootageError(
                f"Only {size:,} of {expected_bytes:,} bytes arrived. Send the clip again."
            )
        there = clips.by_checksum(connection, sha256)
        if there is not None:
            raise AlreadyThere(there)
        _check_first_frame(part)
        original = settings.originals / f"{sha256}{part.suffix}"
        os.replace(part, original)
    finally:
        part.unlink(missing_ok=True)
    with transaction(connection):
        clip_id = clips.add(
            connection,
            NewClip(
                swimmer_id=facts.swimmer_id,
                stroke=facts.stroke,
                view=facts.view,
                role=facts.role,
                filmed_on=facts.filmed_on,
                stretch=facts.stretch,
                original_name=shown,
                original_path=settings.relative(original),
                sha256=sha256,
                bytes=size,
                created_by=facts.created_by,
            ),
        )
        job_id = jobs.add(connection, "prepare-clip", {"clip_id": clip_id}, clip_id)
    return clip_id, job_id


def _check_room(folder: Path, expected_bytes: int | None) -> None:
    free = shutil.disk_usage(folder).free
    if free < (expected_bytes or 0) * 2 + _SPARE_BYTES:
        raise DiskFullError(
            f"There is not enough room on the disk: {free / 1e9:.1f} GB are free. "
            "Delete clips that are no longer needed, then send it again."
        )


def _store(stream: _Readable | IO[bytes], part: Path) -> tuple[str, int]:
    digest = hashlib.sha256()
    size = 0
    try:
        with part.open("wb") as file:
            while chunk := stream.read(_CHUNK):
                digest.update(chunk)
                size += len(chunk)
                file.write(chunk)
    except OSError as error:
        if error.errno == 28:
            raise DiskFullError(
                "The disk ran full while the clip came in. Make room and send it again."
            ) from error
        raise
    return digest.hexdigest(), size


def _check_first_frame(path: Path) -> None:
    """Refuse at once what is no footage, before anybody waits for a job."""
    with open_footage(path) as source:
        losses = Losses()
        if next(decoded_frames(source, losses), None) is None:
            raise FootageError(
                "The file looks like a video, but no picture in it can be decoded; it may have "
                "been cut off in copying. Copy it from the camera again."
            )
