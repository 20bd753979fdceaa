"""From a file that came in to a recording and its clip, with a job that prepares them."""

from __future__ import annotations

import hashlib
import secrets
import shutil
import sqlite3
from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import IO, Protocol

from norvik.core.errors import DiskFullError, FootageError
from norvik.core.time.timebase import AS_IT_HAPPENED, Stretch
from norvik.files.footage import ORIGINALS
from norvik.files.opened import footage_of
from norvik.footage.camera_metadata import CameraMetadata, camera_metadata
from norvik.footage.frames import Losses, decoded_frames
from norvik.footage.opening import open_footage
from norvik.settings import Settings
from norvik.store import clips, jobs, recordings, taken_uploads
from norvik.store.clips import Clip, Facts
from norvik.store.connection import transaction
from norvik.store.recordings import NewRecording
from norvik.work_names import OPEN

_CHUNK = 1 << 20
#: Room left on the disk beyond the file itself: its review copy and some air.
_SPARE_BYTES = 64 << 20
_SUFFIXES = (".mp4", ".mov", ".m4v", ".webm", ".mkv", ".avi", ".3gp", ".ts", ".mts")


class _Readable(Protocol):
    def read(self, size: int, /) -> bytes: ...


class AlreadyThere(FootageError):
    """Raised when the very same file is in the library; `clip` is the one that holds it."""

    def __init__(self, clip: Clip) -> None:
        where = " It is in the trash." if clip.trashed_at else ""
        super().__init__(
            "This file is already in the library: "
            f"{clip.swimmer_name or 'unassigned'}, {clip.filmed_on}.{where}"
        )
        self.clip = clip


def clean_name(name: str) -> str:
    """A file name to show: without folders and control characters, at most 120 characters."""
    last = name.replace("\\", "/").rsplit("/", 1)[-1]
    shown = "".join(c for c in last if c.isprintable()).strip()
    if len(shown) > 120:
        shown = shown[:100] + "…" + shown[-19:]
    return shown or "clip"


def check_room(folder: Path, coming_bytes: int | None, under_way: int = 0) -> None:
    """Raise DiskFullError when a file of this size and its review copy would not fit.

    under_way: bytes of other files that have still to come.
    """
    free = shutil.disk_usage(folder).free
    if free < (coming_bytes or 0) * 2 + under_way + _SPARE_BYTES:
        raise DiskFullError(
            f"There is not enough room on the disk: {free / 1e9:.1f} GB are free. "
            "Delete clips that are no longer needed, then send it again."
        )


def receive(
    settings: Settings,
    connection: sqlite3.Connection,
    stream: _Readable | IO[bytes],
    name: str,
    facts: Facts,
    *,
    stretch: float | None = None,
    created_by: int | None = None,
    expected_bytes: int | None = None,
) -> tuple[int, int]:
    """Take a file in from a stream; see `take_in` for the rest."""
    settings.prepare()
    check_room(settings.data, expected_bytes)
    part = settings.incoming / f"{secrets.token_hex(8)}.part"
    try:
        sha256, size = _store(stream, part)
        if expected_bytes is not None and size != expected_bytes:
            raise FootageError(
                f"Only {size:,} of {expected_bytes:,} bytes arrived. Send the clip again."
            )
        return take_in(
            settings, connection, part, name, facts, sha256, stretch=stretch, created_by=created_by
        )
    finally:
        part.unlink(missing_ok=True)


