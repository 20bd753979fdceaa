"""Bringing a backup back into an empty data folder."""

from __future__ import annotations

import shutil
from contextlib import closing
from dataclasses import replace
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
from norvik.backup.verify import chosen
from norvik.core.errors import BackupError
from norvik.files.footage import FOLDERS, ORIGINALS, FolderFootage, Footage, sync
from norvik.files.opened import footage_of
from norvik.settings import SECRET_KEY, Settings
from norvik.storage.erase import erase_again
from norvik.store.connection import connected, migrate, reading_only
from norvik.store.erased import erased_since


def restore(
    folder: Path, settings: Settings, generation: str = "",
    told: Told = lambda doing, done, of: None,
) -> Manifest:  # fmt: skip
    """Fill an empty data folder from a generation, each file checked on its way.

    Swimmers who were erased after that generation are erased again: they do not come back. The
    folder gets its name last, so that one that was stopped half-way counts for nothing. Raises
    BackupError.
    """
    if settings.data.exists() and any(settings.data.iterdir()):
        raise BackupError(
            f"{settings.data} is not empty. Move it away first, or name another data folder."
        )
    where = chosen(folder, generation)
    made = read_manifest(where)
    if settings.footage and any(True for _ in footage_of(settings).listed(f"{ORIGINALS}/")):
        raise BackupError(
            f"There are films in {settings.footage}. Name an empty place for them (NORVIK_FOOTAGE)."
        )
    coming = Settings(settings.data.with_name(settings.data.name + ".restoring"))
    shutil.rmtree(coming.data, ignore_errors=True)
    coming.prepare()
    for n, file in enumerate(made.files):
        told("copying files", n, len(made.files))
        target = coming.data / file.path
        if not target.resolve().is_relative_to(coming.data.resolve()):
            raise BackupError(f"{file.path} would lie outside of the data folder.")
        _bring(object_path(folder, file.sha256), target, file.sha256)
    _bring(where / DATABASE, coming.database, made.database)
    migrate(coming.database)
    _erase_again(folder, where, coming)
    (coming.data / SECRET_KEY).chmod(0o600)
    if settings.footage:
        _carry(coming, footage_of(replace(coming, footage=settings.footage)), told)
    if settings.data.exists():
        settings.data.rmdir()
    settings.data.parent.mkdir(parents=True, exist_ok=True)
    coming.data.rename(settings.data)
    return made


def _carry(coming: Settings, footage: Footage, told: Told) -> None:
    """Put films where they lie from now on."""
    here = FolderFootage(coming.data)
    files = [file.name for folder in FOLDERS for file in here.listed(f"{folder}/")]
    for n, name in enumerate(files):
        told("putting films into their store", n, len(files))
        path = here.at_hand(name)
        footage.put(path, name)
        if footage.at_hand(name) != path:
            path.unlink()


def _bring(source: Path, target: Path, sha256: str) -> None:
    target.parent.mkdir(parents=True, exist_ok=True)
    try:
        shutil.copyfile(source, target)
    except FileNotFoundError as error:
        raise BackupError(f"{target.name} is missing in the backup. Try another one.") from error
    if checksum(target) != sha256:
        raise BackupError(f"{target.name} is damaged in the backup. Try another generation.")
    sync(target)


def _erase_again(folder: Path, where: Path, restored: Settings) -> None:
    """What the newer generations know to have been erased since."""
    gone: set[int] = set()
    for newer in generations(folder):
        if newer.name <= where.name:
            break
        with closing(reading_only(newer / DATABASE)) as connection:
            gone |= erased_since(connection, read_manifest(where).made_at)
    with connected(restored.database) as connection:
        erase_again(connection, restored, sorted(gone))
