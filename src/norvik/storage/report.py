"""What takes how much room in the data folder."""

from __future__ import annotations

import shutil
import sqlite3
from dataclasses import dataclass
from pathlib import Path

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
    sizes = {
        folder: _sizes(folder)
        for folder in (settings.originals, settings.copies, settings.pictures, settings.incoming)
    }
    films: dict[int, int] = {}
    for name, size in sizes[settings.copies].items():
        number = name.split(".")[0].split("-")[0]
        if number.isdigit():
            films[int(number)] = films.get(int(number), 0) + size
    counts = recordings.clip_counts(connection)
    kept = []
    for recording in recordings.everyone(connection):
        path = recording.original_path
        original = sizes[settings.originals].get(Path(path).name, 0) if path else 0
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
        originals=sum(sizes[settings.originals].values()),
        films=sum(sizes[settings.copies].values()),
        pictures=sum(sizes[settings.pictures].values()),
        arriving=sum(sizes[settings.incoming].values()),
        database=sum(p.stat().st_size for p in settings.data.glob("*.sqlite3*")),
        free=shutil.disk_usage(settings.data).free,
        releasable_bytes=sum(k.original_bytes for k in kept if k.releasable),
        trash_bytes=sum(
            k.original_bytes + k.made_bytes for k in kept if k.clips and k.clips == k.in_trash
        ),
    )


def _sizes(folder: Path) -> dict[str, int]:
    found = {}
    for path in folder.iterdir():
        try:
            if path.is_file():
                found[path.name] = path.stat().st_size
        except FileNotFoundError:
            continue  # made or taken away while we look
    return found
