"""How well events are marked: shipped, set by the club, or found by marking again."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence

from norvik.core.time.marker import Marker, MarkError
from norvik.core.time.marker_found import Found, Pair, found_errors
from norvik.store import club, marked_again, marks
from norvik.store.marked_again import MarkedAgain


def marker_of(connection: sqlite3.Connection, clip_id: int) -> Marker:
    """How well the marks of a clip were placed.

    What the one who marked it showed by marking again goes before what the club showed together,
    and that before what is set.
    """
    settings = club.marker(connection)
    again = marked_again.every(connection)
    if not again:
        return Marker(settings)
    errors = {**settings, **_known(_found(again, connection))}
    person = marks.mostly_by(connection, clip_id)
    own = [m for m in again if m.own and m.person == person]
    return Marker({**errors, **_known(found_errors(_pairs(own), errors))})


def found_of(connection: sqlite3.Connection) -> dict[str, Found]:
    """By family, from everything that was marked again in the club."""
    return _found(marked_again.every(connection), connection)


def found_by_person(connection: sqlite3.Connection) -> dict[str, dict[str, Found]]:
    """By the name of who marked their own marks again, then by family."""
    own: dict[str, list[MarkedAgain]] = {}
    for m in marked_again.every(connection):
        if m.own:
            own.setdefault(m.person, []).append(m)
    return {person: _found(again, connection) for person, again in own.items()}


def _found(again: Sequence[MarkedAgain], connection: sqlite3.Connection) -> dict[str, Found]:
    return found_errors(_pairs(again), club.marker(connection)) if again else {}


def _pairs(again: Sequence[MarkedAgain]) -> list[Pair]:
    return [Pair(m.event, m.later_s, m.interval_s, m.own) for m in again]


def _known(found: dict[str, Found]) -> dict[str, MarkError]:
    return {family: x.error for family, x in found.items() if x.error is not None}
