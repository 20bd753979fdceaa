"""Progress as a drawing: months across, a line for each focus, a sign for what each clip showed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from flask import Blueprint, redirect, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import NotFoundError
from norvik.core.followup.focus_status import FocusStatus
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.language import month
from norvik.web.shared.undo import toast_on_next_page
from norvik.workflow.change_plan import another_drill, change_plan
from norvik.workflow.follow import note_pain, set_point_state
from norvik.workflow.plans import worked_out
from norvik.workflow.progress import Progress

blueprint = Blueprint("progress", __name__, url_prefix="/swimmers/<int:swimmer_id>")

WIDTH, LEFT, RIGHT, ROW, TOP = 1100.0, 300.0, 20.0, 46.0, 34.0
#: Sign and words of each state; the sign is told apart without colour.
SIGNS = {
    "gone": ("✓", "gone"),
    "better": ("▲", "better"),
    "same": ("=", "within error"),
    "still": ("●", "still seen"),
    "worse": ("▼", "worse"),
    "unclear": ("?", "can't tell"),
}


@dataclass(frozen=True, slots=True)
class Month:
    x: float
    name: str


@dataclass(frozen=True, slots=True)
class Sign:
    x: float
    sign: str
    words: str
    clip: int
    state: str


@dataclass(frozen=True, slots=True)
class Bar:
    """One rung: from x to to_x in drawing units."""

    rung: FocusStatus
    name: str
    y: float
    x: float
    to_x: float
    open: bool
    signs: tuple[Sign, ...]


@dataclass(frozen=True, slots=True)
class Drawing:
    width: float
    height: float
    months: tuple[Month, ...]
    today_x: float
    bars: tuple[Bar, ...]


def drawing_of(progress: Progress, today: date) -> Drawing | None:
    """None before the first focus."""
    if not progress.rungs:
        return None
    first = min(r.begun_on for r in progress.rungs).replace(day=1)
    last = max([today, *(s.on for r in progress.rungs for s in r.steps)]) + timedelta(days=14)
    days = max(60, (last - first).days)

    def x(on: date) -> float:
        return round(LEFT + (WIDTH - LEFT - RIGHT) * (on - first).days / days, 1)

    months = []
    at = first
    while x(at) < WIDTH - RIGHT - 40:
        months.append(Month(x(at), month(at) + (f" {at.year}" if at.month == 1 else "")))
        at = (at.replace(day=28) + timedelta(days=7)).replace(day=1)
    bars = tuple(
        Bar(
            r,
            progress.faults[r.fault].name,
            TOP + n * ROW,
            x(r.begun_on),
            x(r.ends_on or max(today, r.begun_on)),
            r.ends_on is None,
            tuple(Sign(x(s.on), *SIGNS[s.state], s.clip, s.state) for s in r.steps),
        )
        for n, r in enumerate(progress.rungs)
    )
    return Drawing(WIDTH, TOP + ROW * len(bars) + 8, tuple(months), x(today), bars)


@blueprint.post("/rungs")
def say(swimmer_id: int) -> ResponseReturnValue:
    """The coach says that a point is done or set aside, or takes that back."""
    asked.swimmer(swimmer_id)
    form = request.form
    set_point_state(
        database(), swimmer_id, form.get("stroke", ""), form.get("fault", ""),
        form.get("state", ""), form.get("note", ""),
    )  # fmt: skip
    return redirect(url_for("swimmers.show", swimmer_id=swimmer_id, _anchor="progress"))


@blueprint.post("/exchange")
def exchange(swimmer_id: int) -> ResponseReturnValue:
    """Another drill in the plan for a point that does not change."""
    asked.swimmer(swimmer_id)
    plan_id = request.form.get("plan", type=int) or 0
    plan = worked_out(database(), asked.plan(plan_id))
    if plan.swimmer.id != swimmer_id:
        raise NotFoundError("This plan is somebody else's. Reload the page.")
    fault, drill = request.form.get("fault", ""), request.form.get("drill", "")
    stored = another_drill(plan, fault, drill)
    _, step = change_plan(database(), current_user.id, stored, "Drill swapped.")
    toast_on_next_page(step)
    return redirect(url_for("plans.show", plan_id=plan_id))


@blueprint.post("/pain")
def pain(swimmer_id: int) -> ResponseReturnValue:
    """Note pain, which blocks what loads that part, or clear it."""
    asked.swimmer(swimmer_id)
    form = request.form
    cleared = form.get("what") == "clear"
    note_pain(database(), swimmer_id, form.get("part", ""), form.get("note", ""), cleared)
    return redirect(url_for("swimmers.show", swimmer_id=swimmer_id, _anchor="pain"))
