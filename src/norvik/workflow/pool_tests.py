"""A swimmer's pool tests: judged in their order, with drills for what they show."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date

from norvik.core.judging.coaching_model import Drill
from norvik.core.pool import Pool
from norvik.core.prescription.pool_tests import EarlierTest, Outcome, PoolTest, evaluate, pool_test
from norvik.core.prescription.pool_tests.helps import HELPS, MOST
from norvik.core.prescription.pool_tests.offered import painful_parts
from norvik.core.prescription.prescribe import unsuitable
from norvik.core.strokes.names import StrokeName
from norvik.formats.pool_tests_csv import Row
from norvik.store import pains, plans, pool_tests, reviews
from norvik.store.pool_tests import SwumTest
from norvik.store.swimmers import Swimmer
from norvik.workflow.clip_judgement import receiver_of
from norvik.workflow.own_catalogue import tables_of
from norvik.workflow.review_judgement import judge_review


@dataclass(frozen=True, slots=True)
class JudgedTest:
    """A test that was swum, with what it says beside those before it."""

    swum: SwumTest
    outcome: Outcome


@dataclass(frozen=True, slots=True)
class Series:
    """Tests of one kind in one stroke and pool, oldest first."""

    test: PoolTest
    stroke: StrokeName
    pool: Pool
    judged: tuple[JudgedTest, ...]

    @property
    def newest(self) -> JudgedTest:
        return self.judged[-1]


def series_of(connection: sqlite3.Connection, swimmer: Swimmer) -> list[Series]:
    """All tests of a swimmer; the kind that was swum last comes first."""
    by_kind: dict[tuple[str, StrokeName, Pool], list[SwumTest]] = {}
    for swum in pool_tests.of_swimmer(connection, swimmer.id):
        by_kind.setdefault((swum.test, swum.stroke, swum.pool), []).append(swum)
    made = []
    for (test_id, stroke, pool), all_swum in by_kind.items():
        test = pool_test(test_id)
        earlier = [EarlierTest(s.entries, s.rested) for s in all_swum]
        judged = tuple(
            JudgedTest(swum, evaluate(test, swum.entries, earlier[:n], swum.rested))
            for n, swum in enumerate(all_swum)
        )
        made.append(Series(test, stroke, pool, judged))
    return sorted(made, key=lambda s: (s.newest.swum.done_on, s.newest.swum.id), reverse=True)


def pain_against(
    connection: sqlite3.Connection, swimmer: Swimmer, test: PoolTest, day: date
) -> str | None:
    """Why a test is not written down for a day: it works a part hard that hurt then.

    One that was swum before the pain was noted may still be written down.
    """
    painful = painful_parts(test, swimmer.pain)
    since = [
        date.fromisoformat(p.noted_on)
        for p in pains.of_swimmer(connection, swimmer.id)
        if p.part in painful and p.cleared_on is None
    ]
    if not painful or day < min(since, default=date.min):
        return None
    return (
        f"{swimmer.name} has pain noted: {', '.join(painful)}. This test works it hard: it is "
        "not swum until the pain is cleared on the swimmer's page."
    )


def judged_of_plan(
    connection: sqlite3.Connection, swimmer: Swimmer, plan_id: int
) -> dict[str, JudgedTest]:
    """Tests that a plan set and that were swum, by the key of their session."""
    return {
        j.swum.session: j
        for s in series_of(connection, swimmer)
        for j in s.judged
        if j.swum.plan_id == plan_id
    }


def drills_for(
    connection: sqlite3.Connection, swimmer: Swimmer, series: Series
) -> tuple[Drill, ...]:
    """Drills for what the newest test shows.

    As prescribed drills are: none that hurts, that cannot be done, or that feeds a finding.
    """
    weaker = series.newest.outcome.weaker
    if not weaker:
        return ()
    tables, receiver = tables_of(connection, series.stroke), receiver_of(swimmer)
    found = _found(connection, swimmer, series.stroke)
    listed = [tables.drills[d] for d in HELPS[weaker] if d in tables.drills]
    return tuple(d for d in listed if unsuitable(d, tables, found, receiver) is None)[:MOST]


def table_rows(connection: sqlite3.Connection, swimmer: Swimmer) -> list[Row]:
    """Every value of every test, oldest first."""
    return [
        Row(t.done_on, t.test, t.stroke, str(t.pool.length), t.pool.unit,
            "yes" if t.rested else "no", entry, number, f"{value:g}", t.note)
        for t in pool_tests.of_swimmer(connection, swimmer.id)
        for entry, values in t.entries.items()
        for number, value in enumerate(values, 1)
    ]  # fmt: skip


def _found(connection: sqlite3.Connection, swimmer: Swimmer, stroke: StrokeName) -> set[str]:
    """Faults that are known of the swimmer in this stroke: from the newest review and the plans."""
    planned = [p for p in plans.of_swimmer(connection, swimmer.id) if p.stroke == stroke]
    found = {f for p in planned[:1] for f in p.found}
    for review in reviews.of_swimmer(connection, swimmer.id):
        of_stroke = [s for s in judge_review(connection, review).strokes if s.stroke == stroke]
        if any(c.timed.marks or c.seen for s in of_stroke for c in s.clips):
            found |= {r.fault.id for s in of_stroke for r in s.ranked}
            break
    return found & set(tables_of(connection, stroke).faults)
