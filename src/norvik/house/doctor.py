"""Is the installation well? Each check says what it looked at and what to do."""

from __future__ import annotations

import platform
import secrets
import shutil
import sqlite3
import stat
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path
from typing import Literal
from urllib.parse import urlsplit

from redis.exceptions import RedisError

from norvik import __version__
from norvik.away.board import Board
from norvik.core.errors import FootageError
from norvik.files.footage import PICTURES
from norvik.files.opened import footage_of
from norvik.settings import Settings
from norvik.store import backups, club, counts, trail, users
from norvik.store.connection import connected, damage, schema_missing

State = Literal["well", "look", "broken"]
#: Own choice: with less room uploads are refused soon; below the second nothing can be written.
_LITTLE_BYTES, _NONE_BYTES = 5 << 30, 200 << 20
#: A worker says that it is there every few seconds.
WORKER_SILENT_S = 60.0


@dataclass(frozen=True, slots=True)
class Check:
    """One thing that was looked at. says: what was found, and what to do where it is not well."""

    name: str
    state: State
    says: str


def examine(settings: Settings) -> list[Check]:
    """All checks, in the order in which one would mend things."""
    found = []
    for name, check in _CHECKS:
        try:
            found += [Check(name, state, says) for state, says in check(settings)]
        except (OSError, sqlite3.Error) as error:
            found.append(Check(name, "broken", f"This could not be looked at: {error}."))
    return found


def can_work(settings: Settings) -> list[str]:
    """Names of what keeps the web from doing its work; empty when it can."""
    failing = []
    try:
        with connected(settings.database) as connection:
            users.count(connection)
        if schema_missing(settings.database):
            failing.append("schema")
    except sqlite3.Error:
        failing.append("database")
    try:
        probe = settings.incoming / ".ready"
        probe.write_bytes(b"1")
        probe.unlink()
        if shutil.disk_usage(settings.data).free < _NONE_BYTES:
            failing.append("room")
    except OSError:
        failing.append("disk")
    return failing


_Found = Iterator[tuple[State, str]]


def _versions(settings: Settings) -> _Found:
    import av

    libraries = ", ".join(
        f"{name} {'.'.join(map(str, number))}" for name, number in av.library_versions.items()
        if name in ("libavcodec", "libavformat")
    )  # fmt: skip
    yield (
        "well",
        (
            f"Norvik {__version__}, Python {platform.python_version()}, SQLite "
            f"{sqlite3.sqlite_version}, {libraries}"
        ),
    )
    if sqlite3.sqlite_version_info < (3, 37):
        yield "broken", "SQLite is older than 3.37: strict tables need it. Take a newer Python."
    try:
        yield "well", f"Films are read by themselves (ai-edge-litert {version('ai-edge-litert')})"
    except PackageNotFoundError:
        yield "look", "Films are not read by themselves: the package ai-edge-litert is missing."


def _disk(settings: Settings) -> _Found:
    there = next(p for p in (settings.data, *settings.data.parents) if p.exists())
    usage = shutil.disk_usage(there)
    says = f"{usage.free / 1e9:.1f} GB of {usage.total / 1e9:.0f} GB are free"
    if usage.free < _NONE_BYTES:
        yield "broken", says + ". Nothing can be written: make room now."
    elif usage.free < _LITTLE_BYTES:
        yield "look", says + ". Make room, or delete originals under Library, Storage."
    else:
        yield "well", says


def _permissions(settings: Settings) -> _Found:
    open_ones = [
        p.name for p in (settings.data, settings.database, settings.data / "secret-key")
        if p.exists() and stat.S_IMODE(p.stat().st_mode) & 0o077
    ]  # fmt: skip
    if open_ones:
        yield (
            "look",
            (
                f"Others on this computer can read {', '.join(open_ones)}. Run chmod -R go= on "
                "the data folder."
            ),
        )
    else:
        yield "well", "The data folder is for its owner alone"


def _database(settings: Settings) -> _Found:
    if not settings.database.is_file():
        yield "look", "There is no database yet: it is made at the first start."
        return
    missing = schema_missing(settings.database)
    if missing:
        yield "look", f"{len(missing)} changes of the schema wait for the next start."
    with connected(settings.database) as connection:
        found = damage(connection, quick=True)
    if found:
        yield "broken", f"The database is damaged ({found}). Restore the last backup."
    else:
        yield "well", "The database is whole"


