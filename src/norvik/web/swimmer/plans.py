"""Plans: made from a judged clip, changed by dragging or by hand, taken to the pool."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, time

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import PlanError
from norvik.core.judging.coaching_model import BODY_PARTS
from norvik.core.prescription.plan import PlanRequest
from norvik.core.prescription.plan.event_day import event_day
from norvik.formats.plan_csv import write_plan
from norvik.formats.plan_ics import write_calendar
from norvik.store import pains, plans
from norvik.store.plans import OUTCOMES
from norvik.web.draw.drill_figure import drill_strip
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.downloads import attachment, table_file
from norvik.web.shared.language import times
from norvik.web.shared.undo import toast_on_next_page, with_toast
from norvik.web.shared.uploads import sent_file
from norvik.web.swimmer.plan_form import SIZES, WEEKDAYS, PlanForm, day_of
from norvik.web.swimmer.plan_pdf import deck_pdf, plan_pdf
from norvik.web.swimmer.pool import UNITS
from norvik.workflow.change_plan import (
    add_set,
    another_drill,
    change_plan,
    delete_plan,
    end_plan,
    fix_repeats,
    move,
    reorder,
    resume_plan,
    set_weeks,
)
from norvik.workflow.note_training import note_training
from norvik.workflow.plan_answers import gone_points
from norvik.workflow.plan_calendar import calendar_of
from norvik.workflow.plan_files import table_rows
from norvik.workflow.plan_in import changed_by_table
from norvik.workflow.plans import SwimmerPlan, instead_of_drills, make_plan, worked_out
from norvik.workflow.pool_tests import judged_of_plan

#: A plan of a year takes less.
_MOST_BYTES = 2 << 20

blueprint = Blueprint("plans", __name__)


@blueprint.route("/reviews/<int:review_id>/plan", methods=["GET", "POST"])
def new(review_id: int) -> ResponseReturnValue:
    """The form for a plan of the points chosen in a review; what was typed stays when it fails."""
    judgement = asked.judged_review(review_id)
    clip = judgement.clips[0].clip if judgement.clips else None
    form = PlanForm(data={"pool": f"{clip.facts.pool_m or 25 if clip else 25:g}"})
    if form.validate_on_submit():
        try:
            wish = form.wish(judgement)
            plan_id = make_plan(database(), judgement, wish, form.begins_at.value or "")
            return redirect(url_for("plans.show", plan_id=plan_id))
        except PlanError as error:
            form.form_errors.append(error.sentence)
    page = render_template(
        "plan/new.html", j=judgement, clip=clip, form=form, units=UNITS, sizes=SIZES,
        earlier=plans.of_swimmer(database(), judgement.swimmer.id),
    )  # fmt: skip
    return page, 422 if form.errors else 200


@blueprint.get("/plans/<int:plan_id>/")
def show(plan_id: int) -> ResponseReturnValue:
    plan = _plan(plan_id)
    return render_template("plan/page.html", **_context(plan, request.args.get("session", "")))


@blueprint.post("/plans/<int:plan_id>/move")
def move_session(plan_id: int) -> ResponseReturnValue:
    """Put a session on another day; an empty one is the session's own."""
    plan = _plan(plan_id)
    key, to = request.form.get("session", ""), request.form.get("to", "")
    return _changed(plan, move(plan, key, day_of(to) if to else None), key)


@blueprint.post("/plans/<int:plan_id>/repeats")
def set_repeats(plan_id: int) -> ResponseReturnValue:
    """Fix the repeats of a set; empty repeats free it again."""
    plan = _plan(plan_id)
    key = request.form.get("session", "")
    place, repeats = request.form.get("place", type=int), request.form.get("repeats", type=int)
    if place is None:
        raise PlanError("The swim-off takes what the other sets leave; change one of those.")
    return _changed(plan, fix_repeats(plan, key, place, repeats), key)


@blueprint.post("/plans/<int:plan_id>/sets")
def put_in(plan_id: int) -> ResponseReturnValue:
    """One more set in a session; the swim-off gives its lengths."""
    plan = _plan(plan_id)
    form = request.form
    repeats = form.get("repeats", type=int)
    if repeats is None:
        raise PlanError("Enter the repeats as a whole number.")
    asked = add_set(plan, form.get("session", ""), form.get("drill", ""), repeats)
    return _changed(plan, asked, form.get("session", ""))


