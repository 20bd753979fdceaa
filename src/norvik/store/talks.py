"""Talks: takes with their sound and deeds, and the row of pieces that is heard."""

from __future__ import annotations

import json
import sqlite3
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from norvik.core.errors import NotFoundError, TalkError
from norvik.core.talk.chapters import Caption
from norvik.core.talk.pieces import Piece
from norvik.store.connection import transaction

#: Steps of mending that can be undone, at most.
_MOST_STEPS = 60


@dataclass(frozen=True, slots=True)
class Talk:
    """revision: grows with whatever changes what is heard or seen; names of films hang on it."""

    id: int
    review_id: int
    pieces: tuple[Piece, ...]
    revision: int
    can_undo: bool
    can_redo: bool
    created_at: str


@dataclass(frozen=True, slots=True)
class Take:
    """mime: of the sound, empty where no microphone was used."""

    id: int
    talk_id: int
    key: str
    mime: str
    length_ms: float


@dataclass(frozen=True, slots=True)
class Deeds:
    """The deeds of a take as they came, unchecked, and its drawings: key to SVG."""

    deeds: list[list[Any]]
    inks: dict[int, str]


_COLUMNS = "id, review_id, pieces, before, gone, revision, created_at"


def _talk(row: sqlite3.Row) -> Talk:
    return Talk(
        row["id"], row["review_id"], _pieces(json.loads(row["pieces"])), row["revision"],
        row["before"] != "[]", row["gone"] != "[]", row["created_at"],
    )  # fmt: skip


def _pieces(rows: list[list[Any]]) -> tuple[Piece, ...]:
    return tuple(Piece(*row) for row in rows)


def _rows(pieces: Sequence[Piece]) -> list[list[Any]]:
    return [[p.take, p.from_ms, p.to_ms] for p in pieces]


def add(connection: sqlite3.Connection, review_id: int, user_id: int | None) -> int:
    row = connection.execute(
        "INSERT INTO talks (review_id, created_by) VALUES (?, ?) RETURNING id", (review_id, user_id)
    ).fetchone()
    return int(row["id"])


def by_id(connection: sqlite3.Connection, talk_id: int) -> Talk:
    """Raises NotFoundError."""
    row = connection.execute(f"SELECT {_COLUMNS} FROM talks WHERE id = ?", (talk_id,)).fetchone()
    if row is None:
        raise NotFoundError("This talk has been deleted.")
    return _talk(row)


