"""Consent: who allowed what for a swimmer, on which day, until when, and how it is known."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.errors import NotFoundError
from norvik.store.scope import Within, of_swimmers

#: What can be allowed.
KINDS = ("filming", "keeping", "squad", "sending", "example")


@dataclass(frozen=True, slots=True)
class Consent:
    """One record. Days are ISO 8601; until, withdrawn_on: empty where there is none.

    guardian: given for a minor. words: how it is known, as typed. paper: the file of a scan,
    relative to the data folder, or empty. swimmer_id: None once the swimmer was erased.
    """

    swimmer_id: int | None
    kind: str
    given_by: str
    guardian: bool
    given_on: str
    until: str = ""
    words: str = ""
    paper: str = ""
    withdrawn_on: str = ""
    withdrawn_by: str = ""
    swimmer_name: str = ""
    id: int = 0

    def holds(self, today: str) -> bool:
        return (
            not self.withdrawn_on
            and self.given_on <= today
            and (not self.until or self.until >= today)
        )


_COLUMNS = (
    "id, swimmer_id, kind, given_by, guardian, given_on, until, words, paper, withdrawn_on, "
    "withdrawn_by, swimmer_name"
)


def _consent(row: sqlite3.Row) -> Consent:
    return Consent(**{**dict(row), "guardian": bool(row["guardian"])})


def add(connection: sqlite3.Connection, new: Consent, noted_by: int | None) -> int:
    row = connection.execute(
        "INSERT INTO consents (swimmer_id, kind, given_by, guardian, given_on, until, words, "
        "paper, noted_by) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (new.swimmer_id, new.kind, new.given_by, int(new.guardian), new.given_on, new.until,
         new.words, new.paper, noted_by),
    ).fetchone()  # fmt: skip
    return int(row["id"])


def withdraw(connection: sqlite3.Connection, consent_id: int, on: str, by: str) -> None:
    connection.execute(
        "UPDATE consents SET withdrawn_on = ?, withdrawn_by = ? WHERE id = ? AND withdrawn_on = ''",
        (on, by, consent_id),
    )


def of_swimmer(connection: sqlite3.Connection, swimmer_id: int) -> list[Consent]:
    """All records, the newest first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM consents WHERE swimmer_id = ? ORDER BY given_on DESC, id DESC",
        (swimmer_id,),
    )
    return [_consent(row) for row in rows]


def by_id(connection: sqlite3.Connection, swimmer_id: int, consent_id: int) -> Consent:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM consents WHERE id = ? AND swimmer_id = ?", (consent_id, swimmer_id)
    ).fetchone()
    if row is None:
        raise NotFoundError("This consent is not on record.")
    return _consent(row)


def running_out(
    connection: sqlite3.Connection, today: str, soon: str, within: Within = None
) -> list[Consent]:
    """The last record of a kind that holds today and ends by a day, soonest first; with names.

    Also those that ended in the month before today and were not given anew.
    """
    mine, values = of_swimmers(within, "s.id")
    rows = connection.execute(
        "SELECT c.id, c.swimmer_id, c.kind, c.given_by, c.guardian, c.given_on, c.until, c.words, "
        "c.paper, c.withdrawn_on, c.withdrawn_by, s.name AS swimmer_name "
        "FROM consents c JOIN swimmers s ON s.id = c.swimmer_id AND s.removed_at IS NULL "
        "WHERE c.until != '' AND c.until <= ? AND c.until >= date(?, '-31 days') "
        "AND c.withdrawn_on = '' AND NOT EXISTS (SELECT 1 FROM consents o "
        "WHERE o.swimmer_id = c.swimmer_id AND o.kind = c.kind AND o.id != c.id "
        "AND ((o.withdrawn_on = '' AND (o.until = '' OR o.until > c.until)) "
        f"OR o.withdrawn_on > c.given_on)) AND {mine} ORDER BY c.until, s.name",
        (soon, today, *values),
    )
    return [_consent(row) for row in rows]


def paper_of(connection: sqlite3.Connection, consent_id: int) -> str:
    row = connection.execute("SELECT paper FROM consents WHERE id = ?", (consent_id,)).fetchone()
    return str(row["paper"])


def forget_paper(connection: sqlite3.Connection, consent_id: int) -> None:
    """Its scan is not there."""
    connection.execute("UPDATE consents SET paper = '' WHERE id = ?", (consent_id,))


def paper_paths(connection: sqlite3.Connection) -> set[str]:
    """Files of scans, relative to the data folder."""
    rows = connection.execute("SELECT paper FROM consents WHERE paper != ''")
    return {row["paper"] for row in rows}
