"""Making a backup while Norvik runs."""

from __future__ import annotations

import fcntl
import os
import secrets
import shutil
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

import msgspec

from norvik import __version__
from norvik.backup.manifest import (
    DATABASE,
    FORMAT,
    MANIFEST,
    KeptFile,
    Manifest,
    checksum,
    generations,
    object_path,
    read_manifest,
)
from norvik.core.errors import BackupError
from norvik.files.footage import COPIES, FILMS, ORIGINALS, PAPERS, PICTURES, Stored, sync
from norvik.files.opened import footage_of
from norvik.settings import SECRET_KEY, Settings
from norvik.storage.hold import held_still
from norvik.store import backups
from norvik.store.connection import connected, copy_whole

#: Generations that are kept where nobody says otherwise: a week of days.
KEEP = 7

#: Nanoseconds within which two times of one file are the same: a float has no more digits.
_SAME_NS = 1000

Told = Callable[[str, int, int], None]


def make_backup(
    settings: Settings, folder: Path, *, keep: int = KEEP, link: bool = True,
    told: Told = lambda doing, done, of: None,
) -> Manifest:  # fmt: skip
    """Add a generation to a backup folder, and drop those beyond `keep`.

    link: files on the same disk are linked instead of copied; they are never changed in place.
    Files that the generation before has are neither read nor copied again. While it runs nothing
    that the database knows is removed. Raises BackupError; what was there before stays.
    """
    there = folder.resolve()
    if any(there == p or p in there.parents for p in (settings.data, settings.files)):
        raise BackupError("A backup inside of the data folder would be lost with it.")
    if keep < 1:
        raise BackupError("At least one generation has to be kept.")
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    now = time.time()
    try:
        with _alone(folder), held_still(settings):
            made = _make(settings, folder, now, link, told)
            _drop_old(folder, keep)
    except OSError as error:
        sentence = f"The backup could not be written: {error.strerror}. Look at {folder}."
        _note(settings, folder, "", now, failure=sentence)
        raise BackupError(sentence) from error
    size = sum(f.bytes for f in made.files)
    _note(settings, folder, made.generation, now, len(made.files), size)
    return made


def _note(
    settings: Settings, folder: Path, generation: str, now: float, files: int = 0, size: int = 0,
    failure: str = "",
) -> None:  # fmt: skip
    with connected(settings.database) as connection:
        backups.add(connection, str(folder.resolve()), generation, now, files, size, failure)


@contextmanager
def _alone(folder: Path) -> Iterator[None]:
    """One backup at a time; the lock ends with the process."""
    with (folder / "lock").open("w") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError as error:
            raise BackupError("Another backup into this folder is under way.") from error
        yield


def _make(settings: Settings, folder: Path, now: float, link: bool, told: Told) -> Manifest:
    every = folder / "generations"
    every.mkdir(exist_ok=True)
    for left in every.glob("*.part"):
        shutil.rmtree(left)  # of a backup that was stopped
    name = datetime.fromtimestamp(now, UTC).strftime("%Y-%m-%dT%H%M%S.%fZ")
    part = every / f"{name}.part"
    part.mkdir(mode=0o700)
    copy_whole(
        settings.database, part / DATABASE,
        lambda done, of: told("copying the database", done, of),
    )  # fmt: skip
    (part / DATABASE).chmod(0o600)
    known = _known(folder)
    files = sorted(files_of(settings), key=lambda s: s.name)
    kept = []
    for n, file in enumerate(files):
        told("copying files", n, len(files))
        kept_file = _keep(settings, folder, file, known, link)
        if kept_file is not None:
            kept.append(kept_file)
    made = Manifest(FORMAT, __version__, name, now, checksum(part / DATABASE), tuple(kept))
    (part / MANIFEST).write_bytes(msgspec.json.encode(made))
    for path in (part / MANIFEST, part / DATABASE, part):
        sync(path)
    part.rename(every / name)
    sync(every)
    return made


def files_of(settings: Settings) -> Iterator[Stored]:
    """All files that cannot be made anew from others, or only with much time."""
    footage = footage_of(settings)
    for folder in (ORIGINALS, COPIES, FILMS, PAPERS):
        yield from footage.listed(f"{folder}/")
    # Single frames are made again when they are looked at.
    for kind in ("poster", "strip"):
        yield from footage.listed(f"{PICTURES}/{kind}-")
    state = (settings.data / SECRET_KEY).stat()
    yield Stored(SECRET_KEY, state.st_size, state.st_mtime)


def _known(folder: Path) -> dict[str, KeptFile]:
    """Files of the newest finished generation, by their paths."""
    newest = next(iter(generations(folder)), None)
    return {f.path: f for f in read_manifest(newest).files} if newest else {}


def _keep(
    settings: Settings, folder: Path, file: Stored, known: dict[str, KeptFile], link: bool
) -> KeptFile | None:
    """Put a file into the backup; None where it went meanwhile, being nobody's."""
    before, mtime_ns = known.get(file.name), round(file.modified * 1e9)
    if (
        before
        and before.bytes == file.bytes
        and abs(before.mtime_ns - mtime_ns) < _SAME_NS
        and object_path(folder, before.sha256).is_file()
    ):
        return before
    own = file.name == SECRET_KEY
    path = settings.data / file.name if own else footage_of(settings).at_hand(file.name)
    try:
        sha256 = checksum(path)
        target = object_path(folder, sha256)
        if not target.is_file() or target.stat().st_size != path.stat().st_size:
            _place(path, target, link and not own)
        return KeptFile(file.name, path.stat().st_size, sha256, mtime_ns)
    except FileNotFoundError:
        return None


def _place(path: Path, target: Path, link: bool) -> None:
    target.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    part = target.with_name(f"{target.name}.{secrets.token_hex(4)}.part")
    try:
        if link and path.stat().st_dev == target.parent.stat().st_dev:
            os.link(path, part)
        else:
            shutil.copyfile(path, part)
            part.chmod(0o600)
            sync(part)
        part.replace(target)
        sync(target.parent)
    finally:
        part.unlink(missing_ok=True)


def _drop_old(folder: Path, keep: int) -> None:
    """Remove generations beyond so many, then files that none of the others needs."""
    every = generations(folder)
    for old in every[keep:]:
        # Without its manifest it counts for nothing, should this be stopped half-way.
        (old / MANIFEST).unlink()
        shutil.rmtree(old)
    for unfinished in (folder / "generations").iterdir():
        if not (unfinished / MANIFEST).is_file():
            shutil.rmtree(unfinished)
    needed = {f.sha256 for g in every[:keep] for f in read_manifest(g).files}
    for path in (folder / "objects").glob("*/*"):
        if path.name not in needed:
            path.unlink()
