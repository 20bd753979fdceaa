"""Clips: what a recording is, where its files lie, how far its preparation is."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from norvik.core.errors import NotFoundError
from norvik.core.timebase import TimeBase
from norvik.footage.probe import is_constant
from norvik.footage.review_copy import ReviewCopy

VIEWS = ("side-under", "side-above", "front-under", "front-above", "overhead", "behind")
#: Least and most slow-motion factor that is believed.
STRETCH_RANGE = (0.05, 100.0)
ROLES = ("before", "drill", "after", "race", "speed-step", "model")


@dataclass(frozen=True, slots=True)
class Clip:
    """A row of the clips table with the swimmer's name; see the migration for the columns."""

    id: int
    swimmer_id: int
    swimmer_name: str
    stroke: str
    view: str
    role: str
    filmed_on: str
    stretch: float
    original_name: str
    original_path: str
    sha256: str
    bytes: int
    state: str
    failure: str | None
    warning: str | None
    review_path: str | None
    rate_num: int | None
    rate_den: int | None
    width: int | None
    height: int | None
    source_width: int | None
    source_height: int | None
    codec: str | None
    frames: int | None
    constant_rate: int | None
    created_at: str
    marks: int
    reviewed_at: str | None

    @property
    def rate(self) -> Fraction:
        """The constant rate of the review copy in frames per second."""
        return Fraction(self.rate_num or 1, self.rate_den or 1)


_SELECT = """
SELECT c.id, c.swimmer_id, s.name AS swimmer_name, c.stroke, c.view, c.role, c.filmed_on,
    c.stretch, c.original_name, c.original_path, c.sha256, c.bytes, c.state, c.failure, c.warning,
    c.review_path, c.rate_num, c.rate_den, c.width, c.height, c.source_width, c.source_height,
    c.codec, c.frames, c.constant_rate, c.created_at,
    (SELECT count(*) FROM marks m WHERE m.clip_id = c.id) AS marks,
    (SELECT r.done_at FROM reviews r WHERE r.clip_id = c.id) AS reviewed_at
FROM clips c JOIN swimmers s ON s.id = c.swimmer_id
"""


@dataclass(frozen=True, slots=True)
class NewClip:
    """What is known of a clip when its upload has ended."""

    swimmer_id: int
    stroke: str
    view: str
    role: str
    filmed_on: str
    stretch: float
    original_name: str
    original_path: str
    sha256: str
    bytes: int
    created_by: int | None = None


def add(connection: sqlite3.Connection, clip: NewClip) -> int:
    row = connection.execute(
        "INSERT INTO clips (swimmer_id, stroke, view, role, filmed_on, stretch, original_name, "
        "original_path, sha256, bytes, state, created_by) "
        "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 'waiting', ?) RETURNING id",
        (
            clip.swimmer_id,
            clip.stroke,
            clip.view,
            clip.role,
            clip.filmed_on,
            clip.stretch,
            clip.original_name,
            clip.original_path,
            clip.sha256,
            clip.bytes,
            clip.created_by,
        ),
    ).fetchone()
    return int(row["id"])


def by_id(connection: sqlite3.Connection, clip_id: int) -> Clip:
    row = connection.execute(_SELECT + "WHERE c.id = ?", (clip_id,)).fetchone()
    if row is None:
        raise NotFoundError("This clip is not in the library (any more).")
    return Clip(**row)


def newest_first(
    connection: sqlite3.Connection, swimmer_id: int | None = None, limit: int = 500
) -> list[Clip]:
    rows = connection.execute(
        _SELECT
        + "WHERE ?1 IS NULL OR c.swimmer_id = ?1 ORDER BY c.filmed_on DESC, c.id DESC LIMIT ?2",
        (swimmer_id, limit),
    )
    return [Clip(**row) for row in rows]


def by_checksum(connection: sqlite3.Connection, sha256: str) -> Clip | None:
    row = connection.execute(
        _SELECT + "WHERE c.sha256 = ? AND c.state != 'failed' ORDER BY c.id LIMIT 1", (sha256,)
    ).fetchone()
    return Clip(**row) if row else None


def set_ready(
    connection: sqlite3.Connection, clip_id: int, made: ReviewCopy, review_path: str
) -> None:
    """Store the frame table and all that decoding told. Call inside a transaction."""
    connection.execute(
        "INSERT OR REPLACE INTO frame_tables (clip_id, media_s) VALUES (?, ?)",
        (clip_id, made.media_s.astype("<f8").tobytes()),
    )
    connection.execute(
        "UPDATE clips SET state = 'ready', failure = NULL, warning = ?, review_path = ?, "
        "rate_num = ?, rate_den = ?, width = ?, height = ?, source_width = ?, source_height = ?, "
        "codec = ?, frames = ?, constant_rate = ? WHERE id = ?",
        (
            made.losses.sentence(),
            review_path,
            made.rate.numerator,
            made.rate.denominator,
            made.width,
            made.height,
            made.source.width,
            made.source.height,
            made.codec,
            int(made.media_s.size),
            int(is_constant(made.media_s, made.tick_s)),
            clip_id,
        ),
    )


def set_failed(connection: sqlite3.Connection, clip_id: int, failure: str) -> None:
    connection.execute(
        "UPDATE clips SET state = 'failed', failure = ? WHERE id = ?", (failure, clip_id)
    )


def set_waiting(connection: sqlite3.Connection, clip_id: int) -> None:
    connection.execute(
        "UPDATE clips SET state = 'waiting', failure = NULL WHERE id = ?", (clip_id,)
    )


def set_stretch(connection: sqlite3.Connection, clip_id: int, stretch: float) -> None:
    connection.execute("UPDATE clips SET stretch = ? WHERE id = ?", (stretch, clip_id))


def delete(connection: sqlite3.Connection, clip_id: int) -> None:
    """Delete a clip with its marks, changes, sightings and review; files are the caller's."""
    connection.execute("DELETE FROM clips WHERE id = ?", (clip_id,))


def time_base(connection: sqlite3.Connection, clip: Clip) -> TimeBase:
    """Every frame's time. Raises NotFoundError while the clip is not ready."""
    row = connection.execute(
        "SELECT media_s FROM frame_tables WHERE clip_id = ?", (clip.id,)
    ).fetchone()
    if row is None:
        raise NotFoundError("This clip is still being prepared. Wait until it is ready.")
    return TimeBase(np.frombuffer(row["media_s"], dtype="<f8").astype(np.float64), clip.stretch)
