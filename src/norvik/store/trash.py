"""The trash: clips put away with all their work, until they are brought back or deleted."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.store import clips, review_clips
from norvik.store.clips import Clip
from norvik.store.scope import Within, of_clips


@dataclass(frozen=True, slots=True)
class Contents:
    """What goes with clips: counts, and the bytes of recordings that no other clip needs.

    reviews: that stay, but lose a clip on which they rest.
    """

    clips: int
    marks: int
    ticks: int
    remarks: int
    reviews: int
    loops: int
    measures: int
    recordings: int
    bytes: int


def _marks_of(ids: Sequence[int]) -> str:
    return ", ".join("?" * len(ids))


def contents(connection: sqlite3.Connection, ids: Sequence[int]) -> Contents:
    """Count what hangs on these clips, so that nobody deletes more than is meant."""
    holes = _marks_of(ids)
    counts = [
        connection.execute(
            f"SELECT count(*) FROM {table} WHERE clip_id IN ({holes})", tuple(ids)
        ).fetchone()[0]
        for table in ("marks", "sightings", "loops", "drawings", "remarks")
    ]
    alone, size = connection.execute(
        "SELECT count(*), coalesce(sum(r.bytes), 0) FROM recordings r "
        f"WHERE r.id IN (SELECT recording_id FROM clips WHERE id IN ({holes})) "
        f"AND NOT EXISTS (SELECT 1 FROM clips o WHERE o.recording_id = r.id "
        f"AND o.id NOT IN ({holes}))",
        (*ids, *ids),
    ).fetchone()
    # They stay, and say that a clip is gone.
    losing = connection.execute(
        "SELECT count(DISTINCT m.review_id) FROM review_clips m JOIN reviews v "
        "ON v.id = m.review_id WHERE NOT m.taken_out AND (v.words != '' OR v.done_at IS NOT NULL "
        "OR EXISTS (SELECT 1 FROM focuses f WHERE f.review_id = v.id)) "
        f"AND m.clip_id IN ({holes})",
        tuple(ids),
    ).fetchone()[0]
    marks, ticks, loops, taken, said = counts
    return Contents(len(ids), marks, ticks, said, losing, loops, taken, alone, size)


def put(connection: sqlite3.Connection, ids: Sequence[int]) -> None:
    connection.execute(
        "UPDATE clips SET trashed_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now') "
        f"WHERE trashed_at IS NULL AND id IN ({_marks_of(ids)})",
        tuple(ids),
    )


def bring_back(connection: sqlite3.Connection, ids: Sequence[int]) -> None:
    connection.execute(
        f"UPDATE clips SET trashed_at = NULL WHERE id IN ({_marks_of(ids)})", tuple(ids)
    )


def all_of_it(connection: sqlite3.Connection, within: Within = None) -> list[Clip]:
    mine, values = of_clips(within)
    rows = connection.execute(
        clips.SELECT + f"WHERE c.trashed_at IS NOT NULL AND {mine} "
        "ORDER BY c.trashed_at DESC, c.id DESC",
        values,
    )
    return [clips.from_row(row) for row in rows]


def delete(connection: sqlite3.Connection, ids: Sequence[int]) -> list[tuple[int, str | None]]:
    """Delete clips for good, and recordings that no clip needs any more.

    Call inside a transaction. Only what is in the trash is deleted. Returns the recordings that
    went, each with the path of its original: their files are the caller's.
    """
    for clip_id in ids:
        review_clips.remember(connection, clip_id)
    connection.execute(
        f"DELETE FROM clips WHERE trashed_at IS NOT NULL AND id IN ({_marks_of(ids)})", tuple(ids)
    )
    rows = connection.execute(
        "DELETE FROM recordings WHERE NOT EXISTS "
        "(SELECT 1 FROM clips c WHERE c.recording_id = recordings.id) "
        "RETURNING id, original_path"
    )
    return [(row["id"], row["original_path"]) for row in rows.fetchall()]
