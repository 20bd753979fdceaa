"""Finding clips among thousands."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.strokes.names import AnyStroke
from norvik.store import clips
from norvik.store.clips import Clip
from norvik.store.scope import Within, of_clips

PAGE = 50
STATES = ("to-sort", "waiting", "marked", "reviewed", "preparing", "failed")

#: A whole recording that was cut: its parts are reviewed, not itself.
_CUT_UP = (
    "(c.is_part = 0 AND c.recording_id IN "
    "(SELECT recording_id FROM clips WHERE is_part AND trashed_at IS NULL))"
)
_DONE = (
    "c.id IN (SELECT m.clip_id FROM reviews v JOIN review_clips m ON m.review_id = v.id "
    "WHERE v.done_at IS NOT NULL AND NOT m.taken_out AND m.clip_id IS NOT NULL)"
)


def _in_state(*states: str) -> str:
    names = ", ".join(f"'{state}'" for state in states)
    return f"c.recording_id IN (SELECT id FROM recordings WHERE state IN ({names}))"


#: What each state asks of a clip (c). The sets are small or read once for all clips: measured, a
#: join with recordings and reviews takes several times as long.
_CONDITION = {
    "to-sort": f"c.swimmer_id IS NULL AND NOT {_CUT_UP}",
    "waiting": f"NOT {_in_state('waiting', 'failed')} AND NOT {_DONE} AND NOT {_CUT_UP}",
    "marked": f"EXISTS (SELECT 1 FROM marks m WHERE m.clip_id = c.id) AND NOT {_DONE}",
    "reviewed": _DONE,
    "preparing": _in_state("waiting", "opening"),
    "failed": _in_state("failed"),
}


@dataclass(frozen=True, slots=True)
class ClipFilter:
    """What is looked for; empty means any. session: the day of filming, or a month (2026-11)."""

    words: str = ""
    swimmer_id: int | None = None
    session: str = ""
    stroke: AnyStroke = ""
    view: str = ""
    role: str = ""
    state: str = ""


@dataclass(frozen=True, slots=True)
class ClipPage:
    clips: tuple[Clip, ...]
    count: int


def find(
    connection: sqlite3.Connection, wish: ClipFilter, page: int = 0, within: Within = None
) -> ClipPage:
    """The clips that fit, newest session first, PAGE at a time, and how many there are in all."""
    fitting, values = _fitting(wish, within)
    if wish.words:
        # To look through all words of all clips takes long: once, for the count and the page.
        every = [
            row[0]
            for row in connection.execute(
                f"SELECT c.id {fitting} ORDER BY c.filmed_on DESC, c.id DESC", values
            )
        ]
        count, ids = len(every), every[PAGE * page : PAGE * (page + 1)]
    else:
        count = count_of(connection, wish, within)
        # Ids first: what a row shows is then read for one page only.
        ids = [
            row[0]
            for row in connection.execute(
                f"SELECT c.id {fitting} ORDER BY c.filmed_on DESC, c.id DESC LIMIT ? OFFSET ?",
                (*values, PAGE, PAGE * page),
            )
        ]
    holes = ", ".join("?" * len(ids))
    rows = connection.execute(
        clips.SELECT + f"WHERE c.id IN ({holes}) ORDER BY c.filmed_on DESC, c.id DESC", ids
    )
    return ClipPage(tuple(clips.from_row(row) for row in rows), count)


def count_of(connection: sqlite3.Connection, wish: ClipFilter, within: Within = None) -> int:
    """How many clips fit."""
    fitting, values = _fitting(wish, within)
    return int(connection.execute(f"SELECT count(*) {fitting}", values).fetchone()[0])


def _fitting(wish: ClipFilter, within: Within) -> tuple[str, tuple[object, ...]]:
    """FROM and WHERE of the clips that fit, and the values for them."""
    where, values = _where(wish)
    mine, own = of_clips(within)
    joined = "FROM clips c "
    if wish.words:
        joined += (
            "JOIN recordings r ON r.id = c.recording_id "
            "LEFT JOIN swimmers s ON s.id = c.swimmer_id "
        )
    return f"{joined}WHERE {where} AND {mine}", (*values, *own)


def _where(wish: ClipFilter) -> tuple[str, tuple[object, ...]]:
    parts, values = ["c.trashed_at IS NULL"], list[object]()
    for column, value in (
        ("c.swimmer_id", wish.swimmer_id),
        ("c.stroke", wish.stroke),
        ("c.view", wish.view),
        ("c.role", wish.role),
    ):
        if value:
            parts.append(f"{column} = ?")
            values.append(value)
    if wish.session:
        parts.append("c.filmed_on >= ? AND c.filmed_on < ? || '~'")
        values += [wish.session, wish.session]
    if wish.state:
        parts.append(_CONDITION[wish.state])
    for word in wish.words.split()[:8]:
        escaped = word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
        like = f"%{escaped}%"
        columns = ("s.name", "r.original_name", "c.stroke", "c.view", "c.role", "c.effort",
                   "c.kit", "c.filmed_on")  # fmt: skip
        parts.append("(" + " OR ".join(f"{c} LIKE ? ESCAPE '\\'" for c in columns) + ")")
        values += [like] * len(columns)
    return " AND ".join(parts), tuple(values)


def counts(connection: sqlite3.Connection, within: Within = None) -> dict[str, int]:
    """How many clips are in each state, and in all (key "")."""
    columns = ", ".join(f"sum({condition})" for condition in _CONDITION.values())
    mine, values = of_clips(within)
    row = connection.execute(
        f"SELECT count(*), {columns} FROM clips c WHERE c.trashed_at IS NULL AND {mine}", values
    ).fetchone()
    return {name: n or 0 for name, n in zip(("", *_CONDITION), row, strict=True)}


def sessions(
    connection: sqlite3.Connection, limit: int = 60, within: Within = None
) -> list[tuple[str, int]]:
    """Days of filming with the number of their clips, newest first."""
    mine, values = of_clips(within)
    rows = connection.execute(
        f"SELECT c.filmed_on, count(*) FROM clips c WHERE c.trashed_at IS NULL AND {mine} "
        "GROUP BY c.filmed_on ORDER BY c.filmed_on DESC LIMIT ?",
        (*values, limit),
    )
    return [(row[0], row[1]) for row in rows]


def per_swimmer(connection: sqlite3.Connection) -> dict[int, tuple[int, int]]:
    """Swimmer id to the number of clips, and of those that wait for a review."""
    rows = connection.execute(
        f"SELECT c.swimmer_id, count(*), sum({_CONDITION['waiting']}) FROM clips c "
        "WHERE c.trashed_at IS NULL AND c.swimmer_id IS NOT NULL GROUP BY c.swimmer_id"
    )
    return {row[0]: (row[1], row[2]) for row in rows}


def first_ready(connection: sqlite3.Connection, within: Within = None) -> int | None:
    """The oldest clip that can be watched, by its id; None in an empty library."""
    mine, values = of_clips(within)
    row = connection.execute(
        "SELECT c.id FROM clips c JOIN recordings r ON r.id = c.recording_id WHERE c.trashed_at "
        f"IS NULL AND r.state IN ('ready', 'opening') AND {mine} ORDER BY c.id LIMIT 1",
        values,
    ).fetchone()
    return int(row["id"]) if row else None


def any_marks(connection: sqlite3.Connection) -> bool:
    """Has anybody marked anything yet?"""
    return connection.execute("SELECT 1 FROM marks LIMIT 1").fetchone() is not None
