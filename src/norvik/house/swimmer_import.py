"""Reading one swimmer in, from a ZIP file that another Norvik wrote."""

from __future__ import annotations

import re
import shutil
import sqlite3
import tempfile
import zipfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from norvik.core.errors import NorvikError, NotFoundError
from norvik.house.swimmer_export import DATABASE, FILES
from norvik.settings import Settings
from norvik.store import consents, one_swimmer, recordings
from norvik.store.connection import connect, migrate, transaction
from norvik.workflow import trail

#: What these files are called: nothing in a ZIP file says where else to write.
_ORIGINAL = re.compile(r"originals/[0-9a-f]{64}(\.[a-z0-9]{1,5})?")
_PAPER = re.compile(r"papers/[0-9a-f]{24}\.(pdf|jpg|png)")


class ImportRefusedError(NorvikError):
    """Raised for a file that holds no swimmer, or one who is here already."""


def read_swimmer(
    connection: sqlite3.Connection, settings: Settings, path: Path, by: int | None
) -> int:
    """Add the swimmer of a ZIP file, with films and all work; gives the new id.

    All or nothing: what was copied goes again where something is wrong.
    """
    settings.prepare()
    with _opened(path) as archive, tempfile.TemporaryDirectory(dir=settings.incoming) as folder:
        source = Path(folder) / "swimmer.sqlite3"
        with archive.open(DATABASE) as packed, source.open("wb") as file:
            shutil.copyfileobj(packed, file)
        _check(source)
        migrate(source)
        _refuse_known(connection, source)
        placed: list[Path] = []
        try:
            with transaction(connection):
                ids = one_swimmer.read_in(connection, source)
                _place_films(connection, settings, archive, ids, placed)
                swimmer_id = next(iter(ids["swimmers"].values()))
                trail.note(connection, by, "brought-in", "swimmer", swimmer_id, swimmer_id)
        except BaseException:
            for one in placed:
                one.unlink(missing_ok=True)
            raise
    return swimmer_id


@contextmanager
def _opened(path: Path) -> Iterator[zipfile.ZipFile]:
    try:
        with zipfile.ZipFile(path) as archive:
            if DATABASE not in archive.namelist():
                raise ImportRefusedError(
                    "There is no swimmer in this file. Export one anew: Download everything."
                )
            yield archive
    except (zipfile.BadZipFile, EOFError) as error:
        raise ImportRefusedError(
            "This ZIP file is damaged or not whole. Copy it again from where it was exported."
        ) from error


def _check(source: Path) -> None:
    if one_swimmer.swimmers_in(source) != 1:
        raise ImportRefusedError("The swimmer's data in this file is damaged. Export it again.")


def _refuse_known(connection: sqlite3.Connection, source: Path) -> None:
    with closing(connect(source)) as away:
        for film in recordings.everyone(away):
            if recordings.by_checksum(connection, film.sha256) is not None:
                raise ImportRefusedError(
                    f"“{film.original_name}” is in this library already: this swimmer was read "
                    "in before, or is still here."
                )


def _place_films(
    connection: sqlite3.Connection, settings: Settings, archive: zipfile.ZipFile,
    ids: one_swimmer.Ids, placed: list[Path],
) -> None:  # fmt: skip
    """Put films where the new rows look for them. placed: gets every file that was written."""
    there = set(archive.namelist())
    for old, new in ids["recordings"].items():
        recording = recordings.by_id(connection, new)
        if recording.state != "ready":
            continue
        original = recording.original_path
        if original and not _ORIGINAL.fullmatch(original):
            raise ImportRefusedError("The film names in this file cannot be right.")
        if original and f"{FILES}{original}" in there:
            _place(archive, f"{FILES}{original}", settings.data / original, placed)
        elif original:
            recordings.set_released(connection, new)
        names = {f"copies/{old}.mp4": settings.film(new),
                 f"copies/{old}.m4a": settings.sound(new),
                 f"pictures/strip-{old}.jpg": settings.strip(new),
                 f"pictures/poster-{old}.jpg": settings.pictures / f"poster-{new}.jpg"}  # fmt: skip
        for name, target in names.items():
            if f"{FILES}{name}" in there:
                _place(archive, f"{FILES}{name}", target, placed)
        if recording.copied:
            recordings.set_review_path(connection, new, settings.relative(settings.film(new)))
        film = settings.data / str(recordings.by_id(connection, new).review_path)
        if not film.is_file():
            raise NotFoundError(f"The film “{recording.original_name}” is missing in this file.")
    for new in ids["consents"].values():
        paper = consents.paper_of(connection, new)
        if paper and _PAPER.fullmatch(paper) and f"{FILES}{paper}" in there:
            target = settings.data / paper
            if not target.exists():
                _place(archive, f"{FILES}{paper}", target, placed)
        elif paper:
            consents.forget_paper(connection, new)


def _place(archive: zipfile.ZipFile, name: str, target: Path, placed: list[Path]) -> None:
    placed.append(target)
    with archive.open(name) as packed, target.open("wb") as file:
        shutil.copyfileobj(packed, file, 1 << 20)