@blueprint.post("/plans/<int:plan_id>/another")
def another(plan_id: int) -> ResponseReturnValue:
    """The next suitable drill in place of one, in every session of its point."""
    plan = _plan(plan_id)
    form = request.form
    stored = another_drill(plan, form.get("fault", ""), form.get("drill", ""))
    made, step = change_plan(database(), current_user.id, stored, "Drill swapped.")
    page = render_template("plan/_plan.html", **_context(made, form.get("session", "")))
    return with_toast(page, step)


@blueprint.post("/plans/<int:plan_id>/weeks")
def weeks_of_focus(plan_id: int) -> ResponseReturnValue:
    """Give a focus so many weeks; empty weeks share them out again."""
    plan = _plan(plan_id)
    weeks = request.form.get("weeks", type=int)
    asked = set_weeks(plan, request.form.get("fault", ""), weeks)
    return _changed(plan, asked, request.form.get("session", ""))


@blueprint.post("/plans/<int:plan_id>/order")
def order_of_focuses(plan_id: int) -> ResponseReturnValue:
    """Put a focus before another one, or last."""
    plan = _plan(plan_id)
    asked = reorder(plan, request.form.get("fault", ""), request.form.get("before") or None)
    return _changed(plan, asked, request.form.get("session", ""))


@blueprint.post("/plans/<int:plan_id>/log")
def log(plan_id: int) -> ResponseReturnValue:
    """What was done of a session, how it felt, and pain, which blocks what loads that part."""
    plan = _plan(plan_id)
    form, key = request.form, request.form.get("session", "")
    step = note_training(
        database(), current_user.id, plan, key, form.get("outcome", ""),
        form.get("felt", ""), form.get("note", ""), form.get("pain", ""),
    )  # fmt: skip
    return with_toast(render_template("plan/_plan.html", **_context(_plan(plan_id), key)), step)


@blueprint.post("/plans/<int:plan_id>/end")
def end(plan_id: int) -> ResponseReturnValue:
    """End a plan today, go on with it, or delete it."""
    stored, what = asked.plan(plan_id), request.form.get("what")
    if what == "delete":
        toast_on_next_page(delete_plan(database(), current_user.id, plan_id))
        return redirect(url_for("swimmers.show", swimmer_id=stored.swimmer_id))
    (resume_plan if what == "again" else end_plan)(database(), plan_id)
    return redirect(url_for("plans.show", plan_id=plan_id))


@blueprint.get("/plans/<int:plan_id>/deck/<key>")
def deck(plan_id: int, key: str) -> ResponseReturnValue:
    """One page for the pool deck, to read wet at arm's length."""
    plan = _plan(plan_id)
    session = plan.plan.session(key)
    return render_template(
        "plan/deck.html", p=plan, s=session, pool=plan.plan.request.pool, drill_strip=drill_strip
    )


@blueprint.get("/plans/<int:plan_id>/deck/<key>.pdf")
def deck_paper(plan_id: int, key: str) -> ResponseReturnValue:
    plan = _plan(plan_id)
    session = plan.plan.session(key)
    name = f"{plan.swimmer.name} {session.on.isoformat()} deck card.pdf"
    return attachment(deck_pdf(plan, session), name, "application/pdf")


@blueprint.get("/plans/<int:plan_id>/plan.pdf")
def paper(plan_id: int) -> ResponseReturnValue:
    plan = _plan(plan_id)
    return attachment(plan_pdf(plan), f"{plan.swimmer.name} plan {plan_id}.pdf", "application/pdf")


@blueprint.get("/plans/<int:plan_id>/plan.ics")
def calendar(plan_id: int) -> ResponseReturnValue:
    plan = _plan(plan_id)
    begins = plan.stored.begins_at
    now = datetime.now(UTC)
    data = write_calendar(
        calendar_of(database(), plan, now),
        f"{plan.swimmer.name}: technique",
        now,
        time.fromisoformat(begins) if begins else None,
        plan.stored.request.minutes or 60,
    )
    return attachment(data, f"{plan.swimmer.name} plan {plan_id}.ics", "text/calendar")


