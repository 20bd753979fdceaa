"""Change a plan: days, sets, drills, weeks, order. Each change is stored and can be undone."""

from __future__ import annotations

import sqlite3
from contextlib import AbstractContextManager
from dataclasses import dataclass, replace
from datetime import date, timedelta

from norvik.core.errors import PlanError
from norvik.core.judging.coaching_model import Drill
from norvik.core.prescription.plan import FocusRequest, PlanRequest
from norvik.core.prescription.plan.sets import ADDED
from norvik.core.prescription.prescribe import prescribe
from norvik.store import plans
from norvik.store.plans import StoredPlan
from norvik.store.undo import Step, undoable
from norvik.workflow.clip_judgement import receiver_of
from norvik.workflow.plans import SwimmerPlan, worked_out


def change_plan(
    connection: sqlite3.Connection, user_id: int | None, changed: StoredPlan,
    text: str = "Plan changed.",
) -> tuple[SwimmerPlan, Step]:  # fmt: skip
    """Store a changed plan, when it can be made. Raises PlanError, and the old one stays."""
    with undoable_plan(connection, user_id, changed.id) as step:
        made = worked_out(connection, changed, strict=True)
        plans.update(connection, changed)
        step.text = text
    return made, step


def delete_plan(connection: sqlite3.Connection, user_id: int | None, plan_id: int) -> Step:
    """Delete a plan with what was noted in it; undoing brings both back."""
    with undoable_plan(connection, user_id, plan_id) as step:
        plans.delete(connection, plan_id)
        step.text = "Plan deleted."
    return step


def end_plan(connection: sqlite3.Connection, plan_id: int) -> None:
    """End a plan today: Today and the calendar leave it out."""
    plans.end(connection, plan_id, date.today().isoformat())


def resume_plan(connection: sqlite3.Connection, plan_id: int) -> None:
    """Go on with a plan that was ended."""
    plans.end(connection, plan_id, None)


def undoable_plan(
    connection: sqlite3.Connection, user_id: int | None, plan_id: int
) -> AbstractContextManager[Step]:
    """A step that undoes all that is changed of a plan and noted in it."""
    return undoable(
        connection, user_id, [("plans", "id", plan_id), ("training", "plan_id", plan_id)]
    )


def move(plan: SwimmerPlan, key: str, to: date | None) -> PlanRequest:
    """The request with a session on another day, or back on its own with None.

    One that is there changes places with it. Raises PlanError for a day outside the plan.
    """
    request, session = plan.plan.request, plan.plan.session(key)
    to = _own_day(plan, key) if to is None else to
    last = plan.plan.weeks[-1].monday.toordinal() + 6
    if to < request.starts_on or to.toordinal() > last or (request.aim_on and to >= request.aim_on):
        raise PlanError("This day lies outside the plan.")
    moves = {**request.moves, key: to}
    other = next((s for s in plan.plan.sessions if s.on == to and s.key != key), None)
    if other is not None:
        moves[other.key] = session.on
    return replace(request, moves={k: on for k, on in moves.items() if on != _own_day(plan, k)})


def _own_day(plan: SwimmerPlan, key: str) -> date:
    """The day of a session by the days of the week that were chosen."""
    week, number = (int(part) for part in key.split("-"))
    request = plan.plan.request
    return request.monday + timedelta(
        days=7 * (week - 1) + sorted(set(request.weekdays))[number - 1]
    )


def add_set(plan: SwimmerPlan, key: str, drill_id: str, repeats: int) -> PlanRequest:
    """The request with one more set. Raises PlanError for a drill that does not suit."""
    request = plan.plan.request
    plan.plan.session(key)
    _check_repeats(repeats)
    if drill_id not in {d.id for d in plan.addable}:
        raise PlanError("This drill does not suit this swimmer at the moment. Choose another one.")
    return replace(
        request, added={**request.added, key: (*request.added.get(key, ()), (drill_id, repeats))}
    )


def _check_repeats(repeats: int) -> None:
    if not 1 <= repeats <= 60:
        raise PlanError("A set has between 1 and 60 repeats.")


def fix_repeats(plan: SwimmerPlan, key: str, place: int, repeats: int | None) -> PlanRequest:
    """The request with the repeats of one set fixed, or free again with None; an added set goes."""
    request = plan.plan.request
    plan.plan.session(key)
    if place >= ADDED:
        return _change_added(request, key, place - ADDED, repeats)
    fixed = {k: v for k, v in request.repeats.get(key, {}).items() if k != place}
    if repeats is not None:
        _check_repeats(repeats)
        fixed[place] = repeats
    every = {k: v for k, v in request.repeats.items() if k != key}
    return replace(request, repeats={**every, key: fixed} if fixed else every)


def _change_added(request: PlanRequest, key: str, at: int, repeats: int | None) -> PlanRequest:
    sets = list(request.added.get(key, ()))
    if not 0 <= at < len(sets):
        raise PlanError("This set is no longer in the plan. Reload the page.")
    if repeats is None:
        sets.pop(at)
    else:
        _check_repeats(repeats)
        sets[at] = (sets[at][0], repeats)
    others = {k: v for k, v in request.added.items() if k != key}
    return replace(request, added={**others, key: tuple(sets)} if sets else others)


def another_drill(plan: SwimmerPlan, fault: str, drill: str) -> StoredPlan:
    """The stored plan with the next suitable drill in place of one; PlanError without any."""
    work = plan.work(fault)
    receiver = receiver_of(plan.swimmer)
    given = prescribe(work.fault, plan.catalogue, plan.stored.found, receiver)
    kept = [d.id for d in work.drills]
    other = given.instead_of(drill, kept)
    if other is None or drill not in kept:
        raise PlanError("No other drill suits this swimmer at the moment.")
    kept[kept.index(drill)] = other.id
    return replace(plan.stored, drills={**plan.stored.drills, fault: tuple(kept)})


def set_weeks(plan: SwimmerPlan, fault: str, weeks: int | None) -> PlanRequest:
    """The request with the weeks of a focus set by the coach, or shared out again with None."""
    request = plan.plan.request
    focuses = tuple(
        FocusRequest(f.fault, weeks) if f.fault == fault else f for f in request.focuses
    )
    return replace(request, focuses=focuses)


def reorder(plan: SwimmerPlan, fault: str, before: str | None) -> PlanRequest:
    """The request with a focus put before another one, or last with None."""
    request = plan.plan.request
    moved = [f for f in request.focuses if f.fault == fault]
    others = [f for f in request.focuses if f.fault != fault]
    at = next((n for n, f in enumerate(others) if f.fault == before), len(others))
    focuses = (*others[:at], *moved, *others[at:])
    if before == fault or not moved:
        return request
    # Sessions that were fixed set by set belonged to other drills.
    return replace(request, focuses=focuses, repeats={})


@dataclass(frozen=True, slots=True)
class Exchange:
    """A drill of a plan and the one that would come in its place."""

    plan_id: int
    now: Drill
    instead: Drill


def exchange_for(plan: SwimmerPlan, fault: str) -> Exchange | None:
    """For a point that does not change: its main drill in the water and the next suitable one."""
    drills = plan.work(fault).in_water
    main = next((d for d in drills if d.slot == "main"), next(iter(drills), None))
    if main is None:
        return None
    given = prescribe(
        plan.fault(fault), plan.catalogue, plan.stored.found, receiver_of(plan.swimmer)
    )
    instead = given.instead_of(main.id, [d.id for d in plan.work(fault).drills])
    return Exchange(plan.stored.id, main, instead) if instead else None
