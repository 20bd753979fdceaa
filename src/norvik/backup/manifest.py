"""What belongs to a generation of a backup: files by their paths and checksums."""

from __future__ import annotations

import hashlib
from pathlib import Path

import msgspec

from norvik.core.errors import BackupError

MANIFEST, DATABASE = "manifest.json", "norvik.sqlite3"
#: Grows with changes that an older Norvik could not read.
FORMAT = 1
_READ = 1 << 20


class KeptFile(msgspec.Struct, frozen=True):
    """path: relative to the data folder. mtime_ns: by which an unchanged file is known again."""

    path: str
    bytes: int
    sha256: str
    mtime_ns: int


class Manifest(msgspec.Struct, frozen=True):
    """One generation. made_at: seconds since 1970. database: its checksum."""

    format: int
    version: str
    generation: str
    made_at: float
    database: str
    files: tuple[KeptFile, ...]


def object_path(folder: Path, sha256: str) -> Path:
    """Where a file lies in a backup folder, by its checksum."""
    return folder / "objects" / sha256[:2] / sha256


def generations(folder: Path) -> list[Path]:
    """Finished generations, the newest first. Raises BackupError where there is no backup."""
    every = folder / "generations"
    if not every.is_dir():
        raise BackupError(f"There is no backup in {folder}.")
    return sorted((p for p in every.iterdir() if (p / MANIFEST).is_file()), reverse=True)


def read_manifest(generation: Path) -> Manifest:
    """Raises BackupError for one that cannot be read."""
    try:
        made = msgspec.json.decode((generation / MANIFEST).read_bytes(), type=Manifest)
    except (OSError, msgspec.DecodeError) as error:
        raise BackupError(f"The manifest of {generation.name} cannot be read: {error}") from error
    if made.format > FORMAT:
        raise BackupError(f"{generation.name} was made by a newer Norvik. Install that version.")
    return made


def checksum(path: Path) -> str:
    """SHA-256 of a file, in hexadecimal."""
    digest = hashlib.sha256()
    with path.open("rb") as file:
        while data := file.read(_READ):
            digest.update(data)
    return digest.hexdigest()
