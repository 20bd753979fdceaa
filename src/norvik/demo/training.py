"""The plan that the demo shows: three weeks are behind, the aim is in spring."""

from __future__ import annotations

import sqlite3
from datetime import date, timedelta
from fractions import Fraction

from norvik.core.plan import FocusWish, PlanWish, Pool
from norvik.store import clips, plans
from norvik.store.plans import Trained
from norvik.workflow.clip_judgement import judge_clip
from norvik.workflow.plans import plan_from, worked_out

#: Tuesday, Thursday and Saturday.
_WEEKDAYS = (1, 3, 5)
_WEEKS = 16


def add_plan(connection: sqlite3.Connection, clip_id: int) -> None:
    """A plan from the points chosen on a clip, begun the day after it, with what was done."""
    clip = clips.by_id(connection, clip_id)
    judgement = judge_clip(connection, clip)
    begins = date.fromisoformat(clip.filmed_on) + timedelta(days=1)
    wish = PlanWish(
        starts_on=begins,
        weekdays=_WEEKDAYS,
        pool=Pool(Fraction(round(clip.facts.pool_m or 25))),
        focuses=tuple(FocusWish(f.fault.id) for f in judgement.focuses),
        metres=2400,
        level=judgement.swimmer.level,
        aim_on=begins + timedelta(weeks=_WEEKS),
    )
    stored = plans.add(connection, plan_from(judgement, wish, "18:30"))
    past = [s for s in worked_out(connection, stored).plan.sessions if s.on < date.today()]
    for n, session in enumerate(past):
        outcome = "skipped" if n == 3 else "partly" if n == 5 else "done"
        felt = None if outcome == "skipped" else 4 + n % 3
        note = "away for work" if outcome == "skipped" else ""
        plans.note_training(connection, stored.id, Trained(session.key, outcome, felt, note))
