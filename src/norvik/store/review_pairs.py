"""Instants of two films beside each other, kept for a review."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from norvik.core.errors import NotFoundError

#: Frame of the one film, frame of the other, what it is ("catch").
PairRow = tuple[int, int, str]
LONGEST_CAPTION = 300


@dataclass(frozen=True, slots=True)
class ReviewPair:
    """One row is a pair of instants, several are a strip. other_model: in place of a clip."""

    id: int
    review_id: int
    one_clip_id: int
    other_clip_id: int | None
    other_model: dict[str, Any] | None
    rows: tuple[PairRow, ...]
    caption: str = ""


_COLUMNS = "id, review_id, one_clip_id, other_clip_id, other_model, rows, caption"


def _pair(row: sqlite3.Row) -> ReviewPair:
    rows = tuple((int(a), int(b), str(words)) for a, b, words in json.loads(row["rows"]))
    model = row["other_model"]
    return ReviewPair(
        row["id"], row["review_id"], row["one_clip_id"], row["other_clip_id"],
        json.loads(model) if model else None, rows, row["caption"],
    )  # fmt: skip


def of_review(connection: sqlite3.Connection, review_id: int) -> list[ReviewPair]:
    """In the order in which they were kept."""
    found = connection.execute(
        f"SELECT {_COLUMNS} FROM review_pairs WHERE review_id = ? ORDER BY id", (review_id,)
    )
    return [_pair(row) for row in found]


def by_id(connection: sqlite3.Connection, review_id: int, pair_id: int) -> ReviewPair:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM review_pairs WHERE review_id = ? AND id = ?", (review_id, pair_id)
    ).fetchone()
    if row is None:
        raise NotFoundError("This pair has been taken out of the review.")
    return _pair(row)


def keep(
    connection: sqlite3.Connection, review_id: int, one_clip_id: int, other_clip_id: int | None,
    other_model: dict[str, Any] | None, rows: Sequence[PairRow], caption: str, user_id: int | None,
) -> int:  # fmt: skip
    made = connection.execute(
        "INSERT INTO review_pairs (review_id, one_clip_id, other_clip_id, other_model, rows, "
        "caption, created_by) VALUES (?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (
            review_id, one_clip_id, other_clip_id, json.dumps(other_model) if other_model else None,
            json.dumps([list(row) for row in rows]), caption, user_id,
        ),
    ).fetchone()  # fmt: skip
    return int(made["id"])


def set_caption(connection: sqlite3.Connection, review_id: int, pair_id: int, caption: str) -> None:
    connection.execute(
        "UPDATE review_pairs SET caption = ? WHERE review_id = ? AND id = ?",
        (caption, review_id, pair_id),
    )


def take_out(connection: sqlite3.Connection, review_id: int, pair_id: int) -> None:
    connection.execute(
        "DELETE FROM review_pairs WHERE review_id = ? AND id = ?", (review_id, pair_id)
    )
