"""What of a swimmer lies in tables of others: found, and deleted or cut loose. All ids."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence

from norvik.store import talks as talk_store

_TALKS = "SELECT t.id FROM talks t JOIN reviews v ON v.id = t.review_id WHERE v.swimmer_id = ?"


def name_of(connection: sqlite3.Connection, swimmer_id: int) -> str | None:
    """The name of a swimmer, put away or not; None where there is none."""
    row = connection.execute("SELECT name FROM swimmers WHERE id = ?", (swimmer_id,)).fetchone()
    return str(row["name"]) if row else None


def talks(connection: sqlite3.Connection, swimmer_id: int) -> list[int]:
    return [row[0] for row in connection.execute(_TALKS, (swimmer_id,))]


def links(connection: sqlite3.Connection, swimmer_id: int) -> int:
    """How many links to the swimmer's reviews there are."""
    row = connection.execute(
        "SELECT count(*) FROM review_links l JOIN reviews v ON v.id = l.review_id "
        "WHERE v.swimmer_id = ?",
        (swimmer_id,),
    ).fetchone()
    return int(row[0])


def shared_recordings(connection: sqlite3.Connection, swimmer_id: int) -> list[tuple[int, str]]:
    """Recordings with a clip of this swimmer and one of somebody else: id and original name."""
    rows = connection.execute(
        "SELECT DISTINCT r.id, r.original_name FROM recordings r "
        "JOIN clips c ON c.recording_id = r.id AND c.swimmer_id = ?1 "
        "WHERE EXISTS (SELECT 1 FROM clips o WHERE o.recording_id = r.id "
        "AND o.swimmer_id IS NOT ?1) ORDER BY r.id",
        (swimmer_id,),
    )
    return [(row[0], row[1]) for row in rows]


def rename_recording(connection: sqlite3.Connection, recording_id: int, name: str) -> None:
    connection.execute("UPDATE recordings SET original_name = ? WHERE id = ?", (name, recording_id))


def films_showing(connection: sqlite3.Connection, clip_ids: Sequence[int]) -> list[int]:
    """Films made of these clips, also those that stand in a review of somebody else."""
    wanted, found = set(clip_ids), []
    for row in connection.execute("SELECT id, clip_id, made_of FROM made_films"):
        made_of = json.loads(row["made_of"])
        shown = {row["clip_id"], *_numbers(made_of)}
        if "talk_id" in made_of:
            shown |= talk_store.clips_shown(connection, made_of["talk_id"])
        if shown & wanted:
            found.append(row["id"])
    return found


def _numbers(made_of: dict[str, object]) -> set[int]:
    """Every clip that a wish for a film names."""
    return {
        n for key, n in made_of.items() if "clip" in key and isinstance(n, int)
    }  # fmt: skip


def delete_films(connection: sqlite3.Connection, film_ids: Sequence[int]) -> list[str]:
    """Delete films; gives their files, relative to the data folder."""
    paths = []
    for film_id in film_ids:
        row = connection.execute(
            "DELETE FROM made_films WHERE id = ? RETURNING path", (film_id,)
        ).fetchone()
        paths.append(row["path"])
    return paths


def delete_jobs(
    connection: sqlite3.Connection, swimmer_id: int, clip_ids: Sequence[int],
    talk_ids: Sequence[int],
) -> int:  # fmt: skip
    """Delete jobs that worked on these, done or waiting. How many."""
    gone = 0
    reviews = {
        row[0]
        for row in connection.execute("SELECT id FROM reviews WHERE swimmer_id = ?", (swimmer_id,))
    }
    for row in connection.execute("SELECT id, args FROM jobs").fetchall():
        args = json.loads(row["args"])
        named = {n for key, n in args.items() if "clip" in key and isinstance(n, int)}
        if (
            named & set(clip_ids)
            or args.get("talk_id") in talk_ids
            or args.get("review_id") in reviews
        ):
            connection.execute("DELETE FROM jobs WHERE id = ?", (row["id"],))
            gone += 1
    return gone


def delete_accounts(connection: sqlite3.Connection, swimmer_id: int) -> int:
    """Accounts that opened this swimmer's pages and nobody else's. How many."""
    rows = connection.execute(
        "DELETE FROM users WHERE role IN ('swimmer', 'guardian') AND id IN "
        "(SELECT user_id FROM account_swimmers WHERE swimmer_id = ?1) AND id NOT IN "
        "(SELECT user_id FROM account_swimmers WHERE swimmer_id != ?1) RETURNING id",
        (swimmer_id,),
    )
    return len(rows.fetchall())


def consents(connection: sqlite3.Connection, swimmer_id: int) -> int:
    row = connection.execute(
        "SELECT count(*) FROM consents WHERE swimmer_id = ?", (swimmer_id,)
    ).fetchone()
    return int(row[0])


def keep_consents(connection: sqlite3.Connection, swimmer_id: int, name: str) -> None:
    """The records stay under the name that they were given for."""
    connection.execute(
        "UPDATE consents SET swimmer_name = ? WHERE swimmer_id = ?", (name, swimmer_id)
    )


def delete_consents(connection: sqlite3.Connection, swimmer_id: int) -> tuple[list[str], int]:
    """Files of their papers, and how many records went."""
    rows = connection.execute(
        "DELETE FROM consents WHERE swimmer_id = ? RETURNING paper", (swimmer_id,)
    ).fetchall()
    return [row["paper"] for row in rows if row["paper"]], len(rows)


def put_away(connection: sqlite3.Connection, swimmer_id: int) -> None:
    """Only who was put away is deleted."""
    connection.execute(
        "UPDATE swimmers SET removed_at = coalesce(removed_at, 'now') WHERE id = ?", (swimmer_id,)
    )


def delete_traces(connection: sqlite3.Connection, clip_ids: Sequence[int]) -> None:
    """Rows that name a clip and do not go with it by themselves."""
    talk_store.forget_titles(connection, set(clip_ids))
    for clip_id in clip_ids:
        for table in ("taken_uploads", "rests_on"):
            connection.execute(f"DELETE FROM {table} WHERE clip_id = ?", (clip_id,))
