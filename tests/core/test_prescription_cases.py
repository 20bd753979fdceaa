"""Invented cases, and what holds whatever was found."""

from __future__ import annotations

import tomllib
from pathlib import Path
from typing import Any

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from norvik.catalogue import load
from norvik.core.judging.coaching_model import BODY_PARTS, KIT, LEVELS, Catalogue
from norvik.core.judging.judged import SEEN_SEVERITY, Finding
from norvik.core.judging.ranking import ORDERS, downstream, rank
from norvik.core.prescription.prescribe import SwimmerProfile, prescribe

CASES = tomllib.loads(
    Path(__file__).with_name("prescription_cases.toml").read_text(encoding="utf-8")
)["case"]
STROKES = ("freestyle", "backstroke", "breaststroke", "butterfly")


def finding(tables: Catalogue, fault: str, degree: str) -> Finding:
    name = tables.faults[fault].name
    return Finding(fault, "fault", name, "", degree=degree, severity=SEEN_SEVERITY[degree])


def test_there_are_enough_cases() -> None:
    assert len(CASES) >= 40
    assert {c["stroke"] for c in CASES} == set(STROKES)
    assert len({c["says"] for c in CASES}) == len(CASES)


@pytest.mark.parametrize("case", CASES, ids=[c["says"] for c in CASES])
def test_a_case(case: dict[str, Any]) -> None:
    tables = load(case["stroke"])
    found = [finding(tables, *word.split(":")) for word in case["found"].split()]
    schools, pain = case.get("schools", {}), case.get("pain", [])
    order = tables.questions["order"].chosen(schools).id
    ranked = rank(found, tables, pain, order)
    assert [r.fault.id for r in ranked] == case["order"]
    receiver = SwimmerProfile(case.get("level", "improver"), case.get("kit", []), pain, schools)
    drills = prescribe(ranked[0].fault, tables, case["order"], receiver).drills
    assert [d.id for d in drills] == case["drills"]


@st.composite
def situations(draw: st.DrawFn) -> tuple[str, list[Finding], str]:
    stroke = draw(st.sampled_from(STROKES))
    tables = load(stroke)
    ids = draw(st.lists(st.sampled_from(sorted(tables.faults)), min_size=1, max_size=9,
                        unique=True))  # fmt: skip
    found = [finding(tables, f, draw(st.sampled_from(["slight", "clear"]))) for f in ids]
    return stroke, found, draw(st.sampled_from(sorted(ORDERS)))


def places(found: list[Finding], tables: Catalogue, pain: list[str], order: str) -> dict[str, int]:
    return {r.fault.id: n for n, r in enumerate(rank(found, tables, pain, order))}


#: Two of these load the back: the worth of one grows with the pain more than that of the other.
BOTH_LOAD_THE_BACK = ("arms-only", "back-arch", "brake-hand", "breath-held", "wall-kick-wide",
                      "wall-knees")  # fmt: skip


@settings(max_examples=150, deadline=None)
@given(situations())
@example(
    (
        "freestyle",
        [finding(load("freestyle"), f, "slight") for f in BOTH_LOAD_THE_BACK],
        "source",
    )
)
def test_pain_never_lowers_what_loads_that_part(
    situation: tuple[str, list[Finding], str],
) -> None:
    stroke, found, order = situation
    tables = load(stroke)
    for part in ("shoulder", "back", "knee"):
        before, after = places(found, tables, [], order), places(found, tables, [part], order)
        loading = [f.id for f in found if part in tables.faults[f.id].loads]
        assert all(after[f] <= before[f] for f in loading)
        if loading:
            first = min(after, key=lambda f: after[f])
            assert part in tables.faults[first].loads


@settings(max_examples=150, deadline=None)
@given(situations(), st.randoms(use_true_random=False))
def test_taking_a_source_away_lifts_what_it_fed(
    situation: tuple[str, list[Finding], str], random: Any
) -> None:
    stroke, found, order = situation
    tables = load(stroke)
    before = places(found, tables, [], order)
    source = random.choice(found)
    left = [f for f in found if f.id != source.id]
    after = places(left, tables, [], order)
    for fed in downstream(source.id, tables):
        if fed in after and fed not in _feeds_back(fed, source.id, tables):
            assert after[fed] <= before[fed] - (before[source.id] < before[fed])


def _feeds_back(fault: str, source: str, tables: Catalogue) -> list[str]:
    """A fault that also feeds the source (a knot) loses its relief with it."""
    return [fault] if source in downstream(fault, tables) else []


@settings(max_examples=150, deadline=None)
@given(
    situations(),
    st.sampled_from(LEVELS),
    st.sets(st.sampled_from(KIT), max_size=4),
    st.sets(st.sampled_from(BODY_PARTS), max_size=2),
)
def test_nobody_gets_a_drill_that_feeds_hurts_or_cannot_be_done(
    situation: tuple[str, list[Finding], str], level: str, kit: set[str], pain: set[str]
) -> None:
    stroke, found, _ = situation
    tables = load(stroke)
    ids = [f.id for f in found]
    for fault in ids:
        given_ = prescribe(tables.faults[fault], tables, ids, SwimmerProfile(level, kit, pain))
        assert len(given_.drills) <= 3
        for drill in (*given_.drills, *given_.others):
            assert not set(drill.feeds) & set(ids)
            assert not (set(drill.loads) | set(drill.not_with)) & pain
            assert set(drill.kit) <= kit
            assert not drill.levels or level in drill.levels
        said = {x.drill.id for x in given_.left_out}
        assert not said & {d.id for d in given_.drills}