def take_in(
    settings: Settings,
    connection: sqlite3.Connection,
    arrived: Path,
    name: str,
    facts: Facts,
    sha256: str,
    *,
    stretch: float | None = None,
    created_by: int | None = None,
    upload_id: str = "",
) -> tuple[int, int]:
    """Make a recording of a whole file that has arrived in the data folder, and move it there.

    stretch: how many times slower the file plays than it happened; when nobody says, what the
    camera wrote into the file counts. So it is with the day of filming; without either it is today.
    Returns the clip's id and the number of the job that will open it.
    A file that is no footage, or is there already, raises FootageError and stays where it is.
    """
    size = arrived.stat().st_size
    _refuse_known(connection, sha256)
    shown = clean_name(name)
    by_camera = _check_first_frame(arrived)
    suffix = Path(shown).suffix.lower()
    footage = footage_of(settings)
    original = f"{ORIGINALS}/{sha256}{suffix if suffix in _SUFFIXES else ''}"
    factor = stretch if stretch is not None else by_camera.stretch
    guessed = not facts.filmed_on and not by_camera.day
    if not facts.filmed_on:
        facts = replace(facts, filmed_on=by_camera.day or date.today().isoformat())
    known = footage.has(original)
    if not known:
        # The file that arrived stays until a row says that it is there: stopped in between, it can
        # be sent again.
        footage.put(arrived, original)
    try:
        with transaction(connection):
            # Two uploads of one file may have come this far together.
            failed = _refuse_known(connection, sha256)
            if failed is not None:
                clip_id, job_id = _try_again(connection, failed, facts)
            else:
                clip_id, job_id = _add(
                    connection, original, shown, sha256, size, factor,
                    by_camera.rate_fps, facts, created_by,
                )  # fmt: skip
            clips.set_day_guessed(connection, clip_id, guessed)
            if upload_id:
                taken_uploads.put(connection, upload_id, clip_id, job_id)
    except BaseException:
        if not known and recordings.by_checksum(connection, sha256) is None:
            footage.remove(original)
        raise
    arrived.unlink(missing_ok=True)
    return clip_id, job_id


def _refuse_known(connection: sqlite3.Connection, sha256: str) -> Clip | None:
    """Raise AlreadyThere for a file that is in the library; the clip of one that had failed."""
    there = recordings.by_checksum(connection, sha256)
    if there is None:
        return None
    of_it = clips.of_recording(connection, there.id, with_trash=True)
    if there.state == "failed" and of_it and not of_it[0].trashed_at:
        return of_it[0]
    if of_it:
        raise AlreadyThere(of_it[0])
    return None


def _try_again(connection: sqlite3.Connection, clip: Clip, facts: Facts) -> tuple[int, int]:
    """The same file once more, after it had failed or was cancelled.

    Its recording is tried again, so that one file never belongs to two recordings.
    """
    recordings.set_waiting(connection, clip.recording.id)
    clips.set_facts(connection, clip.id, facts)
    job = jobs.add(connection, OPEN, {"recording_id": clip.recording.id}, clip.recording.id)
    return clip.id, job


def _add(
    connection: sqlite3.Connection, original: str, shown: str, sha256: str, size: int,
    factor: float | None, rate_fps: float | None, facts: Facts, created_by: int | None,
) -> tuple[int, int]:  # fmt: skip
    recording_id = recordings.add(
        connection,
        NewRecording(
            original_name=shown,
            original_path=original,
            sha256=sha256,
            bytes=size,
            stretches=AS_IT_HAPPENED if factor is None else (Stretch(0, factor),),
            told_rate_fps=rate_fps,
            created_by=created_by,
        ),
    )
    clip_id = clips.add(connection, recording_id, facts, created_by)
    job_id = jobs.add(connection, OPEN, {"recording_id": recording_id}, recording_id)
    return clip_id, job_id


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
                "The disk filled up during the upload. Make room and send the clip again."
            ) from error
        raise
    return digest.hexdigest(), size


def _check_first_frame(path: Path) -> CameraMetadata:
    """Refuse at once what is no footage, before anybody waits for a job; gives what it tells."""
    with open_footage(path) as source:
        losses = Losses()
        if next(decoded_frames(source, losses), None) is None:
            raise FootageError(
                "The file looks like a video, but no picture in it can be decoded; it may have "
                "been cut off in copying. Copy it from the camera again."
            )
        return camera_metadata(source)
