"""What takes how much room."""

from __future__ import annotations

import shutil
import sqlite3
from dataclasses import dataclass

from norvik.files.footage import COPIES, ORIGINALS, PICTURES
from norvik.files.opened import footage_of
from norvik.settings import Settings
from norvik.store import recordings
from norvik.store.recordings import Recording


@dataclass(frozen=True, slots=True)
class Kept:
    """One recording on the disk. releasable: the review copy suffices without the original."""

    recording: Recording
    original_bytes: int
    made_bytes: int
    clips: int
    in_trash: int
    releasable: bool


@dataclass(frozen=True, slots=True)
class StorageReport:
    """All sizes in bytes. trash_bytes: recordings whose every clip lies in the trash."""

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


def storage_report(connection: sqlite3.Connection, settings: Settings) -> StorageReport:
    """Look at every file once; nothing is changed."""
    footage = footage_of(settings)
    sizes = {
        folder: {s.name: s.bytes for s in footage.listed(f"{folder}/")}
        for folder in (ORIGINALS, COPIES, PICTURES)
    }
    arriving = sum(p.stat().st_size for p in settings.incoming.iterdir() if p.is_file())
    films: dict[int, int] = {}
    for name, size in sizes[COPIES].items():
        number = name.rsplit("/", 1)[-1].split(".")[0].split("-")[0]
        if number.isdigit():
            films[int(number)] = films.get(int(number), 0) + size
    counts = recordings.clip_counts(connection)
    kept = []
    for recording in recordings.everyone(connection):
        path = recording.original_path
        original = sizes[ORIGINALS].get(path, 0) if path else 0
        clips, gone = counts.get(recording.id, (0, 0))
        kept.append(
            Kept(
                recording,
                original,
                films.get(recording.id, 0),
                clips,
                gone,
                recording.releasable and original > 0,
            )
        )
    return StorageReport(
        recordings=tuple(sorted(kept, key=lambda k: -(k.original_bytes + k.made_bytes))),
        originals=sum(sizes[ORIGINALS].values()),
        films=sum(sizes[COPIES].values()),
        pictures=sum(sizes[PICTURES].values()),
        arriving=arriving,
        database=sum(p.stat().st_size for p in settings.data.glob("*.sqlite3*")),
        free=shutil.disk_usage(settings.data).free,
        releasable_bytes=sum(k.original_bytes for k in kept if k.releasable),
        trash_bytes=sum(
            k.original_bytes + k.made_bytes for k in kept if k.clips and k.clips == k.in_trash
        ),
    )
