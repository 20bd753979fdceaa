"""Who may do what with what. Every thing is loaded through here, by the person who asks.

`may` alone decides, from one table (DEEDS) and from whose a thing is. What each route does is said
in web/shared/route_deeds.py; docs/roles.md shows both as they are walked by
tests/web/test_roles.py. A view never calls the `by_id` of a store module: tests/web/test_access.py
fails on one that does.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Literal, TypeVar

from norvik.core.errors import ForbiddenError, NotFoundError
from norvik.store import (
    clips,
    made_films,
    plans,
    pool_tests,
    recordings,
    reviews,
    squads,
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
from norvik.store.scope import Scope, Within
from norvik.store.swimmers import Swimmer
from norvik.store.swims import Swim
from norvik.store.talks import Talk
from norvik.store.users import Role
from norvik.store.whose import Whose, whose

#: see: look at; film: bring in, describe, cut; mark: events, drawings, points and ticks; judge:
#: points, words, remarks, talks, plans, consent; train: the log; teach: the club's drills; send:
#: links, mails, exports; remove: into the trash and out of it; lead: people, squads, settings,
#: storage, trail, erasing; own: pages of the swimmer behind an account; self: one's own account.
Deed = Literal[
    "see", "film", "mark", "judge", "train", "teach", "send", "remove", "lead", "own", "self"
]
T = TypeVar("T")

_ASSISTANT: frozenset[Deed] = frozenset(("see", "film", "mark", "self"))
_COACH: frozenset[Deed] = _ASSISTANT | {"judge", "train", "teach", "send", "remove"}
_OWN: frozenset[Deed] = frozenset(("own", "self"))
#: What each role may do at all. With which swimmers, squads and accounts say.
DEEDS: Mapping[Role, frozenset[Deed]] = {
    "head-coach": _COACH | {"lead"},
    "coach": _COACH,
    "assistant": _ASSISTANT,
    "swimmer": _OWN,
    "guardian": _OWN,
}
#: How a refusal names what was wanted.
_WORDS: Mapping[str, str] = {
    "see": "see this", "film": "add or describe clips", "mark": "mark this",
    "judge": "judge this", "train": "note training", "teach": "change the club's drills",
    "send": "send anything", "remove": "remove anything", "lead": "do this",
    "own": "open this page", "self": "do this",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Person:
    """Who asks. role: of DEEDS. within: whose things this person may touch; None is everybody's."""

    id: int
    role: Role
    within: Within = None


def person_of(connection: sqlite3.Connection, user_id: int, role: Role, today: str) -> Person:
    """A person with the swimmers of their squads, or of their own account. today: ISO 8601."""
    if role == "head-coach":
        return Person(user_id, role)
    own = "own" in DEEDS.get(role, frozenset())
    found = (
        squads.own_swimmers(connection, user_id)
        if own
        else squads.swimmers_of_staff(connection, user_id, today)
    )
    return Person(user_id, role, Scope(found, user_id))


def may(who: Person, deed: Deed, of: Iterable[Whose] | None = None) -> bool:
    """May this person do that, with a thing that is of these? Without a thing: may they at all?"""
    if deed not in DEEDS.get(who.role, frozenset()):
        return False
    within = who.within
    return of is None or within is None or any(within.has(*one) for one in of)


def require(who: Person, deed: Deed, of: Iterable[Whose] | None = None) -> None:
    """Raises ForbiddenError where the person may not."""
    if may(who, deed, of):
        return
    if may(who, deed):
        raise ForbiddenError(
            "This belongs to a swimmer of another squad. Ask the head coach to add you to it."
        )
    raise ForbiddenError(
        f"Your account may not {_WORDS[deed]}. Ask the head coach, or sign in with another account."
    )


def answer(connection: sqlite3.Connection, who: Person, answer_id: int, deed: Deed) -> None:
    """That somebody may touch what a swimmer answered. Raises NotFoundError or ForbiddenError."""
    of = whose(connection, "answer", answer_id)
    if not of:
        raise NotFoundError("This answer has been deleted.")
    require(who, deed, of)


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
    require(who, deed, whose(connection, kind, key))
    return thing
