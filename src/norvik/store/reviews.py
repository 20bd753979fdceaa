"""Reviews: one of a swimmer gathers clips, and holds what was chosen, written and answered."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.errors import NotFoundError
from norvik.core.strokes.names import StrokeName
from norvik.store.connection import transaction
from norvik.store.scope import Within, of_swimmers


@dataclass(frozen=True, slots=True)
class Focus:
    """One point to work on.

    drills: what the coach kept; None means as prescribed. still_clip: the clip that still_frame is
    of.
    """

    stroke: StrokeName
    fault: str
    still_frame: int | None
    drills: tuple[str, ...] | None
    still_clip: int | None = None


@dataclass(frozen=True, slots=True)
class Member:
    """A clip of a review.

    clip_id: None once the clip was deleted for good; was: what it showed, in words. stroke: that it
    showed when it came in.
    """

    clip_id: int | None
    was: str
    stroke: StrokeName


@dataclass(frozen=True, slots=True)
class Review:
    """A review of one filming day.

    swimmer_id: None only where the clip of an old review has nobody. focuses: in the coach's order,
    over all strokes. members: clips that are in it, in the order in which they came.
    """

    id: int
    swimmer_id: int | None
    filmed_on: str
    words: str
    film_again_on: str | None
    done_at: str | None
    focuses: tuple[Focus, ...]
    members: tuple[Member, ...]

    @property
    def clip_ids(self) -> list[int]:
        return [m.clip_id for m in self.members if m.clip_id is not None]

    def of_stroke(self, stroke: StrokeName) -> list[Focus]:
        return [f for f in self.focuses if f.stroke == stroke]


_ROW = "SELECT id, swimmer_id, filmed_on, words, film_again_on, done_at FROM reviews "


def by_id(connection: sqlite3.Connection, review_id: int) -> Review:
    """Raises NotFoundError."""
    row = connection.execute(_ROW + "WHERE id = ?", (review_id,)).fetchone()
    if row is None:
        raise NotFoundError("This review has been deleted.")
    return _review(connection, row)


def _review(connection: sqlite3.Connection, row: sqlite3.Row) -> Review:
    focuses = connection.execute(
        "SELECT stroke, fault, still_frame, drills, still_clip FROM focuses WHERE review_id = ? "
        "ORDER BY place, stroke",
        (row["id"],),
    )
    members = connection.execute(
        "SELECT clip_id, was, stroke FROM review_clips WHERE review_id = ? AND NOT taken_out "
        "ORDER BY id",
        (row["id"],),
    )
    return Review(
        row["id"], row["swimmer_id"], row["filmed_on"], row["words"], row["film_again_on"],
        row["done_at"],
        tuple(
            Focus(f["stroke"], f["fault"], f["still_frame"],
                  tuple(json.loads(f["drills"])) if f["drills"] else None, f["still_clip"])
            for f in focuses
        ),
        tuple(Member(*m) for m in members),
    )  # fmt: skip


def id_of_clip(connection: sqlite3.Connection, clip_id: int) -> int | None:
    """The review in which a clip is judged: of its own day first, then the newest that holds it."""
    row = connection.execute(
        "SELECT v.id FROM review_clips m JOIN reviews v ON v.id = m.review_id "
        "JOIN clips c ON c.id = m.clip_id WHERE m.clip_id = ? AND NOT m.taken_out "
        "AND v.swimmer_id IS c.swimmer_id "
        "ORDER BY v.filmed_on = c.filmed_on DESC, v.id DESC LIMIT 1",
        (clip_id,),
    ).fetchone()
    return int(row[0]) if row else None


def of_swimmer(connection: sqlite3.Connection, swimmer_id: int) -> list[Review]:
    """Newest day first; those that hold nothing at all are left out."""
    rows = connection.execute(
        _ROW + "WHERE swimmer_id = ? ORDER BY filmed_on DESC, id DESC", (swimmer_id,)
    ).fetchall()
    found = [_review(connection, row) for row in rows]
    return [r for r in found if r.members or r.focuses or r.words]


def in_work(
    connection: sqlite3.Connection, limit: int = 200, within: Within = None
) -> list[Review]:
    """Reviews that are not finished and hold a clip, newest day first."""
    mine, values = of_swimmers(within, "swimmer_id")
    rows = connection.execute(
        _ROW + f"WHERE done_at IS NULL AND swimmer_id IS NOT NULL AND {mine} AND id IN "
        "(SELECT m.review_id FROM review_clips m JOIN clips c ON c.id = m.clip_id "
        "WHERE NOT m.taken_out AND c.trashed_at IS NULL) ORDER BY filmed_on DESC, id DESC LIMIT ?",
        (*values, limit),
    ).fetchall()
    return [_review(connection, row) for row in rows]


def clips_in_work(connection: sqlite3.Connection, clip_ids: Sequence[int]) -> set[int]:
    """Those of the clips that an unfinished review of a swimmer holds."""
    rows = connection.execute(
        "SELECT DISTINCT m.clip_id FROM review_clips m JOIN reviews v ON v.id = m.review_id "
        "JOIN clips c ON c.id = m.clip_id "
        "WHERE m.clip_id IN (SELECT value FROM json_each(?)) AND NOT m.taken_out "
        "AND v.done_at IS NULL AND v.swimmer_id IS c.swimmer_id AND v.swimmer_id IS NOT NULL",
        (json.dumps(list(clip_ids)),),
    )
    return {row[0] for row in rows}


def finished(
    connection: sqlite3.Connection, limit: int = 30, within: Within = None
) -> list[Review]:
    """Finished reviews of swimmers who have not left, newest day first."""
    mine, values = of_swimmers(within, "swimmer_id")
    rows = connection.execute(
        _ROW + f"WHERE done_at IS NOT NULL AND {mine} AND swimmer_id IN "
        "(SELECT id FROM swimmers WHERE removed_at IS NULL) "
        "ORDER BY filmed_on DESC, id DESC LIMIT ?",
        (*values, limit),
    ).fetchall()
    return [_review(connection, row) for row in rows]


def choose(
    connection: sqlite3.Connection, review_id: int, chosen: Sequence[tuple[str, str]]
) -> None:
    """Set the focuses, (stroke, fault), in this order. What was set for one that stays is kept."""
    pairs = json.dumps([f"{stroke} {fault}" for stroke, fault in chosen])
    with transaction(connection):
        for table in ("focuses", "overrules"):
            connection.execute(
                f"DELETE FROM {table} WHERE review_id = ? "
                "AND stroke || ' ' || fault NOT IN (SELECT value FROM json_each(?))",
                (review_id, pairs),
            )
        for place, (stroke, fault) in enumerate(chosen):
            connection.execute(
                "INSERT INTO focuses (review_id, stroke, fault, place) VALUES (?, ?, ?, ?) "
                "ON CONFLICT (review_id, stroke, fault) DO UPDATE SET place = excluded.place",
                (review_id, stroke, fault, place),
            )


def reasons(connection: sqlite3.Connection, review_id: int, stroke: StrokeName) -> dict[str, str]:
    """Why the coach chose other points than those proposed, by fault."""
    rows = connection.execute(
        "SELECT o.fault, o.because FROM overrules o JOIN focuses f ON f.review_id = o.review_id "
        "AND f.stroke = o.stroke AND f.fault = o.fault WHERE o.review_id = ? AND o.stroke = ?",
        (review_id, stroke),
    )
    return dict(rows.fetchall())


def set_reason(
    connection: sqlite3.Connection, review_id: int, stroke: StrokeName, fault: str, because: str
) -> None:
    connection.execute(
        "INSERT INTO overrules (review_id, stroke, fault, because) VALUES (?, ?, ?, ?) "
        "ON CONFLICT (review_id, stroke, fault) DO UPDATE SET because = excluded.because",
        (review_id, stroke, fault, because),
    )


def set_still(
    connection: sqlite3.Connection, review_id: int, stroke: StrokeName, fault: str, clip_id: int,
    frame: int | None,
) -> None:  # fmt: skip
    connection.execute(
        "UPDATE focuses SET still_clip = ?, still_frame = ? "
        "WHERE review_id = ? AND stroke = ? AND fault = ?",
        (clip_id, frame, review_id, stroke, fault),
    )


def set_drills(
    connection: sqlite3.Connection, review_id: int, stroke: StrokeName, fault: str,
    drills: list[str] | None,
) -> None:  # fmt: skip
    connection.execute(
        "UPDATE focuses SET drills = ? WHERE review_id = ? AND stroke = ? AND fault = ?",
        (None if drills is None else json.dumps(drills), review_id, stroke, fault),
    )


def set_words(
    connection: sqlite3.Connection, review_id: int, words: str, film_again_on: str | None,
    by: int | None = None,
) -> None:  # fmt: skip
    """What the coach writes. by: the person, for whoever writes at the same time."""
    connection.execute(
        "UPDATE reviews SET words_by = CASE WHEN words IS ?1 THEN words_by ELSE ?3 END, "
        "words = ?1, film_again_on = ?2 WHERE id = ?4",
        (words, film_again_on, by, review_id),
    )


def words_by(connection: sqlite3.Connection, review_id: int) -> str:
    """Name of the person who wrote the words last; empty where that is not known."""
    row = connection.execute(
        "SELECT u.name FROM reviews r JOIN users u ON u.id = r.words_by WHERE r.id = ?",
        (review_id,),
    ).fetchone()
    return str(row[0]) if row else ""


def set_done(connection: sqlite3.Connection, review_id: int, done: bool) -> None:
    connection.execute(
        "UPDATE reviews SET done_at = "
        "CASE ?2 WHEN 1 THEN strftime('%Y-%m-%dT%H:%M:%SZ', 'now') END WHERE id = ?1",
        (review_id, int(done)),
    )


def give_to(connection: sqlite3.Connection, review_id: int, swimmer_id: int) -> None:
    """Let a review be of another swimmer, with all that it says."""
    connection.execute("UPDATE reviews SET swimmer_id = ? WHERE id = ?", (swimmer_id, review_id))


def answers(connection: sqlite3.Connection, review_id: int) -> int:
    """How many answers about points in training a review gives."""
    row = connection.execute(
        "SELECT count(*) FROM focus_answers WHERE review_id = ?", (review_id,)
    ).fetchone()
    return int(row[0])
