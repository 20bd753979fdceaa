"""The demo's club beside its swimmers: who works there, in which squad, and what was allowed."""

from __future__ import annotations

import sqlite3
from datetime import date, timedelta

from norvik.store import consents, squads, swimmers, users
from norvik.store.consents import Consent
from norvik.store.squads import Squad
from norvik.store.swimmers import Swimmer
from norvik.store.users import Role

#: E-mail, name and role; all of them sign in with the demo's one password.
PEOPLE: tuple[tuple[str, str, Role], ...] = (
    ("relay@kvarnholm.example", "Torvald Ekremsund", "coach"),
    ("deck@kvarnholm.example", "Maren Liavik", "assistant"),
    ("ylva@kvarnholm.example", "Ylva Torsmark", "swimmer"),
)
#: Squads of the season: swimmers by name.
_SQUADS = {
    "1500 m in spring": ("Ylva Torsmark", "Ragna Stensvold", "Eskil Norrhage", "Petra Lundeholm"),
    "Medley relay": ("Aksel Rimvold", "Brynja Holmquell", "Tormod Askelund", "Linnea Vassmyr"),
}
_SHOWN_TO_OTHERS = "Ylva Torsmark"


def note_consents(
    connection: sqlite3.Connection, swimmer_id: int, swimmer: Swimmer, noted_by: int
) -> None:
    """Everybody signed in autumn for a year; one allows to be shown to others as well."""
    day = date.today() - timedelta(days=60)
    kinds = ["filming", "keeping", "sending"]
    if swimmer.name == _SHOWN_TO_OTHERS:
        kinds += ["squad", "example"]
    until = (day + timedelta(days=365)).isoformat()
    for kind in kinds:
        new = Consent(
            swimmer_id, kind, swimmer.name, False, day.isoformat(), until,
            "signed on paper at the first training of the season",
        )  # fmt: skip
        consents.add(connection, new, noted_by)


def add_club(connection: sqlite3.Connection, password_hash: str) -> None:
    """People and squads. Call after the swimmers are there."""
    added = {
        email: users.add(connection, email, name, role, password_hash)
        for email, name, role in PEOPLE
    }
    coach, assistant, swimmer = (added[email] for email, _, _ in PEOPLE)
    first = date.today().replace(month=9, day=1)
    if first > date.today():
        first = first.replace(year=first.year - 1)
    last = first.replace(year=first.year + 1) - timedelta(days=1)
    season = f"{first.year}/{last.year % 100:02d}"
    by_name = {s.name: s.id for s in swimmers.all_by_name(connection)}
    for name, members in _SQUADS.items():
        staff = {coach, assistant} if name == "Medley relay" else {assistant}
        squads.put(
            connection,
            Squad(
                name, season, first.isoformat(), last.isoformat(),
                frozenset(by_name[m] for m in members if m in by_name), frozenset(staff),
            ),
        )  # fmt: skip
    squads.set_own_swimmers(connection, swimmer, [by_name[PEOPLE[2][1]]])
