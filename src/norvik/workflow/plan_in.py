"""A plan's own table, changed by hand and brought back: days of sessions and repeats of sets."""

from __future__ import annotations

import sqlite3
from dataclasses import replace
from datetime import date

from norvik.core.errors import PlanError
from norvik.core.prescription.plan import PlanRequest
from norvik.formats.plan_csv import WrittenSet, read_plan
from norvik.workflow.change_plan import fix_repeats, move
from norvik.workflow.plans import SwimmerPlan, worked_out


def changed_by_table(
    connection: sqlite3.Connection, plan: SwimmerPlan, data: bytes
) -> tuple[PlanRequest, int, int]:
    """(the request as the table has it, sessions moved, sets changed).

    What a table says of a plan is which day and how often; everything else follows from the plan.
    Raises PlanError for a session or a set that the plan does not have.
    """
    rows = read_plan(data)
    by_session: dict[str, list[WrittenSet]] = {}
    for row in rows:
        by_session.setdefault(row.session, []).append(row)
    sessions = {s.key: s for s in plan.plan.sessions}
    now, request, moved, changed = plan, plan.stored.request, 0, 0
    days: dict[str, date] = {}
    for key, written in by_session.items():
        session = sessions.get(key)
        if session is None:
            raise PlanError(f"Row {written[0].row}: this plan has no session “{key[:30]}”.")
        try:
            days[key] = date.fromisoformat(written[0].day)
        except ValueError as error:
            raise PlanError(
                f"Row {written[0].row}: “{written[0].day[:30]}” is no day such as 2027-03-14."
            ) from error
        left = list(session.sets)
        for row in written:
            mine = next((s for s in left if s.name == row.set), None)
            if mine is None:
                raise PlanError(f"Row {row.row}: session {key} has no set “{row.set[:40]}”.")
            left.remove(mine)
            if mine.repeats == row.repeats:
                continue
            if mine.place is None:
                continue  # the swim-off takes what the other sets leave
            request = fix_repeats(now, key, mine.place, row.repeats)
            now = worked_out(connection, replace(plan.stored, request=request), strict=True)
            changed += 1
    for key, to in days.items():
        # One that changed places with another may be where it should be already.
        if sessions[key].on != to and now.plan.session(key).on != to:
            request = move(now, key, to)
            now = worked_out(connection, replace(plan.stored, request=request), strict=True)
            moved += 1
    return request, moved, changed
