"""Films that were made to be sent: of a talk, a clip with its drawings, two clips, one cycle."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from norvik.core.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class MadeFilm:
    """path: relative to the data folder. made_of: the wish, in full."""

    id: int
    review_id: int | None
    clip_id: int | None
    made_of: dict[str, Any]
    path: str
    seconds: float
    bytes: int


_COLUMNS = "id, review_id, clip_id, made_of, path, seconds, bytes"


def _film(row: sqlite3.Row) -> MadeFilm:
    return MadeFilm(row[0], row[1], row[2], json.loads(row[3]), row[4], row[5], row[6])


def written(made_of: Mapping[str, Any]) -> str:
    """The same wish is always written in the same way."""
    return json.dumps(dict(made_of), sort_keys=True)


def find(connection: sqlite3.Connection, made_of: Mapping[str, Any]) -> MadeFilm | None:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM made_films WHERE made_of = ?", (written(made_of),)
    ).fetchone()
    return _film(row) if row else None


def by_id(connection: sqlite3.Connection, film_id: int) -> MadeFilm:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM made_films WHERE id = ?", (film_id,)
    ).fetchone()
    if row is None:
        raise NotFoundError("This film has been deleted. Make it again.")
    return _film(row)


def put(
    connection: sqlite3.Connection, made_of: Mapping[str, Any], review_id: int | None,
    clip_id: int | None, path: str, seconds: float, size: int,
) -> None:  # fmt: skip
    """Keep a film; one of an older talk with the same shape goes, with its file."""
    if "talk_id" in made_of:
        connection.execute(
            "DELETE FROM made_films WHERE json_extract(made_of, '$.talk_id') = ? "
            "AND json_extract(made_of, '$.shape') = ?",
            (made_of["talk_id"], made_of.get("shape")),
        )
    connection.execute("DELETE FROM made_films WHERE made_of = ?", (written(made_of),))
    connection.execute(
        "INSERT INTO made_films "
        "(review_id, clip_id, made_of, path, seconds, bytes) VALUES (?, ?, ?, ?, ?, ?)",
        (review_id, clip_id, written(made_of), path, seconds, size),
    )


def paths(connection: sqlite3.Connection) -> set[str]:
    return {row[0] for row in connection.execute("SELECT path FROM made_films")}


def of_review(connection: sqlite3.Connection, review_id: int) -> list[MadeFilm]:
    """Newest first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM made_films WHERE review_id = ? ORDER BY id DESC", (review_id,)
    )
    return [_film(row) for row in rows]
