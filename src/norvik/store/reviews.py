"""The review of a clip: chosen focuses, their stills and drills, the coach's words, next date."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass

from norvik.store.connection import transaction


@dataclass(frozen=True, slots=True)
class Focus:
    """One point to work on. drills: what the coach kept; None means as prescribed."""

    fault: str
    still_frame: int | None
    drills: tuple[str, ...] | None


@dataclass(frozen=True, slots=True)
class Review:
    words: str
    film_again_on: str | None
    done_at: str | None
    focuses: tuple[Focus, ...]


def of_clip(connection: sqlite3.Connection, clip_id: int) -> Review:
    """The review; an empty one where nothing has been chosen yet."""
    row = connection.execute(
        "SELECT words, film_again_on, done_at FROM reviews WHERE clip_id = ?", (clip_id,)
    ).fetchone()
    rows = connection.execute(
        "SELECT fault, still_frame, drills FROM focuses WHERE clip_id = ? ORDER BY place",
        (clip_id,),
    )
    focuses = tuple(
        Focus(r["fault"], r["still_frame"], tuple(json.loads(r["drills"])) if r["drills"] else None)
        for r in rows
    )
    if row is None:
        return Review("", None, None, focuses)
    return Review(row["words"], row["film_again_on"], row["done_at"], focuses)


def choose(connection: sqlite3.Connection, clip_id: int, faults: list[str]) -> None:
    """Set the focuses in this order. What was set for a focus that stays is kept."""
    with transaction(connection):
        connection.execute(
            "DELETE FROM focuses WHERE clip_id = ? "
            "AND fault NOT IN (SELECT value FROM json_each(?))",
            (clip_id, json.dumps(faults)),
        )
        connection.execute(
            "DELETE FROM overrules WHERE clip_id = ? "
            "AND fault NOT IN (SELECT value FROM json_each(?))",
            (clip_id, json.dumps(faults)),
        )
        for place, fault in enumerate(faults):
            connection.execute(
                "INSERT INTO focuses (clip_id, fault, place) VALUES (?, ?, ?) "
                "ON CONFLICT (clip_id, fault) DO UPDATE SET place = excluded.place",
                (clip_id, fault, place),
            )


def reasons(connection: sqlite3.Connection, clip_id: int) -> dict[str, str]:
    """Why the coach chose other points than those proposed, by fault."""
    rows = connection.execute(
        "SELECT o.fault, o.because FROM overrules o "
        "JOIN focuses f ON f.clip_id = o.clip_id AND f.fault = o.fault WHERE o.clip_id = ?",
        (clip_id,),
    )
    return dict(rows.fetchall())


def set_reason(connection: sqlite3.Connection, clip_id: int, fault: str, because: str) -> None:
    connection.execute(
        "INSERT INTO overrules (clip_id, fault, because) VALUES (?, ?, ?) "
        "ON CONFLICT (clip_id, fault) DO UPDATE SET because = excluded.because",
        (clip_id, fault, because),
    )


def set_still(connection: sqlite3.Connection, clip_id: int, fault: str, frame: int | None) -> None:
    connection.execute(
        "UPDATE focuses SET still_frame = ? WHERE clip_id = ? AND fault = ?",
        (frame, clip_id, fault),
    )


def set_drills(
    connection: sqlite3.Connection, clip_id: int, fault: str, drills: list[str] | None
) -> None:
    connection.execute(
        "UPDATE focuses SET drills = ? WHERE clip_id = ? AND fault = ?",
        (None if drills is None else json.dumps(drills), clip_id, fault),
    )


def set_words(
    connection: sqlite3.Connection, clip_id: int, words: str, film_again_on: str | None
) -> None:
    connection.execute(
        "INSERT INTO reviews (clip_id, words, film_again_on) VALUES (?, ?, ?) "
        "ON CONFLICT (clip_id) DO UPDATE SET words = excluded.words, "
        "film_again_on = excluded.film_again_on",
        (clip_id, words, film_again_on),
    )


def set_done(connection: sqlite3.Connection, clip_id: int, done: bool) -> None:
    connection.execute(
        "INSERT INTO reviews (clip_id, done_at) "
        "VALUES (?1, CASE ?2 WHEN 1 THEN strftime('%Y-%m-%dT%H:%M:%SZ', 'now') END) "
        "ON CONFLICT (clip_id) DO UPDATE SET done_at = excluded.done_at",
        (clip_id, int(done)),
    )
