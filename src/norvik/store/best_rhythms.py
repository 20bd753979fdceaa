"""The rates at which a swimmer looked and went best: clips that the coach picked out."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.strokes.names import StrokeName


@dataclass(frozen=True, slots=True)
class Band:
    """The best rhythm of a swimmer in one stroke, cycles a minute; clips: how many say so."""

    low: float
    high: float
    clips: int

    @property
    def middle(self) -> float:
        return (self.low + self.high) / 2


def keep(connection: sqlite3.Connection, clip_id: int, cycles_per_min: float) -> None:
    connection.execute(
        "INSERT INTO best_rhythms (clip_id, cycles_per_min) VALUES (?, ?) "
        "ON CONFLICT (clip_id) DO UPDATE SET cycles_per_min = excluded.cycles_per_min",
        (clip_id, cycles_per_min),
    )


def forget(connection: sqlite3.Connection, clip_id: int) -> None:
    connection.execute("DELETE FROM best_rhythms WHERE clip_id = ?", (clip_id,))


def of_clip(connection: sqlite3.Connection, clip_id: int) -> float | None:
    row = connection.execute(
        "SELECT cycles_per_min FROM best_rhythms WHERE clip_id = ?", (clip_id,)
    ).fetchone()
    return None if row is None else float(row[0])


def band(connection: sqlite3.Connection, swimmer_id: int, stroke: StrokeName) -> Band | None:
    """From the slowest to the quickest of the clips picked out; None without any."""
    low, high, count = connection.execute(
        "SELECT min(b.cycles_per_min), max(b.cycles_per_min), count(*) FROM best_rhythms b "
        "JOIN clips c ON c.id = b.clip_id "
        "WHERE c.swimmer_id = ? AND c.stroke = ? AND c.trashed_at IS NULL",
        (swimmer_id, stroke),
    ).fetchone()
    return Band(low, high, count) if count else None
