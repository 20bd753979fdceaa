"""How well this club's events are marked: shipped, set by the club, or found by marking again."""

from __future__ import annotations

import sqlite3

from norvik.core.time.marker import Marker
from norvik.core.time.marker_found import Found, Pair, found_errors
from norvik.store import club, marked_again


def marker_of(connection: sqlite3.Connection) -> Marker:
    """What is found by marking again goes before what is set."""
    settings = club.marker(connection)
    found = {f: x.error for f, x in found_of(connection).items() if x.error is not None}
    return Marker({**settings, **found})


def found_of(connection: sqlite3.Connection) -> dict[str, Found]:
    """By family, from everything that was marked again in the club."""
    pairs = [Pair(m.event, m.later_s, m.interval_s, m.own) for m in marked_again.every(connection)]
    return found_errors(pairs, club.marker(connection)) if pairs else {}
