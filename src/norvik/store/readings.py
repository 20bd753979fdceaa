"""What was read of clips by the film alone, and what coaches answered to it."""

from __future__ import annotations

import sqlite3
import zlib
from collections.abc import Iterable, Mapping, Sequence

import msgspec
import numpy as np
from numpy.typing import NDArray

from norvik.core.strokes.names import AnyStroke, Lane, Side, StrokeName
from norvik.store.connection import transaction

Poses = NDArray[np.float32]


class StoredEvent(msgspec.Struct, frozen=True, array_like=True):
    """frame: of the recording, with its share of the next. u95: half width of its 95 % interval in
    frames. confidence: 0 to 1. bridged: out of sight there, placed by the other cycles.
    """

    frame: float
    lane: Lane
    side: Side
    event: str
    u95: float
    confidence: float
    bridged: bool = False


class StoredCycle(msgspec.Struct, frozen=True):
    """frames: of one cycle; u95: half width of its 95 % interval, frames. cycles: in the clip.

    seconds: of one cycle, by the time base at that time.
    """

    frames: float
    u95: float
    cycles: float
    seconds: float | None = None


class StoredPart(msgspec.Struct, frozen=True, array_like=True):
    """A stretch with a swimmer, frames of the recording. stroke: that the arms look like, with how
    clearly from 0 to 1; empty where none.
    """

    first: int
    last: int
    stroke: AnyStroke
    clear: float


class StoredMeasure(msgspec.Struct, frozen=True, array_like=True):
    """A measure on the frame as the film proposes it. points: source pixels. u: standard
    uncertainty in its unit.
    """

    frame: int
    measure: str
    side: Side
    points: tuple[tuple[float, float], ...]
    u: float


class ReadAs(msgspec.Struct, frozen=True):
    """What the clip was when it was read; a reading of anything else is out of date."""

    stroke: StrokeName
    view: str
    first_frame: int
    last_frame: int
    time_base: str


class Reading(msgspec.Struct, frozen=True):
    """seen: share of the frames read in which the swimmer was found. by_points: it rests on points
    that were tracked, not on the picture.
    """

    read_as: ReadAs
    seen: float
    cycle: StoredCycle | None
    events: tuple[StoredEvent, ...]
    reasons: Mapping[str, str]
    parts: tuple[StoredPart, ...] = ()
    looks_like: tuple[str, float] | None = None
    measures: tuple[StoredMeasure, ...] = ()
    by_points: bool = False


_COLUMNS = "read_as, seen, cycle, events, reasons, parts, looks_like, measures, by_points"


def of_clip(connection: sqlite3.Connection, clip_id: int) -> Reading | None:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM readings WHERE clip_id = ?", (clip_id,)
    ).fetchone()
    return _reading(row) if row else None


def of_marked(connection: sqlite3.Connection, most: int = 300) -> dict[int, Reading]:
    """Of the newest clips outside the trash that have marks, by the number of the clip."""
    rows = connection.execute(
        f"SELECT r.clip_id, {_COLUMNS} FROM readings r JOIN clips c ON c.id = r.clip_id "
        "WHERE c.trashed_at IS NULL AND EXISTS (SELECT 1 FROM marks m WHERE m.clip_id = c.id) "
        "ORDER BY r.clip_id DESC LIMIT ?",
        (most,),
    )
    return {row["clip_id"]: _reading(row) for row in rows}


def of_measured(connection: sqlite3.Connection, most: int = 300) -> dict[int, Reading]:
    """Of the newest clips outside the trash of which measures are proposed and some were taken."""
    rows = connection.execute(
        f"SELECT r.clip_id, {_COLUMNS} FROM readings r JOIN clips c ON c.id = r.clip_id "
        "WHERE c.trashed_at IS NULL AND r.measures <> '[]' AND EXISTS "
        "(SELECT 1 FROM drawings d WHERE d.clip_id = c.id AND d.kind = 'measure') "
        "ORDER BY r.clip_id DESC LIMIT ?",
        (most,),
    )
    return {row["clip_id"]: _reading(row) for row in rows}


def _reading(row: sqlite3.Row) -> Reading:
    decode = msgspec.json.decode
    return Reading(
        decode(row["read_as"], type=ReadAs),
        row["seen"],
        decode(row["cycle"], type=StoredCycle) if row["cycle"] else None,
        decode(row["events"], type=tuple[StoredEvent, ...]),
        decode(row["reasons"], type=dict[str, str]),
        decode(row["parts"], type=tuple[StoredPart, ...]),
        decode(row["looks_like"], type=tuple[str, float] | None),
        decode(row["measures"], type=tuple[StoredMeasure, ...]),
        bool(row["by_points"]),
    )


def put(
    connection: sqlite3.Connection, clip_id: int, reading: Reading, poses: Poses | None
) -> None:
    """Keep a reading in place of an older one. poses: see `poses_of`."""
    packed = None
    if poses is not None:
        packed = zlib.compress(np.asarray(poses, "<f4").tobytes(), 6)

    def text(value: object) -> str:
        return msgspec.json.encode(value).decode()

    with transaction(connection):
        connection.execute(
            "INSERT INTO readings (clip_id, read_as, seen, cycle, events, reasons, parts, "
            "looks_like, measures, by_points, poses) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) "
            "ON CONFLICT (clip_id) DO UPDATE SET "
            "read_as = excluded.read_as, seen = excluded.seen, cycle = excluded.cycle, "
            "parts = excluded.parts, looks_like = excluded.looks_like, "
            "measures = excluded.measures, by_points = excluded.by_points, "
            "events = excluded.events, reasons = excluded.reasons, poses = excluded.poses, "
            "made_at = excluded.made_at",
            (
                clip_id, text(reading.read_as), reading.seen,
                text(reading.cycle) if reading.cycle else None, text(reading.events),
                text(reading.reasons), text(reading.parts), text(reading.looks_like),
                text(reading.measures), reading.by_points, packed,
            ),
        )  # fmt: skip


