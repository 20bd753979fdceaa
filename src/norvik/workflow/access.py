"""Who may see and who may change what. Every thing is loaded through here, by the person who asks.

The rule is one table, RULES. Whoever signs in may do everything today; a role that may do less is
one more line there, and what belongs to whom is decided in `_may` alone. A view never calls the
`by_id` of a store module: tests/web/test_access.py walks all routes and fails on one that does.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

from norvik.core.errors import ForbiddenError
from norvik.store import clips, plans, pool_tests, recordings, swimmers, swims
from norvik.store.clips import Clip
from norvik.store.plans import StoredPlan
from norvik.store.pool_tests import SwumTest
from norvik.store.recordings import Recording
from norvik.store.swimmers import Swimmer
from norvik.store.swims import Swim

Deed = Literal["see", "change"]
Thing = Clip | Recording | StoredPlan | SwumTest | Swim | Swimmer

#: Role: what it may do with each kind of thing; "*" is every kind that has no entry of its own.
RULES: Mapping[str, Mapping[str, frozenset[Deed]]] = {
    "coach": {"*": frozenset(("see", "change"))},
    "assistant": {"*": frozenset(("see", "change"))},
}
_KINDS: Mapping[str, Callable[[sqlite3.Connection, int], Thing]] = {
    "clip": clips.by_id,
    "plan": plans.by_id,
    "pool test": pool_tests.by_id,
    "recording": recordings.by_id,
    "swimmer": swimmers.by_id,
    "swim": swims.by_id,
}


@dataclass(frozen=True, slots=True)
class Person:
    """Who asks. role: of RULES."""

    id: int
    role: str


def clip(connection: sqlite3.Connection, who: Person, clip_id: int, deed: Deed = "see") -> Clip:
    """A clip. Raises NotFoundError, or ForbiddenError where the person may not do that with it."""
    found = _load(connection, who, "clip", clip_id, deed)
    assert isinstance(found, Clip)
    return found


def recording(
    connection: sqlite3.Connection, who: Person, recording_id: int, deed: Deed = "see"
) -> Recording:
    found = _load(connection, who, "recording", recording_id, deed)
    assert isinstance(found, Recording)
    return found


def swimmer(
    connection: sqlite3.Connection, who: Person, swimmer_id: int, deed: Deed = "see"
) -> Swimmer:
    found = _load(connection, who, "swimmer", swimmer_id, deed)
    assert isinstance(found, Swimmer)
    return found


def plan(
    connection: sqlite3.Connection, who: Person, plan_id: int, deed: Deed = "see"
) -> StoredPlan:
    found = _load(connection, who, "plan", plan_id, deed)
    assert isinstance(found, StoredPlan)
    return found


def swim(connection: sqlite3.Connection, who: Person, swim_id: int, deed: Deed = "see") -> Swim:
    found = _load(connection, who, "swim", swim_id, deed)
    assert isinstance(found, Swim)
    return found


def pool_test(
    connection: sqlite3.Connection, who: Person, test_id: int, deed: Deed = "see"
) -> SwumTest:
    found = _load(connection, who, "pool test", test_id, deed)
    assert isinstance(found, SwumTest)
    return found


def _load(connection: sqlite3.Connection, who: Person, kind: str, key: int, deed: Deed) -> Thing:
    thing = _KINDS[kind](connection, key)
    if not _may(who, deed, kind):
        raise ForbiddenError(f"You may not {deed} this {kind}. Sign in with another account.")
    return thing


def _may(who: Person, deed: Deed, kind: str) -> bool:
    rules = RULES.get(who.role, {})
    return deed in rules.get(kind, rules.get("*", frozenset()))
