"""Links to one review, and what swimmers answer on the page behind them."""

from __future__ import annotations

import hashlib
import secrets
import sqlite3
from dataclasses import dataclass, replace

from norvik.core.errors import NotFoundError
from norvik.store.scope import Within, of_swimmers


@dataclass(frozen=True, slots=True)
class ReviewLink:
    """token: what stands in the address. valid_until: the last day on which it opens, ISO 8601."""

    id: int
    review_id: int
    token: str
    film_id: int | None
    valid_until: str
    taken_back_at: str | None
    opened: int
    opened_at: str | None
    sent_to: str
    sent_at: str | None
    created_at: str

    def opens(self, today: str) -> bool:
        return self.taken_back_at is None and today <= self.valid_until


@dataclass(frozen=True, slots=True)
class LinkAnswer:
    """What a swimmer answered. swimmer_id, name: whose review it is."""

    id: int
    swimmer_id: int
    name: str
    review_id: int
    plan_id: int | None
    session: str
    outcome: str
    felt: int | None
    pain: str
    words: str
    answered_at: str


_COLUMNS = (
    "id, review_id, token, film_id, valid_until, taken_back_at, opened, opened_at, sent_to, "
    "sent_at, created_at"
)


#: A link that has run out long ago, in the order of the columns.
_NEVER = "0, 0, '', NULL, '0001-01-01', NULL, 0, NULL, '', NULL, ''"


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def add(
    connection: sqlite3.Connection, review_id: int, valid_until: str, film_id: int | None,
    user_id: int | None,
) -> int:  # fmt: skip
    """A new link with a token of 192 random bits; gives its number."""
    token = secrets.token_urlsafe(24)
    row = connection.execute(
        "INSERT INTO review_links (review_id, token, digest, film_id, valid_until, created_by) "
        "VALUES (?, ?, ?, ?, ?, ?) RETURNING id",
        (review_id, token, _digest(token), film_id, valid_until, user_id),
    ).fetchone()
    return int(row["id"])


def by_id(connection: sqlite3.Connection, review_id: int, link_id: int) -> ReviewLink:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM review_links WHERE id = ? AND review_id = ?", (link_id, review_id)
    ).fetchone()
    if row is None:
        raise NotFoundError("This link has been deleted.")
    return ReviewLink(*row)


def of_token(connection: sqlite3.Connection, token: str, today: str) -> ReviewLink | None:
    """The link that a token opens today, or None.

    Looked up by a hash: how long that takes says nothing of how much of a guess was right. Where
    there is none, a row that never opens stands in for it, so that this takes as long as one that
    has run out or was taken back.
    """
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM review_links WHERE digest = ? AND for_user IS NULL "
        f"UNION ALL SELECT {_NEVER} LIMIT 1",
        (_digest(token),),
    ).fetchone()
    link = ReviewLink(*row)
    return link if link.opens(today) else None


def of_review(connection: sqlite3.Connection, review_id: int) -> list[ReviewLink]:
    """Newest first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM review_links WHERE review_id = ? AND for_user IS NULL "
        "ORDER BY id DESC",
        (review_id,),
    )
    return [ReviewLink(*row) for row in rows]


def for_account(
    connection: sqlite3.Connection, review_id: int, user_id: int, film_id: int | None
) -> ReviewLink:
    """What a signed-in swimmer or guardian opens a review by; made when it is first opened.

    Its token is told to nobody. It shows the newest film, and answers hang on it.
    """
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM review_links WHERE review_id = ? AND for_user = ?",
        (review_id, user_id),
    ).fetchone()
    if row is None:
        made = add(connection, review_id, "9999-12-31", film_id, user_id)
        connection.execute("UPDATE review_links SET for_user = ? WHERE id = ?", (user_id, made))
        return by_id(connection, review_id, made)
    link = ReviewLink(*row)
    if link.film_id != film_id:
        connection.execute("UPDATE review_links SET film_id = ? WHERE id = ?", (film_id, link.id))
        link = replace(link, film_id=film_id)
    return link


def open_one(connection: sqlite3.Connection, review_id: int, today: str) -> ReviewLink | None:
    """The newest link of a review that still opens."""
    return next((x for x in of_review(connection, review_id) if x.opens(today)), None)


def take_back(connection: sqlite3.Connection, link_id: int) -> None:
    connection.execute(
        "UPDATE review_links SET taken_back_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now') "
        "WHERE id = ? AND taken_back_at IS NULL",
        (link_id,),
    )


def count_opening(connection: sqlite3.Connection, link_id: int) -> None:
    connection.execute(
        "UPDATE review_links SET opened = opened + 1, "
        "opened_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now') WHERE id = ?",
        (link_id,),
    )


def set_sent(connection: sqlite3.Connection, link_id: int, to: str) -> None:
    connection.execute(
        "UPDATE review_links SET sent_to = ?, "
        "sent_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now') WHERE id = ?",
        (to, link_id),
    )


# ---- answers ----


def add_answer(
    connection: sqlite3.Connection, link_id: int, key: str, plan_id: int | None, session: str,
    outcome: str, felt: int | None, pain: str, words: str,
) -> bool:  # fmt: skip
    """Keep an answer; False where it had come before: a phone may send one twice."""
    row = connection.execute(
        "INSERT INTO link_answers (link_id, key, plan_id, session, outcome, felt, pain, words) "
        "VALUES (?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (key) DO NOTHING RETURNING id",
        (link_id, key, plan_id, session, outcome, felt, pain, words),
    ).fetchone()
    return row is not None


def answers_since(connection: sqlite3.Connection, link_id: int, since: str) -> int:
    """How many answers came over a link since an instant."""
    row = connection.execute(
        "SELECT COUNT(*) FROM link_answers WHERE link_id = ? AND answered_at >= ?",
        (link_id, since),
    ).fetchone()
    return int(row[0])


def unseen(connection: sqlite3.Connection, within: Within = None) -> list[LinkAnswer]:
    """Answers that no coach has seen, pain first, then the newest."""
    mine, values = of_swimmers(within, "s.id")
    rows = connection.execute(
        "SELECT a.id, s.id, s.name, l.review_id, a.plan_id, a.session, a.outcome, a.felt, a.pain, "
        "a.words, a.answered_at FROM link_answers a JOIN review_links l ON l.id = a.link_id "
        "JOIN reviews r ON r.id = l.review_id JOIN swimmers s ON s.id = r.swimmer_id "
        f"WHERE a.seen_at IS NULL AND s.removed_at IS NULL AND {mine} "
        "ORDER BY a.pain = '', a.id DESC LIMIT 100",
        values,
    )
    return [LinkAnswer(*row) for row in rows]


def set_seen(connection: sqlite3.Connection, answer_id: int) -> None:
    connection.execute(
        "UPDATE link_answers SET seen_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now') "
        "WHERE id = ? AND seen_at IS NULL",
        (answer_id,),
    )
