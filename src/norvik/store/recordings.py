"""Recordings: a file that was brought, how far its preparation is, and its time base."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Any, Literal

import numpy as np

from norvik.core.errors import NotFoundError, NotReadyError
from norvik.core.frame.filmstrip import Strip
from norvik.core.frame.levels import Levels
from norvik.core.time.decoded import Decoded
from norvik.core.time.timebase import Stretch, TimeBase, checked_stretches

#: As its migration allows them.
RecordingState = Literal["waiting", "opening", "ready", "failed"]
#: States in which something can be watched and marked.
WATCHABLE: tuple[RecordingState, ...] = ("opening", "ready")


@dataclass(frozen=True, slots=True)
class Recording:
    """A row of the recordings table; see its migration for the columns."""

    id: int
    original_name: str
    original_path: str | None
    sha256: str
    bytes: int
    state: RecordingState
    failure: str | None
    warning: str | None
    times_estimated: bool
    review_path: str | None
    copied: bool
    rate: Fraction
    width: int | None
    height: int | None
    source_width: int | None
    source_height: int | None
    codec: str | None
    frames: int
    constant_rate: bool
    sound: bool
    strip: Strip | None
    levels: Levels | None
    stretches: tuple[Stretch, ...]
    told_rate_fps: float | None
    check: tuple[int, int, float] | None
    created_at: str

    @property
    def watchable(self) -> bool:
        return self.state in WATCHABLE and self.review_path is not None

    @property
    def released(self) -> bool:
        """True when the original was given up and only the review copy is left."""
        return self.original_path is None

    @property
    def releasable(self) -> bool:
        """Is there a whole review copy apart from the original?"""
        return self.state == "ready" and self.copied and self.original_path is not None


COLUMNS = """r.id, r.original_name, r.original_path, r.sha256, r.bytes, r.state, r.failure,
    r.warning, r.times_estimated, r.review_path, r.copied, r.rate_num, r.rate_den, r.width,
    r.height, r.source_width, r.source_height, r.codec, r.frames, r.constant_rate, r.sound,
    r.strip, r.levels, r.stretches, r.told_rate_fps, r.check_first, r.check_last, r.check_s,
    r.created_at"""


def from_values(values: Sequence[Any]) -> Recording:
    """A recording from the values of COLUMNS, in their order."""
    (id_, name, path, sha256, size, state, failure, warning, estimated, review_path, copied,
     rate_num, rate_den, width, height, source_width, source_height, codec, frames, constant,
     sound, strip, levels, stretches, told, first, last, check_s, created_at) = values  # fmt: skip
    return Recording(
        id_, name, path, sha256, size, state, failure, warning, bool(estimated), review_path,
        bool(copied), Fraction(rate_num or 1, rate_den or 1), width, height, source_width,
        source_height, codec, frames or 0, constant != 0, bool(sound),
        Strip(**json.loads(strip)) if strip else None,
        Levels.from_list(json.loads(levels)) if levels else None,
        _stretches(stretches), told,
        (first, last, check_s) if check_s is not None else None, created_at,
    )  # fmt: skip


@lru_cache(maxsize=64)
def _stretches(text: str) -> tuple[Stretch, ...]:
    return tuple(Stretch(int(frame), float(factor)) for frame, factor in json.loads(text))


@dataclass(frozen=True, slots=True)
class NewRecording:
    """What is known of a file when it has come in."""

    original_name: str
    original_path: str
    sha256: str
    bytes: int
    stretches: tuple[Stretch, ...]
    told_rate_fps: float | None = None
    created_by: int | None = None


def add(connection: sqlite3.Connection, new: NewRecording) -> int:
    row = connection.execute(
        "INSERT INTO recordings (original_name, original_path, sha256, bytes, stretches, "
        "told_rate_fps, created_by, state) VALUES (?, ?, ?, ?, ?, ?, ?, 'waiting') RETURNING id",
        (
            new.original_name,
            new.original_path,
            new.sha256,
            new.bytes,
            _as_json(new.stretches),
            new.told_rate_fps,
            new.created_by,
        ),
    ).fetchone()
    return int(row["id"])


def by_id(connection: sqlite3.Connection, recording_id: int) -> Recording:
    row = connection.execute(
        f"SELECT {COLUMNS} FROM recordings r WHERE r.id = ?", (recording_id,)
    ).fetchone()
    if row is None:
        raise NotFoundError("This recording has been deleted.")
    return from_values(tuple(row))


def by_checksum(connection: sqlite3.Connection, sha256: str) -> Recording | None:
    """The recording of the very same file, a usable one before one that failed."""
    row = connection.execute(
        f"SELECT {COLUMNS} FROM recordings r WHERE r.sha256 = ? "
        "ORDER BY r.state = 'failed', r.id LIMIT 1",
        (sha256,),
    ).fetchone()
    return from_values(tuple(row)) if row else None


def set_watchable(
    connection: sqlite3.Connection,
    recording_id: int,
    made: Decoded,
    review_path: str,
    *,
    whole: bool,
    strip: Strip | None = None,
    levels: Levels | None = None,
    sound: bool = False,
) -> None:
    """Store the frame table and all that decoding told. Call inside a transaction.

    whole: the copy holds every frame; else it is the first stretch and more will come.
    """
    connection.execute(
        "INSERT OR REPLACE INTO frame_tables (recording_id, media_s) VALUES (?, ?)",
        (recording_id, made.media_s.astype("<f8").tobytes()),
    )
    connection.execute(
        "UPDATE recordings SET state = ?, failure = NULL, warning = ?, times_estimated = ?, "
        "review_path = ?, copied = ?, rate_num = ?, rate_den = ?, width = ?, height = ?, "
        "source_width = ?, source_height = ?, codec = ?, frames = ?, constant_rate = ?, "
        "strip = ?, levels = ?, sound = ? WHERE id = ?",
        (
            "ready" if whole else "opening",
            made.warning,
            int(made.times_estimated),
            review_path,
            int(made.copied),
            made.rate.numerator,
            made.rate.denominator,
            made.width,
            made.height,
            made.source_width,
            made.source_height,
            made.codec,
            int(made.media_s.size),
            int(made.constant),
            json.dumps(strip.as_dict()) if strip else "",
            json.dumps(levels.as_list()) if levels else "",
            int(sound),
            recording_id,
        ),
    )


def set_failed(connection: sqlite3.Connection, recording_id: int, failure: str) -> None:
    connection.execute(
        "UPDATE recordings SET state = 'failed', failure = ?, review_path = NULL WHERE id = ?",
        (failure, recording_id),
    )


def set_waiting(connection: sqlite3.Connection, recording_id: int) -> None:
    connection.execute(
        "UPDATE recordings SET state = 'waiting', failure = NULL WHERE id = ?", (recording_id,)
    )


def set_review_path(connection: sqlite3.Connection, recording_id: int, path: str) -> None:
    """Where the whole review copy lies, relative to the data folder."""
    connection.execute("UPDATE recordings SET review_path = ? WHERE id = ?", (path, recording_id))


def set_released(connection: sqlite3.Connection, recording_id: int) -> None:
    connection.execute("UPDATE recordings SET original_path = NULL WHERE id = ?", (recording_id,))


def set_stretches(
    connection: sqlite3.Connection, recording_id: int, stretches: Sequence[Stretch]
) -> None:
    """Store the slow-motion factors. Raises TimeBaseError when they cannot be right."""
    connection.execute(
        "UPDATE recordings SET stretches = ? WHERE id = ?",
        (_as_json(checked_stretches(stretches)), recording_id),
    )


def set_check(
    connection: sqlite3.Connection, recording_id: int, check: tuple[int, int, float] | None
) -> None:
    """Keep a time check, or forget it."""
    first, last, true_s = check or (None, None, None)
    connection.execute(
        "UPDATE recordings SET check_first = ?, check_last = ?, check_s = ? WHERE id = ?",
        (first, last, true_s, recording_id),
    )


def delete(connection: sqlite3.Connection, recording_id: int) -> None:
    """Delete a recording with its clips and all that hangs on them; files are the caller's."""
    connection.execute("DELETE FROM recordings WHERE id = ?", (recording_id,))


