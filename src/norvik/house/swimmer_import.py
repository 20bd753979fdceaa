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
from norvik.files import names
from norvik.files.footage import Footage
from norvik.files.opened import footage_of
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
        placed = _Placed(footage_of(settings), archive, Path(folder))
        try:
            with transaction(connection):
                ids = one_swimmer.read_in(connection, source)
                _place_films(connection, ids, placed)
                swimmer_id = next(iter(ids["swimmers"].values()))
                trail.note(connection, by, "brought-in", "swimmer", swimmer_id, swimmer_id)
        except BaseException:
            placed.take_back()
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


def _place_films(connection: sqlite3.Connection, ids: one_swimmer.Ids, placed: _Placed) -> None:
    """Put films where the new rows look for them."""
    for old, new in ids["recordings"].items():
        recording = recordings.by_id(connection, new)
        if recording.state != "ready":
            continue
        original = recording.original_path
        if original and not _ORIGINAL.fullmatch(original):
            raise ImportRefusedError("The film names in this file cannot be right.")
        if original and not placed.put(original, original):
            recordings.set_released(connection, new)
        for of in (names.film, names.sound, names.strip, names.poster):
            placed.put(of(old), of(new))
        if recording.copied:
            recordings.set_review_path(connection, new, names.film(new))
        if not placed.footage.has(str(recordings.by_id(connection, new).review_path)):
            raise NotFoundError(f"The film “{recording.original_name}” is missing in this file.")
    for new in ids["consents"].values():
        paper = consents.paper_of(connection, new)
        if not paper:
            continue
        known = _PAPER.fullmatch(paper) and placed.footage.has(paper)
        if not known and not (_PAPER.fullmatch(paper) and placed.put(paper, paper)):
            consents.forget_paper(connection, new)


class _Placed:
    """Files that were taken out of the archive, to be taken back should anything be wrong."""

    def __init__(self, footage: Footage, archive: zipfile.ZipFile, folder: Path) -> None:
        self.footage = footage
        self._archive, self._folder = archive, folder
        self._there = set(archive.namelist())
        self._names: list[str] = []

    def put(self, packed: str, name: str) -> bool:
        """Keep a packed file under a name; False where there is none."""
        if f"{FILES}{packed}" not in self._there:
            return False
        self._names.append(name)
        path = self._folder / str(len(self._names))
        with self._archive.open(f"{FILES}{packed}") as source, path.open("wb") as file:
            shutil.copyfileobj(source, file, 1 << 20)
        self.footage.put(path, name)
        path.unlink()
        return True

    def take_back(self) -> None:
        for name in self._names:
            self.footage.remove(name)
