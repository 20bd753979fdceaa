"""Looking through a backup: is every file whole, and is all there that the database knows?"""

from __future__ import annotations

from contextlib import closing
from pathlib import Path

from norvik.backup.make import Told
from norvik.backup.manifest import (
    DATABASE,
    Manifest,
    checksum,
    generations,
    object_path,
    read_manifest,
)
from norvik.core.errors import BackupError
from norvik.store.connection import damage, reading_only
from norvik.store.files_known import files_known


def chosen(folder: Path, generation: str = "") -> Path:
    """A generation by its name, or the newest. Raises BackupError."""
    every = generations(folder)
    if not every:
        raise BackupError(f"No backup in {folder} was ever finished.")
    for one in every:
        if generation in ("", one.name):
            return one
    raise BackupError(
        f"There is no generation {generation}. There are: {', '.join(g.name for g in every)}."
    )


def verify(
    folder: Path, generation: str = "", told: Told = lambda doing, done, of: None
) -> tuple[Manifest, list[str]]:
    """The manifest, and what is wrong with it, each a sentence; empty when all is well."""
    where = chosen(folder, generation)
    made = read_manifest(where)
    wrong = _database(where / DATABASE, made)
    for n, file in enumerate(made.files):
        told("reading files", n, len(made.files))
        path = object_path(folder, file.sha256)
        if not path.is_file():
            wrong.append(f"{file.path} is missing.")
        elif path.stat().st_size != file.bytes or checksum(path) != file.sha256:
            wrong.append(f"{file.path} is damaged.")
    return made, wrong


def _database(path: Path, made: Manifest) -> list[str]:
    if not path.is_file():
        return ["The database is missing."]
    if checksum(path) != made.database:
        return ["The database is damaged."]
    with closing(reading_only(path)) as connection:
        found = damage(connection)
        if found:
            return [f"The database is damaged: {found}."]
        there = {file.path for file in made.files}
        return [
            f"{name} belongs to the database and is not in the backup."
            for name in sorted(files_known(connection) - there)
        ]