def original_paths(connection: sqlite3.Connection) -> dict[int, str | None]:
    """Recording to where its original lies in the data folder; None once it was given up."""
    return dict(connection.execute("SELECT id, original_path FROM recordings").fetchall())


def review_paths(connection: sqlite3.Connection) -> set[str]:
    """Where the films lie that are played, in the data folder."""
    rows = connection.execute("SELECT review_path FROM recordings WHERE review_path NOT NULL")
    return {row["review_path"] for row in rows}


def clip_counts(connection: sqlite3.Connection) -> dict[int, tuple[int, int]]:
    """Recording to how many clips it has and how many of them are in the trash."""
    rows = connection.execute(
        "SELECT recording_id, count(*) AS n, count(trashed_at) AS gone FROM clips "
        "GROUP BY recording_id"
    )
    return {row["recording_id"]: (row["n"], row["gone"]) for row in rows}


def of_numbers(connection: sqlite3.Connection, numbers: Sequence[int]) -> list[Recording]:
    """Those recordings, in the order of their numbers as given; deleted ones are left out."""
    rows = connection.execute(
        f"SELECT {COLUMNS} FROM recordings r WHERE r.id IN (SELECT value FROM json_each(?))",
        (json.dumps(list(numbers)),),
    )
    found = {made.id: made for row in rows if (made := from_values(tuple(row)))}
    return [found[number] for number in numbers if number in found]


def files_state(connection: sqlite3.Connection) -> tuple[int, ...]:
    """What tells whether a recording has come, gone, or got or lost a file."""
    row = connection.execute(
        "SELECT count(*), total(id), total(bytes), count(original_path), count(review_path), "
        "total(copied), total(state = 'ready') FROM recordings"
    ).fetchone()
    return tuple(int(value) for value in row)


def releasable(connection: sqlite3.Connection) -> Iterator[tuple[int, str | None, bool]]:
    """(number, name of the original or None, see Recording.releasable) of every recording."""
    for row in connection.execute("SELECT id, original_path, state, copied FROM recordings"):
        path = row["original_path"]
        yield row["id"], path, row["state"] == "ready" and bool(row["copied"]) and path is not None


def everyone(connection: sqlite3.Connection) -> list[Recording]:
    rows = connection.execute(f"SELECT {COLUMNS} FROM recordings r ORDER BY r.bytes DESC, r.id")
    return [from_values(tuple(row)) for row in rows]


def time_base(connection: sqlite3.Connection, recording: Recording) -> TimeBase:
    """Every frame's time. Raises NotReadyError while nothing can be watched."""
    row = connection.execute(
        "SELECT media_s FROM frame_tables WHERE recording_id = ?", (recording.id,)
    ).fetchone()
    if row is None or not recording.watchable:
        raise NotReadyError("This clip is still being prepared. Wait until it is ready.")
    return _time_base(row["media_s"], recording.stretches)


@lru_cache(maxsize=12)
def _time_base(media_s: bytes, stretches: tuple[Stretch, ...]) -> TimeBase:
    """Kept for the clips in work: a long recording's table costs time to take apart."""
    return TimeBase(np.frombuffer(media_s, dtype="<f8").astype(np.float64), stretches)


def _as_json(stretches: Sequence[Stretch]) -> str:
    return json.dumps([[s.from_frame, s.factor] for s in stretches])
