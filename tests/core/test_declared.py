"""One declaration of a quantity: everything else follows from it."""

from __future__ import annotations

import importlib.util
import math
from dataclasses import replace
from pathlib import Path

import pytest

from norvik.core.followup.speed_steps import in_order, rows, step_of
from norvik.core.strokes import STROKES
from norvik.core.time import quantities
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import GRID_ALONE
from norvik.core.time.quantities import QUANTITIES, TOPICS
from norvik.core.time.quantities.quantity import Quantity, mean_interval
from norvik.core.time.timing import Timing
from norvik.formats.timing_json import timing_object
from norvik.model.dials import usual_swim
from norvik.model.schedule import schedule
from tests.marking import marks, steady_arm

ROOT = Path(__file__).parents[2]


def swim(stroke: str = "freestyle", per_min: float = 36.0) -> Timing:
    made = schedule(replace(usual_swim(stroke, per_min, 3), variation=0.02), 20)
    return compute_timing(made.marks(0, 20, with_shoulder=True), stroke, 1 / 60)


#: A made-up quantity, as a new one would be declared: from catch to hand exit.
MADE_UP = mean_interval(
    "catch-to-exit", "Catch until hand exit",
    lambda t: [
        (c.inner["catch"], c.inner["exit"])
        for c in t.resolved.cycles
        if {"catch", "exit"} <= c.inner.keys()
    ],
    definition="Made up.", topic="phases", strokes=("freestyle",), with_speed=True,
)  # fmt: skip


@pytest.fixture
def declared(monkeypatch: pytest.MonkeyPatch) -> Quantity:
    monkeypatch.setitem(quantities.QUANTITIES, MADE_UP.id, MADE_UP)
    return MADE_UP


def test_a_new_quantity_has_value_uncertainty_and_instances(declared: Quantity) -> None:
    timing = compute_timing(
        steady_arm("right", 0, 2.0, 5, shoulder=True), "freestyle", 1 / 60, None, GRID_ALONE
    )
    reading = declared.read(timing)
    assert reading is not None
    ends = [(c.inner["catch"], c.inner["exit"]) for c in timing.resolved.cycles]
    each = [b.time_s - a.time_s for a, b in ends]
    assert reading.value == pytest.approx(sum(each) / len(each))
    # Intervals that share no mark: D / sqrt(6 n).
    assert reading.u == pytest.approx(1 / 60 / math.sqrt(6 * len(each)))
    assert [o.time_s for o in reading.occurrences] == [b.time_s for _, b in ends]
    assert timing.uncertainty[f"quantities.{declared.id}"] == reading.u
    assert declared.read(compute_timing(marks("out 0; out 1"), "breaststroke")) is None


def test_it_stands_in_the_file_and_among_the_speed_steps(declared: Quantity) -> None:
    timing = swim()
    shown = timing_object(timing)["quantities"][declared.id]
    reading = declared.read(timing)
    assert reading is not None
    assert shown["name"] == "Catch until hand exit"
    assert (shown["unit"], shown["value"], shown["u"]) == ("s", reading.value, reading.u)
    assert shown["n"] == len(reading.occurrences)
    steps = [step_of(n, swim(per_min=rate), pace) for n, (rate, pace) in
             enumerate(((30, 100.0), (42, 80.0)))]  # fmt: skip
    known = in_order(s for s in steps if s is not None)
    row = next(r for r in rows(known) if r.name == declared.name)
    assert all(v is not None for v in row.values)
    assert row.trend == "falls"


@pytest.mark.parametrize("stroke", STROKES)
def test_readings_are_the_numbers_of_the_timing_object(stroke: str) -> None:
    """Reading a quantity and looking under its path give one value and one plus-minus."""
    timing = swim(stroke)
    found = 0
    for q in QUANTITIES.values():
        reading = q.read(timing) if stroke in q.strokes else None
        if not q.path or reading is None:
            continue
        value: object = timing
        for name in q.path.split("."):
            value = value.get(name) if isinstance(value, dict) else getattr(value, name)
        shown = reading.value if q.signed else abs(reading.value)
        expected = value if q.signed else abs(value)  # type: ignore[arg-type]
        assert shown == pytest.approx(expected), q.id
        if not q.counted and q.id != "spread":
            assert reading.u == pytest.approx(timing.uncertainty[q.path]), q.id
        found += 1
    assert found > 8


def test_declarations_are_whole() -> None:
    for q in QUANTITIES.values():
        assert q.name, q.id
        assert q.definition.endswith("."), q.id
        assert q.topic is None or q.topic in TOPICS, q.id
        assert set(q.strokes) <= set(STROKES), q.id
        assert q.id == q.id.lower().replace("_", "-"), q.id
        # A quantity of no stroke at all reads nothing instead of failing.
        for stroke in STROKES:
            assert q.read(compute_timing([], stroke)) is None, (q.id, stroke)


def test_the_page_of_quantities_is_that_of_the_declarations() -> None:
    path = ROOT / "scripts" / "build-quantities.py"
    spec = importlib.util.spec_from_file_location("build_quantities", path)
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    written = (ROOT / "docs" / "quantities.md").read_text("utf-8")
    assert written == module.text(), "run `python scripts/build-quantities.py`"
