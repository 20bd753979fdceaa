"""The plan and the pool tests that the demo shows: three weeks are behind, the aim is in spring."""

from __future__ import annotations

import sqlite3
from datetime import date, timedelta
from fractions import Fraction

from norvik.core.prescription.plan import FocusRequest, PlanRequest, Pool, Session
from norvik.store import clips, plans, pool_tests
from norvik.store.plans import Outcome, StoredPlan, Trained
from norvik.store.pool_tests import SwumTest
from norvik.workflow.plans import freeze, plan_from, worked_out
from norvik.workflow.review_judgement import judge_with

#: Tuesday, Thursday and Saturday.
_WEEKDAYS = (1, 3, 5)
_WEEKS = 16
#: Weeks ago, seconds for 100 with the arms, seconds for 50 kick, rested.
_PULL_KICK = ((15, 109.8, 60.2, True), (10, 107.4, 59.9, True), (6, 111.3, 58.8, False),
              (4, 105.1, 59.6, True))  # fmt: skip
#: Strokes and seconds of single lengths at one pace.
_COUNTS = ((21, 22.4), (20, 22.1), (19, 22.6), (18, 23.0), (17, 23.9))


def add_plan(connection: sqlite3.Connection, clip_id: int) -> None:
    """A plan from the points chosen on a clip, begun the day after it, with what was done."""
    clip = clips.by_id(connection, clip_id)
    judgement = judge_with(connection, clip)
    begins = date.fromisoformat(clip.filmed_on) + timedelta(days=1)
    request = PlanRequest(
        starts_on=begins,
        weekdays=_WEEKDAYS,
        pool=Pool(Fraction(round(clip.facts.pool_m or 25))),
        focuses=tuple(FocusRequest(r.fault.id) for _, r in judgement.focuses),
        metres=2400,
        level=judgement.swimmer.level,
        aim_on=begins + timedelta(weeks=_WEEKS),
    )
    stored = plans.add(connection, plan_from(judgement, request, "18:30"))
    past = [s for s in worked_out(connection, stored).plan.sessions if s.on < date.today()]
    for n, session in enumerate(past):
        outcome: Outcome = "skipped" if n == 3 else "partly" if n == 5 else "done"
        felt = None if outcome == "skipped" else 4 + n % 3
        note = "away for work" if outcome == "skipped" else ""
        plans.note_training(
            connection, stored.id, Trained(session.key, outcome, felt, note, freeze(session))
        )
    _add_tests(connection, judgement.swimmer.id, request.pool)
    _add_challenge(connection, stored, past)


def _add_tests(connection: sqlite3.Connection, swimmer_id: int, pool: Pool) -> None:
    """Pool tests of the weeks before: arms that catch up with the legs."""
    for weeks, pull, kick, rested in _PULL_KICK:
        pool_tests.add(
            connection,
            SwumTest(
                swimmer_id, "pull-kick", "freestyle", _weeks_ago(weeks), pool,
                {"pull": (pull,), "kick": (kick,)}, rested, "" if rested else "after a race",
            ),
        )  # fmt: skip


def _add_challenge(connection: sqlite3.Connection, plan: StoredPlan, past: list[Session]) -> None:
    """The stroke count that the plan asked for, swum on its day."""
    for session in past:
        if session.test is None or session.test.id != "stroke-count":
            continue
        strokes, seconds = zip(*_COUNTS, strict=True)
        pool_tests.add(
            connection,
            SwumTest(
                plan.swimmer_id, "stroke-count", plan.stroke, session.on.isoformat(),
                plan.request.pool, {"strokes": strokes, "seconds": seconds},
                plan_id=plan.id, session=session.key,
            ),
        )  # fmt: skip


def _weeks_ago(weeks: int) -> str:
    return (date.today() - timedelta(weeks=weeks)).isoformat()
