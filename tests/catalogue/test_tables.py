"""The shipped tables are whole, and the loader refuses broken ones."""

from __future__ import annotations

from dataclasses import replace

import pytest

from norvik.catalogue import load
from norvik.catalogue.loader import check
from norvik.core.errors import CatalogueError
from norvik.core.tables import Catalogue, Drill, Fault

CATALOGUE = load("freestyle")


def test_the_shipped_tables_contradict_nothing() -> None:
    assert check(CATALOGUE) == []


def test_enough_faults_by_number_and_by_eye() -> None:
    by_number = [f for f in CATALOGUE.faults.values() if f.bands]
    assert len(by_number) >= 8
    assert len(CATALOGUE.faults) - len(by_number) >= 20


def test_every_fault_that_loads_a_part_has_a_caution() -> None:
    for fault in CATALOGUE.faults.values():
        if "S" in fault.costs:
            assert "shoulder" in fault.loads, fault.id
        for part in fault.loads:
            assert CATALOGUE.cautions_for({part}), part


def test_drills_with_work_under_water_carry_the_breath_holding_line() -> None:
    (caution,) = CATALOGUE.cautions_for({"under-water"})
    assert "Never hold the breath" in caution.text
    assert "under-water" in CATALOGUE.drills["bubble-count"].tags


def test_the_band_follows_the_school() -> None:
    patient = CATALOGUE.band("hand-over", {"glide": "patient"})
    continuous = CATALOGUE.band("hand-over", {"glide": "continuous"})
    assert patient.fault_below != continuous.fault_below
    assert CATALOGUE.band("hand-over", {}) == patient  # the first school is the default


def with_fault(**changes) -> Catalogue:  # type: ignore[no-untyped-def]
    fault: Fault = replace(CATALOGUE.faults["crossing"], **changes)
    return replace(CATALOGUE, faults={**CATALOGUE.faults, "crossing": fault})


def with_drill(**changes) -> Catalogue:  # type: ignore[no-untyped-def]
    drill: Drill = replace(CATALOGUE.drills["catch-up"], **changes)
    return replace(CATALOGUE, drills={**CATALOGUE.drills, "catch-up": drill})


@pytest.mark.parametrize(
    ("broken", "word"),
    [
        (with_fault(leads_to=("nowhere",)), "leads to unknown"),
        (with_fault(drills=("yoga",)), "unknown drill"),
        (with_fault(drills=()), "has no drills"),
        (with_fault(cue=""), "has no cue"),
        (with_fault(costs=("Z",)), "unknown cost"),
        (with_fault(bands=("none",)), "unknown band"),
        (with_fault(loads=("ear",)), "loads unknown"),
        (with_fault(drills=("catch-up",)), "does not say that it works on it"),
        (with_drill(works_on=("nothing",)), "works on unknown"),
        (with_drill(feeds=("short-reach",)), "works on and feeds"),
        (with_drill(slot="later"), "unknown slot"),
        (with_drill(repeats=(0, 4)), "lacks"),
        (replace(CATALOGUE, bands=(replace(CATALOGUE.bands[0], source=""),)), "no source"),
        (
            replace(CATALOGUE, bands=(replace(CATALOGUE.bands[0], quantity="x"),)),
            "unknown quantity",
        ),
        (
            replace(CATALOGUE, bands=(replace(CATALOGUE.bands[0], school={"glide": "x"}),)),
            "unknown school",
        ),
    ],
)
def test_broken_tables_are_named(broken: Catalogue, word: str) -> None:
    assert any(word in complaint for complaint in check(broken))


def test_an_unknown_stroke_has_no_tables() -> None:
    with pytest.raises(CatalogueError):
        load("sidestroke")
