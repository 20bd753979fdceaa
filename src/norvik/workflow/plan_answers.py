"""What later films say of the points of a plan: a point that is gone needs no more weeks."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date

from norvik.store import focus_answers
from norvik.workflow.plans import SwimmerPlan, strokes_of


@dataclass(frozen=True, slots=True)
class Gone:
    """A point of a plan that a film after its start showed gone.

    filmed_on: of that film, as in 2027-03-14. weeks: that the point has had up to now, at least
    one; left: weeks of it that are still to come.
    """

    fault: str
    filmed_on: str
    weeks: int
    left: int


def gone_points(connection: sqlite3.Connection, plan: SwimmerPlan, today: date) -> list[Gone]:
    """Points with weeks still to come that the coach has seen gone since the plan began."""
    begins = plan.plan.request.starts_on.isoformat()
    said: dict[str, tuple[str, str]] = {}
    for stroke in strokes_of(plan):
        said.update(focus_answers.newest(connection, plan.swimmer.id, stroke))
    past = sum(w.monday <= today for w in plan.plan.weeks)
    found = []
    for fault, first, last in plan.plan.spans():
        answer, filmed_on = said.get(fault, ("", ""))
        weeks = max(1, past - first + 1)
        left = last - first + 1 - weeks
        if answer == "gone" and filmed_on >= begins and left > 0:
            found.append(Gone(fault, filmed_on, weeks, left))
    return found
