"""A plan as rows of a table and as entries of a calendar."""

from __future__ import annotations

from datetime import date

from norvik.core.prescription.plan import Session
from norvik.formats.plan_csv import Row
from norvik.workflow.plans import SwimmerPlan


def table_rows(plan: SwimmerPlan) -> list[Row]:
    """One row a set."""
    pool = plan.plan.request.pool
    return [
        Row(
            date=session.on.isoformat(),
            week=session.week,
            # In words: a spreadsheet program takes 1-2 for the first of February.
            session=f"session {session.key}",
            focus=plan.fault(s.fault).name,
            set=s.name,
            repeats=s.repeats,
            distance=pool.exactly(s.lengths),
            unit=pool.unit,
            rest_s=s.rest_s,
            effort=s.effort,
            kit=", ".join(s.kit),
            cue=s.cue,
            note=s.note,
            film="yes" if session.film else "",
            test=session.test.name if session.test else "",
        )
        for session in plan.plan.sessions
        for s in session.sets
    ]


def session_entries(plan: SwimmerPlan) -> dict[str, tuple[date, str, tuple[str, ...]]]:
    """By session: its day, title and sets; days to film and pool tests stand in it, too."""
    return {
        session.key: (session.on, _title(plan, session), tuple(_lines(plan, session)))
        for session in plan.plan.sessions
    }


def _title(plan: SwimmerPlan, session: Session) -> str:
    more = " + film" if session.film else ""
    more += " + test" if session.test else ""
    return f"{plan.swimmer.name}: {plan.fault(session.focus).name.lower()}{more}"


def _lines(plan: SwimmerPlan, session: Session) -> list[str]:
    pool = plan.plan.request.pool
    lines = [f"Think: {plan.fault(session.focus).cue}"]
    lines += [f"Before: {plan.drill(d).name}" for d in session.land]
    for s in session.sets:
        kit = f", {', '.join(s.kit)}" if s.kit else ""
        note = f" ({s.note})" if s.note else ""
        distance = f"{s.repeats} x {pool.says(s.lengths)} {pool.unit}"
        lines.append(f"{distance} {s.name}{kit}, rest {s.rest_s} s{note}")
    lines.append(f"Technique: {pool.says(session.lengths)} {pool.unit}")
    if session.test:
        lines.append(f"Pool test, rested: {session.test.name}. {session.test.how}")
    for shot in plan.film(session):
        lines.append(f"Film: {shot.view}, {', '.join(shot.instants)}; easy, then near race pace")
    return lines