def poses_of(connection: sqlite3.Connection, clip_id: int, columns: int) -> Poses | None:
    """Rows of frame, then x, y (source pixels) and visibility of every joint: so many columns."""
    row = connection.execute("SELECT poses FROM readings WHERE clip_id = ?", (clip_id,)).fetchone()
    if row is None or row["poses"] is None:
        return None
    return np.frombuffer(zlib.decompress(row["poses"]), "<f4").reshape(-1, columns)


def cycle_seconds(connection: sqlite3.Connection, clip_ids: Sequence[int]) -> dict[int, float]:
    """Clip to the seconds of a cycle as its film was read, where it could be."""
    rows = connection.execute(
        "SELECT clip_id, json_extract(cycle, '$.seconds') AS seconds FROM readings "
        "WHERE clip_id IN (SELECT value FROM json_each(?)) AND cycle IS NOT NULL",
        (msgspec.json.encode(list(clip_ids)).decode(),),
    )
    return {row["clip_id"]: row["seconds"] for row in rows if row["seconds"]}


def next_unread(connection: sqlite3.Connection, kind: str) -> int | None:
    """The newest clip without a mark, its film whole, that was not read as it is now; None without.

    kind: of the jobs that read. A clip on which one failed or was stopped is left alone.
    """
    row = connection.execute(
        "SELECT c.id FROM clips c JOIN recordings r ON r.id = c.recording_id "
        "LEFT JOIN readings g ON g.clip_id = c.id "
        "WHERE c.trashed_at IS NULL AND r.state = 'ready' "
        "AND NOT EXISTS (SELECT 1 FROM marks m WHERE m.clip_id = c.id) AND (g.clip_id IS NULL "
        "OR json_extract(g.read_as, '$.stroke') <> c.stroke "
        "OR json_extract(g.read_as, '$.view') <> c.view "
        "OR json_extract(g.read_as, '$.first_frame') <> c.first_frame) "
        "AND c.id NOT IN (SELECT json_extract(args, '$.clip_id') FROM jobs WHERE kind = ? "
        "AND state IN ('failed', 'cancelled', 'interrupted')) ORDER BY c.id DESC LIMIT 1",
        (kind,),
    ).fetchone()
    return int(row["id"]) if row else None


def answers(connection: sqlite3.Connection, clip_id: int) -> dict[tuple[str, str], str]:
    """(what, side) to yes, no or unsure."""
    rows = connection.execute(
        "SELECT what, side, answer FROM reading_answers WHERE clip_id = ?", (clip_id,)
    )
    return {(row["what"], row["side"]): row["answer"] for row in rows}


def put_answer(
    connection: sqlite3.Connection, clip_id: int, user_id: int | None, what: str, side: Side,
    answer: str,
) -> None:  # fmt: skip
    connection.execute(
        "INSERT INTO reading_answers (clip_id, what, side, answer, created_by) "
        "VALUES (?, ?, ?, ?, ?) ON CONFLICT (clip_id, what, side) DO UPDATE SET "
        "answer = excluded.answer, created_by = excluded.created_by",
        (clip_id, what, side, answer, user_id),
    )


def pass_over(
    connection: sqlite3.Connection, clip_id: int, measure: str, side: Side, frame: int
) -> None:
    """Remember that a proposed measure is not wanted there."""
    connection.execute(
        "INSERT INTO reading_passed (clip_id, measure, side, frame) VALUES (?, ?, ?, ?) "
        "ON CONFLICT DO NOTHING",
        (clip_id, measure, side, frame),
    )


def passed_over(connection: sqlite3.Connection, clip_id: int) -> list[tuple[str, Side, int]]:
    """(measure, side, frame) of what was passed over."""
    rows = connection.execute(
        "SELECT measure, side, frame FROM reading_passed WHERE clip_id = ?", (clip_id,)
    )
    return [(row["measure"], row["side"], row["frame"]) for row in rows]


def ask_again(connection: sqlite3.Connection, clip_id: int) -> None:
    """Forget what was passed over."""
    connection.execute("DELETE FROM reading_passed WHERE clip_id = ?", (clip_id,))


def add_taken(
    connection: sqlite3.Connection, clip_id: int, marks: Iterable[tuple[int, str, str, str]]
) -> None:
    """Remember marks (frame, lane, side, event) that were confirmed many at once."""
    connection.executemany(
        "INSERT INTO reading_taken (clip_id, frame, lane, side, event) VALUES (?, ?, ?, ?, ?) "
        "ON CONFLICT DO NOTHING",
        [(clip_id, *mark) for mark in marks],
    )


def taken(
    connection: sqlite3.Connection, clip_ids: Sequence[int]
) -> dict[int, set[tuple[int, str, str, str]]]:
    """Marks (frame, lane, side, event) that were confirmed many at once, by clip."""
    found: dict[int, set[tuple[int, str, str, str]]] = {}
    for clip_id in clip_ids:
        rows = connection.execute(
            "SELECT frame, lane, side, event FROM reading_taken WHERE clip_id = ?", (clip_id,)
        )
        found[clip_id] = {tuple(row) for row in rows}
    return found