@blueprint.post("/plans/<int:plan_id>/plan.csv")
def take_in(plan_id: int) -> ResponseReturnValue:
    """The plan's own table, changed by hand: its days and repeats are taken over."""
    plan = _plan(plan_id)
    data = sent_file("a table of a plan", _MOST_BYTES, PlanError)
    if not data:
        raise PlanError("Choose the table of this plan first (plan.csv).")
    asked_for, moved, changed = changed_by_table(database(), plan, data)
    text = f"Table imported: {times(moved, 'session')} moved, {times(changed, 'set')} changed."
    wanted = replace(plan.stored, request=asked_for)
    _, step = change_plan(database(), current_user.id, wanted, text)
    toast_on_next_page(step)
    return redirect(url_for("plans.show", plan_id=plan_id))


@blueprint.get("/plans/<int:plan_id>/plan.csv")
def table(plan_id: int) -> ResponseReturnValue:
    plan = _plan(plan_id)
    request_ = plan.stored.request
    about = {
        "swimmer": plan.swimmer.name,
        "stroke": plan.stored.stroke,
        "pool": f"{request_.pool.length} {request_.pool.unit}",
        "distance": "of one repeat, in the unit beside it",
        "effort": "1 easy to 6 all out",
        "rest_s": "seconds after each repeat",
    }
    return table_file(
        write_plan(table_rows(plan)), f"{plan.swimmer.name} plan {plan_id}.csv", about
    )


@blueprint.get("/plans/<int:plan_id>/event")
def event(plan_id: int) -> ResponseReturnValue:
    """The day of a long event: the focuses one at a time, one word each."""
    plan = _plan(plan_id)
    words = {
        f.fault: request.args.get(f"word-{f.fault}", plan.word(f.fault)).strip()
        for f in plan.stored.request.focuses
    }
    minutes, each = request.args.get("minutes", 240, int), request.args.get("each", type=int)
    wrong, stretches = None, []
    try:
        stretches = event_day(minutes, list(words.items()), each)
    except PlanError as error:
        wrong = error.sentence
    page = render_template("plan/event.html", p=plan, words=words, minutes=minutes, each=each,
                           stretches=stretches, wrong=wrong)  # fmt: skip
    return page, 422 if wrong else 200


def _plan(plan_id: int) -> SwimmerPlan:
    return worked_out(database(), asked.plan(plan_id))


def _changed(plan: SwimmerPlan, asked: PlanRequest, key: str) -> ResponseReturnValue:
    made, step = change_plan(database(), current_user.id, replace(plan.stored, request=asked))
    return with_toast(render_template("plan/_plan.html", **_context(made, key)), step)


def _context(plan: SwimmerPlan, key: str) -> dict[str, object]:
    """What the page and its body show. key: of the session that is open, else the next one."""
    sessions, today = plan.plan.sessions, date.today()
    open_one = next((s for s in sessions if s.key == key), None)
    if open_one is None:
        due = [s for s in sessions if s.on >= today and s.key not in plan.trained]
        open_one = min(due or sessions, key=lambda s: s.on, default=None)
    focuses = [f.fault for f in plan.stored.request.focuses]
    aim = plan.stored.request.aim_on
    return {
        "p": plan,
        "s": open_one,
        "pool": plan.plan.request.pool,
        "numbers": {fault: n for n, fault in enumerate(focuses)},
        "weeks_of": {f.fault: f.weeks for f in plan.stored.request.focuses},
        "spans": plan.plan.spans(),
        "addable": plan.addable,
        "tests": judged_of_plan(database(), plan.swimmer, plan.stored.id),
        "today": today,
        "instead": instead_of_drills(plan),
        "gone": gone_points(database(), plan, today),
        "pains": [x for x in pains.of_swimmer(database(), plan.swimmer.id) if not x.cleared_on],
        "outcomes": OUTCOMES,
        "parts": BODY_PARTS,
        "weekdays": WEEKDAYS,
        # Days that need room: of sessions, and of the aim.
        "used_days": {s.on.weekday() for s in sessions} | ({aim.weekday()} if aim else set()),
    }