def of_review(connection: sqlite3.Connection, review_id: int) -> list[Talk]:
    """Newest first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM talks WHERE review_id = ? ORDER BY id DESC", (review_id,)
    )
    return [_talk(row) for row in rows]


def delete(connection: sqlite3.Connection, talk_id: int) -> None:
    """The talk with its takes and the films that were made of it."""
    with transaction(connection):
        connection.execute(
            "DELETE FROM made_films WHERE json_extract(made_of, '$.talk_id') = ?", (talk_id,)
        )
        connection.execute("DELETE FROM talks WHERE id = ?", (talk_id,))


# ---- mending ----


def set_pieces(connection: sqlite3.Connection, talk_id: int, pieces: Sequence[Piece]) -> None:
    """Change what is heard; the row before can be had back by `undo`."""
    with transaction(connection):
        now, before, _ = _history(connection, talk_id)
        _put(connection, talk_id, _rows(pieces), [*before, now][-_MOST_STEPS:], [])


def undo(connection: sqlite3.Connection, talk_id: int) -> bool:
    """The row of pieces before the last step; False where there is none."""
    with transaction(connection):
        now, before, gone = _history(connection, talk_id)
        if not before:
            return False
        _put(connection, talk_id, before[-1], before[:-1], [*gone, now])
        return True


def redo(connection: sqlite3.Connection, talk_id: int) -> bool:
    with transaction(connection):
        now, before, gone = _history(connection, talk_id)
        if not gone:
            return False
        _put(connection, talk_id, gone[-1], [*before, now], gone[:-1])
        return True


def _history(connection: sqlite3.Connection, talk_id: int) -> tuple[list[Any], ...]:
    row = connection.execute(
        "SELECT pieces, before, gone FROM talks WHERE id = ?", (talk_id,)
    ).fetchone()
    if row is None:
        raise NotFoundError("This talk has been deleted.")
    return tuple(json.loads(value) for value in row)


def _put(
    connection: sqlite3.Connection, talk_id: int, now: list[Any], before: list[Any], gone: list[Any]
) -> None:
    connection.execute(
        "UPDATE talks SET pieces = ?, before = ?, gone = ?, revision = revision + 1 WHERE id = ?",
        (json.dumps(now), json.dumps(before), json.dumps(gone), talk_id),
    )


def touch(connection: sqlite3.Connection, talk_id: int) -> None:
    """Something that is heard, seen or read in the talk has changed."""
    connection.execute("UPDATE talks SET revision = revision + 1 WHERE id = ?", (talk_id,))


# ---- takes ----


def begin_take(
    connection: sqlite3.Connection, talk_id: int, key: str, mime: str
) -> tuple[int, bool]:
    """A take by the key its page gave it, and whether it is new: a request may come twice."""
    row = connection.execute(
        "INSERT INTO talk_takes (talk_id, key, mime) VALUES (?, ?, ?) "
        "ON CONFLICT (key) DO NOTHING RETURNING id",
        (talk_id, key, mime),
    ).fetchone()
    if row is not None:
        return int(row["id"]), True
    row = connection.execute(
        "SELECT id FROM talk_takes WHERE key = ? AND talk_id = ?", (key, talk_id)
    ).fetchone()
    if row is None:
        raise TalkError("This recording belongs to another talk. Reload the page and record again.")
    return int(row["id"]), False


def take(connection: sqlite3.Connection, talk_id: int, take_id: int) -> Take:
    row = connection.execute(
        "SELECT id, talk_id, key, mime, length_ms FROM talk_takes WHERE id = ? AND talk_id = ?",
        (take_id, talk_id),
    ).fetchone()
    if row is None:
        raise NotFoundError("This recording has been deleted.")
    return Take(*row)


def takes(connection: sqlite3.Connection, talk_id: int) -> list[Take]:
    rows = connection.execute(
        "SELECT id, talk_id, key, mime, length_ms FROM talk_takes WHERE talk_id = ? ORDER BY id",
        (talk_id,),
    )
    return [Take(*row) for row in rows]


def put_bit(
    connection: sqlite3.Connection, talk_id: int, take_id: int, n: int, sound: bytes,
    deeds: Deeds, until_ms: float,
) -> bool:  # fmt: skip
    """Keep the n-th few seconds of a take; False where they had been kept before.

    until_ms: how long the take is with them.
    """
    packed = zlib.compress(json.dumps([deeds.deeds, deeds.inks], ensure_ascii=False).encode(), 6)
    with transaction(connection):
        new = connection.execute(
            "INSERT INTO talk_bits (take_id, n, sound, deeds) VALUES (?, ?, ?, ?) "
            "ON CONFLICT (take_id, n) DO NOTHING RETURNING n",
            (take_id, n, sound, packed),
        ).fetchone()
        if new is None:
            return False
        connection.execute(
            "UPDATE talk_takes SET length_ms = max(length_ms, ?) WHERE id = ?", (until_ms, take_id)
        )
        touch(connection, talk_id)
        return True


def deeds_of(connection: sqlite3.Connection, take_id: int) -> Deeds:
    """What was done in a take, up to the first few seconds that never came."""
    found = Deeds([], {})
    for packed in _unbroken(connection, take_id, "deeds"):
        deeds, inks = json.loads(zlib.decompress(packed))
        found.deeds.extend(deeds)
        found.inks.update({int(key): svg for key, svg in inks.items()})
    return found


def clips_shown(connection: sqlite3.Connection, talk_id: int) -> set[int]:
    """Every clip that was on the stage in any take of a talk."""
    return {
        film["clip"]
        for take in takes(connection, talk_id)
        for film in _staged(deeds_of(connection, take.id).deeds)
        if film.get("clip") is not None
    }


def _staged(deeds: list[list[Any]]) -> list[dict[str, Any]]:
    return [film for deed in deeds if deed[1] == "stage" for film in deed[3]]


def forget_titles(connection: sqlite3.Connection, clip_ids: set[int]) -> int:
    """Take the names off these clips wherever a talk shows them. How many pieces changed."""
    changed = 0
    for row in connection.execute("SELECT take_id, n, deeds FROM talk_bits").fetchall():
        deeds, inks = json.loads(zlib.decompress(row["deeds"]))
        named = [f for f in _staged(deeds) if f.get("clip") in clip_ids and f.get("title")]
        for film in named:
            film["title"] = ""
        if named:
            packed = zlib.compress(json.dumps([deeds, inks]).encode())
            connection.execute(
                "UPDATE talk_bits SET deeds = ? WHERE take_id = ? AND n = ?",
                (packed, row["take_id"], row["n"]),
            )
            changed += 1
    return changed


def sound_of(connection: sqlite3.Connection, take_id: int) -> bytes:
    """The sound of a take as the browser recorded it, up to the first piece that never came."""
    return b"".join(_unbroken(connection, take_id, "sound"))


def _unbroken(connection: sqlite3.Connection, take_id: int, column: str) -> list[bytes]:
    rows = connection.execute(
        f"SELECT n, {column} FROM talk_bits WHERE take_id = ? ORDER BY n", (take_id,)
    ).fetchall()
    return [row[1] for place, row in enumerate(rows) if row[0] == place]


def size_without_sound(connection: sqlite3.Connection, talk_id: int) -> int:
    """Bytes that the deeds and drawings of a talk take."""
    row = connection.execute(
        "SELECT COALESCE(SUM(LENGTH(b.deeds)), 0) FROM talk_bits b "
        "JOIN talk_takes t ON t.id = b.take_id WHERE t.talk_id = ?",
        (talk_id,),
    ).fetchone()
    return int(row[0])


# ---- chapters, captions, notes ----


def chapter_names(connection: sqlite3.Connection, talk_id: int) -> dict[tuple[int, float], str]:
    rows = connection.execute(
        "SELECT c.take_id, c.take_ms, c.words FROM talk_chapters c "
        "JOIN talk_takes t ON t.id = c.take_id WHERE t.talk_id = ?",
        (talk_id,),
    )
    return {(row[0], row[1]): row[2] for row in rows}


def name_chapter(
    connection: sqlite3.Connection, talk_id: int, take_id: int, take_ms: float, words: str
) -> None:
    """Own words for a chapter; empty words give it its first name back."""
    with transaction(connection):
        if words:
            connection.execute(
                "INSERT INTO talk_chapters (take_id, take_ms, words) VALUES (?, ?, ?) "
                "ON CONFLICT (take_id, take_ms) DO UPDATE SET words = excluded.words",
                (take_id, take_ms, words),
            )
        else:
            connection.execute(
                "DELETE FROM talk_chapters WHERE take_id = ? AND take_ms = ?", (take_id, take_ms)
            )
        touch(connection, talk_id)


def captions(connection: sqlite3.Connection, talk_id: int) -> list[Caption]:
    rows = connection.execute(
        "SELECT c.take_id, c.from_ms, c.to_ms, c.words, c.id FROM talk_captions c "
        "JOIN talk_takes t ON t.id = c.take_id WHERE t.talk_id = ? ORDER BY c.take_id, c.from_ms",
        (talk_id,),
    )
    return [Caption(*row) for row in rows]


def add_captions(
    connection: sqlite3.Connection, talk_id: int, made: Sequence[Caption], anew: bool = False
) -> None:
    """Keep captions; anew: in place of all there were."""
    with transaction(connection):
        if anew:
            connection.execute(
                "DELETE FROM talk_captions WHERE take_id IN "
                "(SELECT id FROM talk_takes WHERE talk_id = ?)",
                (talk_id,),
            )
        connection.executemany(
            "INSERT INTO talk_captions (take_id, from_ms, to_ms, words) VALUES (?, ?, ?, ?)",
            [(c.take, c.from_ms, c.to_ms, c.words) for c in made],
        )
        touch(connection, talk_id)


def change_caption(
    connection: sqlite3.Connection, talk_id: int, caption_id: int, words: str
) -> None:
    """Other words for a caption; empty ones delete it."""
    where = "WHERE id = ? AND take_id IN (SELECT id FROM talk_takes WHERE talk_id = ?)"
    with transaction(connection):
        if words:
            connection.execute(
                f"UPDATE talk_captions SET words = ? {where}", (words, caption_id, talk_id)
            )
        else:
            connection.execute(f"DELETE FROM talk_captions {where}", (caption_id, talk_id))
        touch(connection, talk_id)


def notes(connection: sqlite3.Connection, review_id: int) -> dict[tuple[str, str], str]:
    """What the coach wants to remember, by kind and id of the point."""
    rows = connection.execute(
        "SELECT kind, what, words FROM talk_notes WHERE review_id = ?", (review_id,)
    )
    return {(row[0], row[1]): row[2] for row in rows}


def set_note(
    connection: sqlite3.Connection, review_id: int, kind: str, what: str, words: str
) -> None:
    if words:
        connection.execute(
            "INSERT INTO talk_notes (review_id, kind, what, words) VALUES (?, ?, ?, ?) "
            "ON CONFLICT (review_id, kind, what) DO UPDATE SET words = excluded.words",
            (review_id, kind, what, words),
        )
    else:
        connection.execute(
            "DELETE FROM talk_notes WHERE review_id = ? AND kind = ? AND what = ?",
            (review_id, kind, what),
        )
