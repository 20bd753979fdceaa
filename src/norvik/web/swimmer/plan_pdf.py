"""A plan and its deck card on paper."""

from __future__ import annotations

from norvik.core.judging.coaching_model import Drill
from norvik.core.prescription.plan import Session
from norvik.core.prescription.prescribe import dose, mistakes_of
from norvik.formats.pdf import Sheet
from norvik.web.draw.drill_figure import strip_document
from norvik.web.shared.filters import VIEW_NAMES
from norvik.web.shared.language import day
from norvik.web.shared.paper import fonts
from norvik.workflow.plans import SwimmerPlan


def plan_pdf(plan: SwimmerPlan) -> bytes:
    """Every session with its sets, week by week; no session is torn apart."""
    pool = plan.plan.request.pool
    sheet = Sheet(fonts(), f"Plan, {plan.swimmer.name}", "Norvik")
    sheet.text(plan.swimmer.name, 22, bold=True, gap=0.5)
    first = day(plan.stored.request.starts_on.isoformat())
    sheet.text(f"Technique plan, {plan.stored.stroke} · from {first}", 11, muted=True)
    week = 0
    for session in plan.plan.sessions:
        begins, week = session.week != week, session.week

        def write(session: Session = session, begins: bool = begins) -> None:
            if begins:
                sheet.heading(f"Week {session.week}", 14)
            more = " · film" if session.film else ""
            more += f" · test: {session.test.name}" if session.test else ""
            sheet.text(
                f"{day(session.on.isoformat())} · {plan.fault(session.focus).name} · "
                f"{pool.says(session.lengths)} {pool.unit}{more}", 11, bold=True, gap=0.5,
            )  # fmt: skip
            sheet.text(f"Think: {plan.fault(session.focus).cue}", 10, muted=True, gap=0.5)
            sheet.table(_rows(plan, session), (0.2, 0.55, 0.25), 9.5)

        sheet.keep(write)
    return sheet.data()


def _rows(plan: SwimmerPlan, session: Session) -> list[tuple[str, str, str]]:
    pool = plan.plan.request.pool
    rows = [("Land", f"{plan.drill(d).name}, {dose(plan.drill(d))}", "") for d in session.land]
    for s in session.sets:
        kit = f" ({', '.join(s.kit)})" if s.kit else ""
        note = f" · {s.note}" if s.note else ""
        rows.append((f"{s.repeats} × {pool.says(s.lengths)} {pool.unit}", f"{s.name}{kit}{note}",
                     f"rest {s.rest_s} s · effort {s.effort}"))  # fmt: skip
    return rows


def deck_pdf(plan: SwimmerPlan, session: Session) -> bytes:
    """One page for the pool deck, to read wet at arm's length."""
    pool = plan.plan.request.pool
    sheet = Sheet(fonts(), f"Deck card, {plan.swimmer.name}", "Norvik")
    sheet.text(
        f"{plan.swimmer.name} · {day(session.on.isoformat())} · {pool.says(session.lengths)} "
        f"{pool.unit} of technique", 13, muted=True,
    )  # fmt: skip
    sheet.cue(plan.fault(session.focus).cue, 30)
    shown: set[str] = set()

    def show(drill: Drill) -> None:
        if drill.id in shown:
            return
        shown.add(drill.id)
        strip = strip_document(drill.id)
        if strip is not None:
            sheet.drawing(strip, 26)
        if drill.mistakes:
            sheet.text(f"Watch for: {mistakes_of(drill, 2)}", 12, gap=3)

    for d in session.land:
        sheet.text(f"Land: {plan.drill(d).name}, {dose(plan.drill(d))}", 18, bold=True)
        show(plan.drill(d))
    for s in session.sets:
        sheet.text(f"{s.repeats} × {pool.says(s.lengths)}  {s.name}", 22, bold=True, gap=0.5)
        said = " · ".join(x for x in (", ".join(s.kit), f"rest {s.rest_s} s",
                                      s.cue if s.drill else "", s.note) if x)  # fmt: skip
        sheet.text(said, 13, muted=True, gap=3)
        if s.drill:
            show(plan.drill(s.drill))
    if session.test:
        sheet.text(f"Test, if rested: {session.test.name}", 13)
    for shot in plan.film(session):
        sheet.text(f"Film: {VIEW_NAMES[shot.view]}; easy, then near race pace", 13)
    for c in plan.cautions(session):
        if c.id != "general":
            sheet.text(c.text, 11)
    sheet.text("Never alone; stop when it hurts; pool rules and lifeguard first.", 12, bold=True)
    return sheet.data()
