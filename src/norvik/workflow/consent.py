"""What somebody has allowed for a swimmer, and what follows where nobody has, or no more."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from norvik.core.errors import ConsentError
from norvik.store import consents
from norvik.store.consents import KINDS, Consent
from norvik.store.scope import Within
from norvik.store.swimmers import Swimmer

#: Kind: what is allowed, as it is read after "allows".
WORDS: Mapping[str, str] = {
    "filming": "being filmed",
    "keeping": "keeping the films",
    "squad": "being shown beside other swimmers",
    "sending": "sending reviews by link",
    "example": "use as an example for others",
}
#: The same of somebody, as it is read after "nobody has allowed".
_DEEDS: Mapping[str, str] = {
    "filming": "filming {name}",
    "keeping": "keeping films of {name}",
    "squad": "showing {name} beside other swimmers",
    "sending": "sending reviews of {name} by link",
    "example": "showing {name} as an example to others",
}
#: Own choice: Today says so long before that a consent runs out.
SOON = timedelta(days=30)
MOST_LETTERS = 300


@dataclass(frozen=True, slots=True)
class Allowed:
    """One kind: whether it holds today, and the records of it, the newest first."""

    kind: str
    words: str
    holds: bool
    records: tuple[Consent, ...]


def require_consent(swimmer: Swimmer, kind: str) -> None:
    """Raises ConsentError where something is not allowed for a swimmer, or no more."""
    if swimmer.allows(kind):
        return
    if kind in swimmer.consents:
        said = f"The consent to {WORDS[kind]} for {swimmer.name} has ended."
    else:
        said = f"Nobody has allowed {_DEEDS[kind].format(name=swimmer.name)} yet."
    raise ConsentError(f"{said} Note it on the swimmer's page under Consent.")


def allowed(connection: sqlite3.Connection, swimmer: Swimmer) -> list[Allowed]:
    """All kinds, with what is on record."""
    every = consents.of_swimmer(connection, swimmer.id)
    return [
        Allowed(k, WORDS[k], swimmer.allows(k), tuple(c for c in every if c.kind == k))
        for k in KINDS
    ]


def give(
    connection: sqlite3.Connection, swimmer: Swimmer, kinds: list[str], given_by: str,
    given_on: str, until: str, words: str, paper: str, noted_by: int | None,
) -> None:  # fmt: skip
    """Note that somebody allowed these kinds. paper: the file of a scan, or empty.

    Raises ConsentError for what cannot be. Call inside a transaction.
    """
    who = " ".join(given_by.split())
    if not kinds or any(k not in KINDS for k in kinds):
        raise ConsentError("Choose what is allowed.")
    if not 1 <= len(who) <= 80:
        raise ConsentError(
            "Type who allows it, in at most 80 letters"
            + (": the guardian, for a swimmer under 18." if swimmer.minor else ".")
        )
    day, end = _day(given_on), _day(until) if until else None
    if day is None or day > date.today():
        raise ConsentError("The day on which it was allowed looks like 2027-03-14, up to today.")
    if until and (end is None or end <= day):
        raise ConsentError("The last day of a consent comes after the day it was given on.")
    for kind in kinds:
        consents.add(
            connection,
            Consent(
                swimmer.id, kind, who, swimmer.minor, day.isoformat(),
                end.isoformat() if end else "", " ".join(words.split())[:MOST_LETTERS], paper,
            ),
            noted_by,
        )  # fmt: skip


def withdraw(connection: sqlite3.Connection, swimmer: Swimmer, kind: str, by: str) -> list[Consent]:
    """Note that a consent is withdrawn from today on: every record of it that is open.

    Where an adult has none on record, the refusal itself is noted. Gives the records.
    """
    who = " ".join(by.split())[:80] or swimmer.name
    if kind not in KINDS:
        raise ConsentError("Choose what is withdrawn.")
    today = date.today().isoformat()
    ended = [
        c for c in consents.of_swimmer(connection, swimmer.id)
        if c.kind == kind and not c.withdrawn_on
    ]  # fmt: skip
    if not ended:
        new = Consent(swimmer.id, kind, who, swimmer.minor, today, words="refused")
        ended = [consents.by_id(connection, swimmer.id, consents.add(connection, new, None))]
    for consent in ended:
        consents.withdraw(connection, consent.id, today, who)
    return ended


def running_out(
    connection: sqlite3.Connection, today: date, within: Within = None
) -> list[Consent]:
    """What ends soon or has just ended, for Today."""
    return consents.running_out(connection, today.isoformat(), (today + SOON).isoformat(), within)


def _day(text: str) -> date | None:
    try:
        return date.fromisoformat(text)
    except ValueError:
        return None