def _codec(settings: Settings) -> _Found:
    import av

    for name, what in (("libx264", "review copies"), ("aac", "sound of films")):
        try:
            av.codec.Codec(name, "w")
        except (ValueError, av.FFmpegError):
            yield "broken", f"FFmpeg here cannot write {name}: no {what}. Install PyAV from PyPI."
            return
    yield "well", "H.264 and AAC can be written"


def _fonts(settings: Settings) -> _Found:
    folder = Path(__file__).parents[1] / "web" / "static" / "fonts"
    if any(folder.glob("*.woff2")):
        yield "well", "The fonts are there"
    else:
        yield "broken", "The fonts are missing: the installation is not complete. Install again."


def _clock(settings: Settings) -> _Found:
    newest = 0.0
    if settings.database.is_file():
        with connected(settings.database) as connection:
            last = trail.find(connection, limit=1)
        if last:
            at = datetime.strptime(last[0].at, "%Y-%m-%dT%H:%M:%SZ")
            newest = at.replace(tzinfo=UTC).timestamp()
    ahead = newest - time.time()
    if ahead > 120:
        yield "broken", f"The clock is {ahead / 60:.0f} minutes behind what was written. Set it."
    else:
        yield "well", f"The clock says {datetime.now(UTC):%Y-%m-%d %H:%M} UTC"


def _backup(settings: Settings) -> _Found:
    if not settings.database.is_file():
        return
    with connected(settings.database) as connection:
        good, last = backups.newest_good(connection), backups.newest(connection)
        hours = club.house(connection, "backup-hours")
    if good is None:
        yield "look", "No backup was ever made. Run: norvik backup DIR"
    else:
        age = (time.time() - good.made_at) / 3600
        state: State = "look" if age > hours else "well"
        yield state, f"The last good backup is {age:.1f} h old, in {good.folder}"
    if last is not None and last.failure:
        yield "look", f"The last backup failed: {last.failure}"


def _footage(settings: Settings) -> _Found:
    if not settings.footage:
        return
    footage, name = footage_of(settings), f"{PICTURES}/doctor-{secrets.token_hex(8)}.txt"
    try:
        with tempfile.TemporaryDirectory() as folder:
            probe = Path(folder) / "probe"
            probe.write_bytes(b"1")
            footage.put(probe, name)
        there = footage.has(name)
        footage.remove(name)
    except FootageError as error:
        yield "broken", f"{settings.footage}: {error.sentence}"
        return
    if there:
        yield "well", f"Films lie in {settings.footage}, which can be read and written"
    else:
        yield "broken", f"What is written into {settings.footage} is not there afterwards."


def _workers_away(settings: Settings) -> _Found:
    if not settings.queue_at:
        return
    where = urlsplit(settings.queue_at).hostname
    try:
        with closing(Board(settings.queue_at)) as board:
            board.answers()
            there = board.workers()
    except RedisError as error:
        yield "broken", f"The queue on {where} does not answer: {error}"
        return
    if there:
        yield "well", f"The queue on {where} answers; workers away: {', '.join(there)}"
    else:
        yield "look", f"The queue on {where} answers; no worker away shows itself."


def _queue(settings: Settings) -> _Found:
    if not settings.database.is_file():
        return
    with connected(settings.database) as connection:
        by_state = counts.jobs(connection)
    seen = worker_seen(settings)
    silent = seen is None or time.time() - seen > WORKER_SILENT_S
    says = f"{by_state['queued']} jobs wait, {by_state['running']} run"
    if silent:
        yield "look", says + "; no worker is running. Start: norvik worker"
    else:
        yield "well", says + "; a worker is running"


def worker_seen(settings: Settings) -> float | None:
    """When a worker was last there, in seconds since 1970; None for never."""
    try:
        return (settings.data / "worker-seen").stat().st_mtime
    except FileNotFoundError:
        return None


_CHECKS: tuple[tuple[str, Callable[[Settings], _Found]], ...] = (
    ("Versions", _versions), ("Disk", _disk), ("Permissions", _permissions),
    ("Database", _database), ("Codec", _codec), ("Fonts", _fonts), ("Clock", _clock),
    ("Backup", _backup), ("Footage", _footage), ("Queue", _workers_away), ("Jobs", _queue),
)  # fmt: skip
