"""The shipped tables are whole, and the loader refuses broken ones."""

from __future__ import annotations

from dataclasses import replace

import pytest

from norvik.catalogue import load
from norvik.catalogue.checks import check, wrong_levels
from norvik.catalogue.loader import everything, frame_bands
from norvik.core.errors import CatalogueError
from norvik.core.judging.coaching_model import Catalogue, Drill, Fault
from norvik.core.judging.ranking import PARTS
from norvik.core.prescription.breath_holding import asks_for_breath_holding

CATALOGUE = load("freestyle")


ALL = everything()


def complaints(catalogue: Catalogue) -> list[str]:
    return check(catalogue, frame_bands())


def test_the_shipped_tables_contradict_nothing() -> None:
    assert complaints(ALL) == []


@pytest.mark.parametrize(
    ("stroke", "faults", "drills"),
    # How many of each the trade's tables have for a stroke and its walls, at least.
    [("freestyle", 40, 36), ("backstroke", 11, 10), ("breaststroke", 15, 10),
     ("butterfly", 14, 10)],
)  # fmt: skip
def test_every_stroke_is_complete(stroke: str, faults: int, drills: int) -> None:
    tables = load(stroke)
    own = [f for f in tables.faults.values() if f.part != "wall" or f.id.startswith("breast")]
    assert len(own) >= faults
    assert len(tables.drills) >= drills
    assert {f.part for f in tables.faults.values()} <= set(PARTS)
    for fault in tables.faults.values():
        assert fault.cue
        assert fault.source
        assert all(d in tables.drills for d in fault.drills), fault.id
        assert all(x in tables.faults for x in fault.leads_to), fault.id
        for band in fault.bands:
            assert tables.band(band, {}).source
        # One image a cue, short enough to be thought of while swimming.
        assert len(fault.cue.split()) <= 16, fault.id
    for drill in tables.drills.values():
        assert 2 <= len(drill.how) <= 5, drill.id
        assert drill.source
    strengths = [s for s in tables.strengths.values() if s.strokes == (stroke,)]
    assert len(strengths) >= 6


def test_walls_belong_to_every_stroke_that_has_them() -> None:
    assert "wall-few-kicks" in load("butterfly").faults
    assert "wall-few-kicks" not in load("breaststroke").faults
    assert "wall-head-up" in load("breaststroke").faults
    assert load("butterfly").faults["wall-steep"].leads_to == ("fly-high",)
    assert load("freestyle").faults["wall-steep"].leads_to == ()
    # A turn with both hands may take longer than a tumble turn.
    slow = [load(s).band("turn-time", {}).fault_above for s in ("freestyle", "breaststroke")]
    assert slow[0] is not None
    assert slow[1] is not None
    assert slow[0] < slow[1]


@pytest.mark.parametrize(
    ("text", "asks"),
    [
        ("Swim a hypoxic set", True),
        ("Hold your breath for a length", True),
        ("25 m with no breath", True),
        ("Breath control ladder", True),
        ("One breath per length", True),
        ("As far as you can under water", True),
        ("This is never a test of holding your breath", False),
        ("Do not hold your breath; breathe out steadily", False),
        ("Breathe every third stroke", False),
        ("Two strokes before the first breath", False),
    ],
)
def test_breath_holding_is_refused_and_forbidding_it_is_not(text: str, asks: bool) -> None:
    assert bool(asks_for_breath_holding([text])) == asks
    broken = with_drill(how=("Swim.", text))
    assert any("breath-holding" in c for c in complaints(broken)) == asks


def test_enough_faults_by_number_and_by_eye() -> None:
    by_number = [f for f in CATALOGUE.faults.values() if f.bands]
    assert len(by_number) >= 8
    assert len(CATALOGUE.faults) - len(by_number) >= 20


def test_every_fault_that_loads_a_part_has_a_caution() -> None:
    for fault in ALL.faults.values():
        if "S" in fault.costs:
            assert "shoulder" in fault.loads, fault.id
        if "B" in fault.costs:
            assert "back" in fault.loads, fault.id
        for part in set(fault.loads) - {"ankle"}:
            assert ALL.cautions_for({part}), part


def test_drills_with_work_under_water_carry_the_breath_holding_line() -> None:
    (caution,) = CATALOGUE.cautions_for({"under-water"})
    assert "Never hold the breath" in caution.text
    for drill in ALL.drills.values():
        if "under water" in " ".join(drill.how) and "doggy" not in drill.id:
            assert "under-water" in drill.tags, drill.id
    assert "under-water" in CATALOGUE.drills["bubble-count"].tags


