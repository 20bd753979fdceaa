"""Pool tests: written down, judged at once, followed from day to day."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import NamedTuple

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import NorvikError, PoolTestError
from norvik.core.judging.coaching_model import Drill
from norvik.core.pool import Pool
from norvik.core.prescription.pool_tests import TESTS, PoolTest, pool_test, read_entries
from norvik.core.prescription.pool_tests.offered import fits, painful_parts
from norvik.core.strokes import STROKES
from norvik.formats.pool_tests_csv import write_pool_tests
from norvik.formats.watch import read_seconds
from norvik.store import pains, plans, pool_tests
from norvik.store.pool_tests import SwumTest
from norvik.store.swimmers import Swimmer
from norvik.store.undo import undoable
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.downloads import table_file
from norvik.web.shared.language import times
from norvik.web.shared.undo import toast_on_next_page
from norvik.web.shared.uploads import sent_file
from norvik.web.swimmer.pool import pool_of
from norvik.web.swimmer.pool_tests_chart import Chart, chart_of
from norvik.workflow.pool_tests import Series, drills_for, series_of, table_rows
from norvik.workflow.pool_tests_in import import_pool_tests

blueprint = Blueprint("pool_tests", __name__)

_LONGEST_LINE = 400
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
    wrong = None
    painful = painful_parts(test, swimmer.pain)
    if request.method == "POST":
        try:
            swum = pool_tests.add(connection, _swum(swimmer, test))
            if swum.plan_id is not None:
                return redirect(url_for("plans.show", plan_id=swum.plan_id, session=swum.session))
            return redirect(url_for("pool_tests.of_swimmer", swimmer_id=swimmer_id, test=test.id))
        except NorvikError as error:
            wrong = error.sentence
    shown = [
        _Shown(s, drills_for(connection, swimmer, s), chart_of(s))
        for s in series_of(connection, swimmer)
    ]
    page = render_template(
        "pool_tests/page.html", swimmer=swimmer, painful=painful, shown=shown, test=test,
        tests=TESTS, wrong=wrong, form=request.form, usual=_usual(swimmer, test),
        today=date.today().isoformat(),
        plan=request.values.get("plan", ""), session=request.values.get("session", ""),
    )  # fmt: skip
    return page, 422 if wrong else 200


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

    stroke: str
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


def _swum(swimmer: Swimmer, test: PoolTest) -> SwumTest:
    """What the form says, checked. Raises NorvikError with a sentence."""
    form = request.form
    stroke, pool = form.get("stroke", ""), pool_of(form)
    if stroke not in STROKES:
        raise PoolTestError("This stroke is not known. Reload the page.")
    if stroke not in test.strokes:
        raise PoolTestError(f"{test.name} is not swum in {stroke}. Choose another stroke or test.")
    if not fits(test, stroke, pool):
        far = " and ".join(f"{m} {pool.unit}" for m in test.metres)
        raise PoolTestError(
            f"{test.name} needs {far} in whole lengths; this pool of {pool.says(1)} {pool.unit} "
            "has none. Choose another test."
        )
    try:
        day = date.fromisoformat(form.get("done_on", ""))
    except ValueError as error:
        raise PoolTestError("The day of the test must look like 2027-03-14.") from error
    painful = painful_parts(test, swimmer.pain)
    if painful and day >= _pain_since(swimmer, painful):
        raise PoolTestError(
            f"{swimmer.name} has pain noted: {', '.join(painful)}. This test works it hard: it is "
            "not swum until the pain is cleared on the swimmer's page."
        )
    if day > date.today():
        raise PoolTestError("This day is still to come: write the test down once it is swum.")
    plan_id, session = form.get("plan", type=int), form.get("session", "")
    known = plan_id in {p.id for p in plans.of_swimmer(database(), swimmer.id)}
    return SwumTest(
        swimmer.id, test.id, stroke, day.isoformat(), pool, read_entries(test, _entries(test)),
        rested=not test.rested or "rested" in form, note=form.get("note", "").strip()[:200],
        plan_id=plan_id if known else None, session=session[:20] if known else "",
    )  # fmt: skip


def _pain_since(swimmer: Swimmer, parts: tuple[str, ...]) -> date:
    """Since when one of these parts hurts: a test swum before may still be written down."""
    noted = [
        date.fromisoformat(p.noted_on)
        for p in pains.of_swimmer(database(), swimmer.id)
        if p.part in parts and p.cleared_on is None
    ]
    return min(noted, default=date.min)


def _entries(test: PoolTest) -> dict[str, list[float]]:
    """The values in the form: single fields, lists with spaces, or one pair a line."""
    many = [e for e in test.entries if e.many]
    found: dict[str, list[float]] = {}
    for entry in test.entries:
        if len(many) < 2 or entry not in many:
            found[entry.id] = _numbers(entry.label, request.form.get(entry.id, ""))
    if len(many) > 1:
        rows = [r for r in request.form.get("rows", "").splitlines() if r.strip()]
        read = [_numbers(f"Line {n}", row) for n, row in enumerate(rows, 1)]
        for n, values in enumerate(read, 1):
            if len(values) != len(many):
                names = " and ".join(e.label.lower() for e in many)
                raise PoolTestError(f"Line {n}: write {names}, as in 21 22.0.")
        for k, entry in enumerate(many):
            found[entry.id] = [values[k] for values in read]
    return found


def _numbers(label: str, text: str) -> list[float]:
    """Times and counts with spaces in between: "1:32.4 1:34". Raises PoolTestError."""
    values = []
    for word in text[:_LONGEST_LINE].replace(";", " ").split():
        value = read_seconds(word.rstrip(","))
        if value is None:
            raise PoolTestError(
                f"{label}: “{word[:20]}” is no time or count, as 92.4 or 1:32.4 are."
            )
        values.append(value)
    return values
