"""What takes how much room.

A club of twenty thousand recordings has some sixty thousand files, so every one is looked at once a
minute at most, or when a recording has come, gone or changed.
"""

from __future__ import annotations

import shutil
import sqlite3
import threading
import time
from dataclasses import dataclass

from norvik.files.footage import COPIES, ORIGINALS, PICTURES
from norvik.files.opened import footage_of
from norvik.settings import Settings
from norvik.store import recordings

#: For so long the sizes that were found are taken for true, seconds.
_TRUE_FOR_S = 60.0


@dataclass(frozen=True, slots=True)
class Kept:
    """One recording on the disk. releasable: the review copy suffices without the original."""

    recording_id: int
    original_bytes: int
    made_bytes: int
    clips: int
    in_trash: int
    releasable: bool


@dataclass(frozen=True, slots=True)
class StorageReport:
    """All sizes in bytes. recordings: the largest first. trash_bytes: recordings whose every clip
    lies in the trash.
    """

    recordings: tuple[Kept, ...]
    originals: int
    films: int
    pictures: int
    arriving: int
    database: int
    free: int
    releasable_bytes: int
    trash_bytes: int

    @property
    def total(self) -> int:
        return self.originals + self.films + self.pictures + self.arriving + self.database


@dataclass(frozen=True, slots=True)
class _Sizes:
    """Bytes. originals: by name; films: of the copies of each recording."""

    originals: dict[str, int]
    films: dict[int, int]
    all_films: int
    pictures: int


class _Seen:
    """What was found where the films lie, for a while."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._found: tuple[float, object, _Sizes] | None = None

    def sizes(self, connection: sqlite3.Connection, settings: Settings) -> _Sizes:
        of = settings.data, recordings.files_state(connection)
        with self._lock:
            if self._found is not None and self._found[1] == of:
                when, _, sizes = self._found
                if time.monotonic() - when <= _TRUE_FOR_S:
                    return sizes
            sizes = _sizes(settings)
            self._found = time.monotonic(), of, sizes
            return sizes


_seen = _Seen()


def _sizes(settings: Settings) -> _Sizes:
    footage = footage_of(settings)
    films: dict[int, int] = {}
    all_films = 0
    for copy in footage.listed(f"{COPIES}/"):
        all_films += copy.bytes
        number = copy.name.rsplit("/", 1)[-1].split(".")[0].split("-")[0]
        if number.isdigit():
            films[int(number)] = films.get(int(number), 0) + copy.bytes
    originals = {s.name: s.bytes for s in footage.listed(f"{ORIGINALS}/")}
    pictures = sum(s.bytes for s in footage.listed(f"{PICTURES}/"))
    return _Sizes(originals, films, all_films, pictures)


def storage_report(connection: sqlite3.Connection, settings: Settings) -> StorageReport:
    """Nothing is changed."""
    sizes = _seen.sizes(connection, settings)
    arriving = sum(p.stat().st_size for p in settings.incoming.iterdir() if p.is_file())
    counts = recordings.clip_counts(connection)
    kept = []
    for recording_id, path, releasable in recordings.releasable(connection):
        original = sizes.originals.get(path, 0) if path else 0
        clips, gone = counts.get(recording_id, (0, 0))
        films = sizes.films.get(recording_id, 0)
        kept.append(Kept(recording_id, original, films, clips, gone, releasable and original > 0))
    return StorageReport(
        recordings=tuple(sorted(kept, key=lambda k: -(k.original_bytes + k.made_bytes))),
        originals=sum(sizes.originals.values()),
        films=sizes.all_films,
        pictures=sizes.pictures,
        arriving=arriving,
        database=sum(p.stat().st_size for p in settings.data.glob("*.sqlite3*")),
        free=shutil.disk_usage(settings.data).free,
        releasable_bytes=sum(k.original_bytes for k in kept if k.releasable),
        trash_bytes=sum(
            k.original_bytes + k.made_bytes for k in kept if k.clips and k.clips == k.in_trash
        ),
    )
