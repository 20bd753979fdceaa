"""Footage behind one small door: the rest of Norvik says names, and gets files.

A name is a path as the database knows it, "originals/ab12.mp4" or "copies/7.mp4". A file is put in
its place whole or not at all, and never changed there: who reads it meanwhile reads the old one.
"""

from __future__ import annotations

import os
import secrets
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from typing import Protocol

from norvik.core.errors import DiskFullError, FootageError

ORIGINALS, COPIES, PICTURES = "originals", "copies", "pictures"
MODEL_FILMS, FILMS, PAPERS, TALK_SOUNDS = "model-films", "films", "papers", "talk-sounds"
FOLDERS = (ORIGINALS, COPIES, PICTURES, MODEL_FILMS, FILMS, PAPERS, TALK_SOUNDS)
#: Pictures that are made again whenever they are looked at: they never leave their machine.
MADE_AGAIN = (f"{PICTURES}/frame-", f"{TALK_SOUNDS}/")


@dataclass(frozen=True, slots=True)
class Stored:
    """modified: seconds since 1970, by the clock of where it lies."""

    name: str
    bytes: int
    modified: float


class Footage(Protocol):
    """root: folder under which files at hand lie, by their names."""

    root: Path

    def at_hand(self, name: str) -> Path:
        """A file on this machine to be read. Where there is none of that name, its path leads
        nowhere. Raises FootageError where the store does not answer.
        """

    def has(self, name: str) -> bool:
        """Is there a file of this name?"""

    def put(self, path: Path, name: str) -> None:
        """Keep a whole file under a name, in place of an older one.

        `path` stays, and is not written to any more: it may be the same file.
        Once this returns it is on the disk. Raises DiskFullError, or FootageError where the store
        does not answer.
        """

    def remove(self, name: str) -> None:
        """Remove a file, if there is one."""

    def listed(self, prefix: str) -> Iterator[Stored]:
        """Every file whose name begins so, in no order."""


def checked(name: str) -> str:
    """A name that leads nowhere but under the root. Raises FootageError."""
    parts = PurePosixPath(name).parts
    if len(parts) != 2 or parts[0] not in FOLDERS or parts[1].startswith("."):
        raise FootageError("This is no name of a film.")
    return name


def made_again(name: str) -> bool:
    return name.startswith(MADE_AGAIN)


class FolderFootage:
    """Files in a folder of this machine, or in one that several machines share."""

    def __init__(self, root: Path) -> None:
        self.root = root

    def at_hand(self, name: str) -> Path:
        return self.root / checked(name)

    def has(self, name: str) -> bool:
        return self.at_hand(name).is_file()

    def put(self, path: Path, name: str) -> None:
        place(path, self.at_hand(name))

    def remove(self, name: str) -> None:
        self.at_hand(name).unlink(missing_ok=True)

    def listed(self, prefix: str) -> Iterator[Stored]:
        folder, _, begin = prefix.partition("/")
        with suppress(FileNotFoundError), os.scandir(self.root / folder) as entries:
            for entry in entries:
                with suppress(FileNotFoundError):  # made or taken away while we look
                    if entry.name.startswith(begin) and _whole(entry):
                        state = entry.stat()
                        yield Stored(f"{folder}/{entry.name}", state.st_size, state.st_mtime)


def _whole(entry: os.DirEntry[str]) -> bool:
    return entry.is_file() and not entry.name.endswith(".part")


def place(path: Path, target: Path) -> None:
    """Put a whole file where `target` says, on the disk before it is seen there.

    Linked where both lie on one disk, copied otherwise. Raises DiskFullError.
    """
    target.parent.mkdir(parents=True, exist_ok=True)
    part = target.with_name(f"{target.name}.{secrets.token_hex(4)}.part")
    try:
        try:
            # On the disk before it has a name there: nothing is left to wait for in between.
            sync(path)
            os.link(path, part)
        except OSError:
            # Another disk, or one without hard links.
            shutil.copyfile(path, part)
            sync(part)
        part.replace(target)
        sync(target.parent)
    except OSError as error:
        raise _full_or(error) from error
    finally:
        part.unlink(missing_ok=True)


def _full_or(error: OSError) -> Exception:
    if error.errno != 28:
        return error
    return DiskFullError(
        "The disk is full, so the film could not be kept. Make room and try again; "
        "the clip itself is safe."
    )


def sync(path: Path) -> None:
    """Wait until a file or a folder is on the disk."""
    descriptor = os.open(path, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


@contextmanager
def scratch(folder: Path, what: str) -> Iterator[Path]:
    """A folder of one's own for what is not whole yet; it goes at the end, however that comes.

    what: of what work. What an earlier try at the same work has left, because it was killed, goes
    first.
    """
    folder.mkdir(parents=True, exist_ok=True)
    for left in folder.glob(f"{what}-*"):
        shutil.rmtree(left, ignore_errors=True)
    with tempfile.TemporaryDirectory(
        dir=folder, prefix=f"{what}-", ignore_cleanup_errors=True
    ) as own:
        yield Path(own)
