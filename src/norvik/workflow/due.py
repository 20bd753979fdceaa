"""What running plans ask for soon: days to film again, and pool tests."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date, timedelta

from norvik.core.judging.coaching_model import Fault
from norvik.core.prescription.plan import Session, build_plan
from norvik.core.prescription.plan.sets import FocusDrills
from norvik.core.prescription.pool_tests import PoolTest, offered_tests
from norvik.store import clips, plans, pool_tests, swimmers
from norvik.store.plans import StoredPlan
from norvik.store.scope import Within
from norvik.store.swimmers import Swimmer
from norvik.workflow.plans import plan_tables

#: Own choice: what is due is told a week before, and for a month after it was missed.
_SOON, _LONG_AGO = timedelta(days=7), timedelta(days=30)


@dataclass(frozen=True, slots=True)
class Due:
    """A day to film a swimmer again for a fault, or to swim a test: one of them is None."""

    plan_id: int
    session: str
    swimmer: Swimmer
    on: date
    fault: Fault | None = None
    test: PoolTest | None = None


def due(connection: sqlite3.Connection, today: date, within: Within = None) -> list[Due]:
    """What is due within a week, and what was missed; soonest first.

    A day to film counts as kept when the stroke was filmed since, a test when it was swum since.
    """
    found: list[Due] = []
    for stored in plans.running(connection, within):
        found += _of_plan(connection, stored, today)
    return sorted(found, key=lambda d: (d.on, d.swimmer.name, d.test is not None))


def _of_plan(connection: sqlite3.Connection, stored: StoredPlan, today: date) -> list[Due]:
    faults = plan_tables(connection, stored).faults
    if any(f.fault not in faults for f in stored.request.focuses):
        return []
    swimmer = swimmers.by_id(connection, stored.swimmer_id)
    tests = offered_tests(stored.stroke, stored.request.pool, swimmer.kit, swimmer.pain)
    # Days do not depend on drills: without them a plan is quickly laid out.
    bare = [FocusDrills(faults[f.fault], (), lambda d: d.effort) for f in stored.request.focuses]
    sessions = build_plan(stored.request, bare, tests).sessions
    filmed = clips.last_filmed_on(connection, stored.swimmer_id, stored.stroke) or ""
    swum = pool_tests.of_swimmer(connection, stored.swimmer_id)

    def kept(session: Session, test: PoolTest | None) -> bool:
        day = session.on.isoformat()
        if test is None:
            return filmed >= day
        return any(
            (t.plan_id, t.session) == (stored.id, session.key)
            or ((t.test, t.stroke) == (test.id, stored.stroke) and t.done_on >= day)
            for t in swum
        )

    found = []
    for s in sessions:
        if not today - _LONG_AGO < s.on <= today + _SOON:
            continue
        # A day to film that is still to come stays, even when the stroke was filmed meanwhile.
        if s.film and (s.on >= today or not kept(s, None)):
            found.append(Due(stored.id, s.key, swimmer, s.on, fault=faults[s.focus]))
        if s.test and not kept(s, s.test):
            found.append(Due(stored.id, s.key, swimmer, s.on, test=s.test))
    return found