def test_the_band_follows_the_school() -> None:
    patient = CATALOGUE.band("hand-over", {"glide": "patient"})
    continuous = CATALOGUE.band("hand-over", {"glide": "continuous"})
    assert patient.fault_below != continuous.fault_below
    assert CATALOGUE.band("hand-over", {}) == patient  # the first school is the default


def test_the_band_follows_the_level() -> None:
    limits = {
        level: CATALOGUE.for_level(level).band("turn-time", {}).fault_above
        for level in ("beginner", "improver", "advanced")
    }
    general = CATALOGUE.band("turn-time", {}).fault_above
    assert limits["improver"] == limits["advanced"] == general
    assert limits["beginner"] is not None
    assert general is not None
    assert limits["beginner"] > general  # hand turns take longer than tumble turns


def test_a_beginner_is_never_judged_more_strictly() -> None:
    for bands in (ALL.bands, frame_bands()):
        for easier in (b for b in bands if "beginner" in b.levels):
            same = (easier.id, easier.school, easier.strokes)
            plain = next(b for b in bands if not b.levels and (b.id, b.school, b.strokes) == same)
            for name, sign in (("good_to", 1), ("fault_above", 1), ("good_from", -1),
                               ("fault_below", -1)):  # fmt: skip
                one, other = getattr(easier, name), getattr(plain, name)
                assert (one is None) == (other is None), (easier.id, name)
                assert one is None or sign * (one - other) >= 0, (easier.id, name)


@pytest.mark.parametrize(
    ("levels", "word"), [(("master",), "for level unknown"), (("advanced",), "alone")]
)
def test_a_band_of_a_level_needs_one_for_all(levels: tuple[str, ...], word: str) -> None:
    lonely = replace(ALL.bands[0], id="new", levels=levels)
    complaints = wrong_levels([*ALL.bands, lonely])
    assert any(word in c for c in complaints), complaints
    assert wrong_levels(ALL.bands) == []


def test_schools_are_asked_for_the_strokes_that_they_change() -> None:
    for question in ALL.questions.values():
        strokes = set(question.strokes) or {"freestyle", "backstroke", "breaststroke", "butterfly"}
        held = [b for b in (*ALL.bands, *frame_bands()) if question.id in b.school]
        held += [f for f in ALL.faults.values() if question.id in f.unless_school]  # type: ignore[misc]
        for row in held:
            assert not row.strokes or set(row.strokes) & strokes, (question.id, row.id)
    assert len(ALL.questions) == 11


def with_fault(**changes) -> Catalogue:  # type: ignore[no-untyped-def]
    fault: Fault = replace(ALL.faults["crossing"], **changes)
    return replace(ALL, faults={**ALL.faults, "crossing": fault})


def with_drill(**changes) -> Catalogue:  # type: ignore[no-untyped-def]
    drill: Drill = replace(ALL.drills["catch-up"], **changes)
    return replace(ALL, drills={**ALL.drills, "catch-up": drill})


@pytest.mark.parametrize(
    ("broken", "word"),
    [
        (with_fault(leads_to=("nowhere",)), "leads to unknown"),
        (with_fault(drills=("yoga",)), "names drill unknown"),
        (with_fault(drills=()), "has no drills"),
        (with_fault(cue=""), "has no cue"),
        (with_fault(costs=("Z",)), "has cost unknown"),
        (with_fault(bands=("none",)), "names band unknown"),
        (with_fault(loads=("ear",)), "loads unknown"),
        (with_fault(drills=("catch-up",)), "does not say that it works on it"),
        (with_drill(works_on=("nothing",)), "works on unknown"),
        (with_drill(feeds=("short-reach",)), "works on and feeds"),
        (with_drill(slot="later"), "slot unknown"),
        (with_drill(effort=7), "outside 1 to 6"),
        (with_drill(kit=("anvil",)), "unknown anvil"),
        (with_drill(unless_school={"kick": "none"}), "unknown school"),
        (with_drill(repeats=(0, 4)), "needs repeats"),
        (replace(ALL, bands=(replace(ALL.bands[0], source=""),)), "no source"),
        (
            replace(ALL, bands=(replace(ALL.bands[0], quantity="x"),)),
            "unknown quantity",
        ),
        (
            replace(ALL, bands=(replace(ALL.bands[0], school={"glide": "x"}),)),
            "unknown school",
        ),
    ],
)
def test_broken_tables_are_named(broken: Catalogue, word: str) -> None:
    assert any(word in complaint for complaint in complaints(broken))


def test_an_unknown_stroke_has_no_tables() -> None:
    with pytest.raises(CatalogueError):
        load("sidestroke")
