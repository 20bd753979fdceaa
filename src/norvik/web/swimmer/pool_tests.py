"""Pool tests: written down, judged at once, followed from day to day."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import NamedTuple

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import PoolTestError
from norvik.core.judging.coaching_model import Drill
from norvik.core.pool import Pool
from norvik.core.prescription.pool_tests import TESTS, PoolTest, pool_test
from norvik.core.prescription.pool_tests.offered import fits, painful_parts
from norvik.core.strokes.names import StrokeName
from norvik.formats.pool_tests_csv import write_pool_tests
from norvik.store import plans, pool_tests
from norvik.store.pool_tests import SwumTest
from norvik.store.swimmers import Swimmer
from norvik.store.undo import undoable
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.downloads import table_file
from norvik.web.shared.language import times
from norvik.web.shared.read_field import refuse
from norvik.web.shared.undo import toast_on_next_page
from norvik.web.shared.uploads import sent_file
from norvik.web.swimmer.pool import UNITS
from norvik.web.swimmer.pool_test_form import PoolTestForm, form_of, many_of
from norvik.web.swimmer.pool_tests_chart import Chart, chart_of
from norvik.workflow.pool_tests import Series, drills_for, pain_against, series_of, table_rows
from norvik.workflow.pool_tests_in import import_pool_tests

blueprint = Blueprint("pool_tests", __name__)

_MOST_BYTES = 5 << 20


@dataclass(frozen=True, slots=True)
class _Shown:
    series: Series
    drills: tuple[Drill, ...]
    chart: Chart | None


@blueprint.route("/swimmers/<int:swimmer_id>/tests", methods=["GET", "POST"])
def of_swimmer(swimmer_id: int) -> ResponseReturnValue:
    """All tests of a swimmer and the form for a new one; what was typed stays when it fails."""
    connection = database()
    swimmer = asked.swimmer(swimmer_id)
    test = pool_test(request.values.get("test") or TESTS[0].id)
    painful = painful_parts(test, swimmer.pain)
    usual = _usual(swimmer, test)
    form = form_of(test)(data={
        "stroke": usual.stroke, "pool": usual.pool.says(1), "unit": usual.pool.unit,
    })  # fmt: skip
    if form.validate_on_submit() and _may_be_swum(form, swimmer):
        swum = pool_tests.add(connection, _swum(form, swimmer))
        if swum.plan_id is not None:
            return redirect(url_for("plans.show", plan_id=swum.plan_id, session=swum.session))
        return redirect(url_for("pool_tests.of_swimmer", swimmer_id=swimmer_id, test=test.id))
    shown = [
        _Shown(s, drills_for(connection, swimmer, s), chart_of(s))
        for s in series_of(connection, swimmer)
    ]
    page = render_template(
        "pool_tests/page.html", swimmer=swimmer, painful=painful, shown=shown, test=test,
        tests=TESTS, form=form, several=many_of(test), units=UNITS, today=date.today().isoformat(),
        plan=request.values.get("plan", ""), session=request.values.get("session", ""),
    )  # fmt: skip
    return page, 422 if form.errors else 200


@blueprint.post("/tests/<int:test_id>/delete")
def delete(test_id: int) -> ResponseReturnValue:
    swum = asked.pool_test(test_id)
    with undoable(database(), current_user.id, [("pool_tests", "id", test_id)]) as step:
        pool_tests.delete(database(), test_id)
        step.text = "Pool test deleted."
    toast_on_next_page(step)
    return redirect(url_for("pool_tests.of_swimmer", swimmer_id=swum.swimmer_id, test=swum.test))


@blueprint.post("/swimmers/<int:swimmer_id>/pool-tests.csv")
def take_in(swimmer_id: int) -> ResponseReturnValue:
    """Import the tests of a table; those that are there already stay as they are."""
    swimmer = asked.swimmer(swimmer_id)
    data = sent_file("a table of pool tests", _MOST_BYTES, PoolTestError)
    if not data:
        raise PoolTestError("Choose a table of pool tests first.")
    parts = [("pool_tests", "swimmer_id", swimmer_id)]
    with undoable(database(), current_user.id, parts) as step:
        new, there = import_pool_tests(database(), swimmer, data)
        step.text = f"{times(new, 'test')} imported{f', {there} already there' if there else ''}."
    toast_on_next_page(step)
    return redirect(url_for("pool_tests.of_swimmer", swimmer_id=swimmer_id))


@blueprint.get("/swimmers/<int:swimmer_id>/pool-tests.csv")
def table(swimmer_id: int) -> ResponseReturnValue:
    swimmer = asked.swimmer(swimmer_id)
    text = write_pool_tests(table_rows(database(), swimmer))
    return table_file(text, f"{swimmer.name} pool-tests.csv")


class _Place(NamedTuple):
    """What a form begins with."""

    stroke: StrokeName
    pool: Pool


def _usual(swimmer: Swimmer, test: PoolTest) -> _Place:
    """Where a test is swum: as the plan says that asks for it, else as the newest test or plan."""
    connection = database()
    stored = plans.of_swimmer(connection, swimmer.id)
    asking = request.values.get("plan", type=int)
    places = [_Place(p.stroke, p.request.pool) for p in stored if p.id == asking]
    swum = pool_tests.of_swimmer(connection, swimmer.id)
    places += [_Place(t.stroke, t.pool) for t in reversed(swum)]
    places += [_Place(p.stroke, p.request.pool) for p in stored]
    plain = _Place(test.strokes[0], Pool(Fraction(25)))
    return next((p for p in places if fits(test, p.stroke, p.pool)), plain)


def _may_be_swum(form: PoolTestForm, swimmer: Swimmer) -> bool:
    """False, said beside the day, for a test that works what hurt on that day."""
    sentence = pain_against(database(), swimmer, form.test, form.done_on.value)
    if sentence:
        refuse(form, "done_on", sentence)
    return sentence is None


def _swum(form: PoolTestForm, swimmer: Swimmer) -> SwumTest:
    """What a form says that is right."""
    plan_id, session = request.form.get("plan", type=int), request.form.get("session", "")
    known = plan_id in {p.id for p in plans.of_swimmer(database(), swimmer.id)}
    return SwumTest(
        swimmer.id, form.test.id, form.stroke.value, form.done_on.value.isoformat(), form.swum_in,
        form.entries, rested=not form.test.rested or form.rested.data, note=form.written(),
        plan_id=plan_id if known else None, session=session[:20] if known else "",
    )  # fmt: skip
