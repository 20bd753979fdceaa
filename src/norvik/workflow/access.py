"""Who may see and who may change what. Every thing is loaded through here, by the person who asks.

The rule is one table, RULES. Whoever signs in may do everything today; a role that may do less is
one more line there, and what belongs to whom is decided in `_may` alone. A view never calls the
`by_id` of a store module: tests/web/test_access.py walks all routes and fails on one that does.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal, TypeVar

from norvik.core.errors import ForbiddenError
from norvik.store import (
    clips,
    made_films,
    plans,
    pool_tests,
    recordings,
    reviews,
    swimmers,
    swims,
    talks,
)
from norvik.store.clips import Clip
from norvik.store.made_films import MadeFilm
from norvik.store.plans import StoredPlan
from norvik.store.pool_tests import SwumTest
from norvik.store.recordings import Recording
from norvik.store.reviews import Review
from norvik.store.swimmers import Swimmer
from norvik.store.swims import Swim
from norvik.store.talks import Talk

Deed = Literal["see", "change"]
T = TypeVar("T")

#: Role: what it may do with each kind of thing; "*" is every kind that has no entry of its own.
RULES: Mapping[str, Mapping[str, frozenset[Deed]]] = {
    "coach": {"*": frozenset(("see", "change"))},
    "assistant": {"*": frozenset(("see", "change"))},
}


@dataclass(frozen=True, slots=True)
class Person:
    """Who asks. role: of RULES."""

    id: int
    role: str


def clip(connection: sqlite3.Connection, who: Person, clip_id: int, deed: Deed = "see") -> Clip:
    """A clip. Raises NotFoundError, or ForbiddenError where the person may not do that with it."""
    return _load(clips.by_id, connection, who, "clip", clip_id, deed)


def recording(
    connection: sqlite3.Connection, who: Person, recording_id: int, deed: Deed = "see"
) -> Recording:
    return _load(recordings.by_id, connection, who, "recording", recording_id, deed)


def swimmer(
    connection: sqlite3.Connection, who: Person, swimmer_id: int, deed: Deed = "see"
) -> Swimmer:
    return _load(swimmers.by_id, connection, who, "swimmer", swimmer_id, deed)


def plan(
    connection: sqlite3.Connection, who: Person, plan_id: int, deed: Deed = "see"
) -> StoredPlan:
    return _load(plans.by_id, connection, who, "plan", plan_id, deed)


def review(
    connection: sqlite3.Connection, who: Person, review_id: int, deed: Deed = "see"
) -> Review:
    return _load(reviews.by_id, connection, who, "review", review_id, deed)


def swim(connection: sqlite3.Connection, who: Person, swim_id: int, deed: Deed = "see") -> Swim:
    return _load(swims.by_id, connection, who, "swim", swim_id, deed)


def pool_test(
    connection: sqlite3.Connection, who: Person, test_id: int, deed: Deed = "see"
) -> SwumTest:
    return _load(pool_tests.by_id, connection, who, "pool test", test_id, deed)


def talk(connection: sqlite3.Connection, who: Person, talk_id: int, deed: Deed = "see") -> Talk:
    return _load(talks.by_id, connection, who, "talk", talk_id, deed)


def made_film(
    connection: sqlite3.Connection, who: Person, film_id: int, deed: Deed = "see"
) -> MadeFilm:
    return _load(made_films.by_id, connection, who, "film", film_id, deed)


def _load(
    by_id: Callable[[sqlite3.Connection, int], T],
    connection: sqlite3.Connection,
    who: Person,
    kind: str,
    key: int,
    deed: Deed,
) -> T:
    thing = by_id(connection, key)
    if not _may(who, deed, kind):
        raise ForbiddenError(f"You may not {deed} this {kind}. Sign in with another account.")
    return thing


def _may(who: Person, deed: Deed, kind: str) -> bool:
    rules = RULES.get(who.role, {})
    return deed in rules.get(kind, rules.get("*", frozenset()))
