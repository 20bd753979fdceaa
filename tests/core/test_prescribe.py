"""Why a drill is not given, what is given in its place, and which cautions come along."""

from __future__ import annotations

from dataclasses import replace

import pytest

from norvik.catalogue import load
from norvik.core.judging.coaching_model import KIT_WORDS, Catalogue, Drill, Fault
from norvik.core.prescription.prescribe import (
    LeftOut,
    Prescription,
    SwimmerProfile,
    care_of,
    dose,
    mistakes_of,
    painful_for,
    prescribe,
    topics_of,
    unsuitable,
)
from tests.core.test_block_of_sets import drill, focus

ADULT = SwimmerProfile("club")


@pytest.fixture(scope="module")
def catalogue() -> Catalogue:
    return load("freestyle")


@pytest.fixture
def plain(catalogue: Catalogue) -> Drill:
    """A drill that nothing rules out."""
    any_drill = next(iter(catalogue.drills.values()))
    return replace(
        any_drill, id="plain", kit=(), helps=(), loads=(), not_with=(), tags=(), feeds=(),
        levels=(), unless_school={},
    )  # fmt: skip


@pytest.fixture
def fault(catalogue: Catalogue) -> Fault:
    return replace(next(iter(catalogue.faults.values())), loads=("shoulder",))


def test_a_drill_that_loads_or_must_not_meet_a_painful_part_is_ruled_out(
    catalogue: Catalogue, plain: Drill
) -> None:
    loads, not_with = replace(plain, loads=("knee",)), replace(plain, not_with=("neck",))
    sore = SwimmerProfile("club", pain=("neck", "knee"))
    assert painful_for(loads, sore) == "knee"
    assert painful_for(not_with, sore) == "neck"
    assert painful_for(plain, sore) == ""
    assert painful_for(loads, ADULT) == ""
    assert unsuitable(loads, catalogue, (), sore) == "not with a painful knee"
    assert unsuitable(not_with, catalogue, (), sore) == "not with a painful neck"
    assert unsuitable(plain, catalogue, (), sore) is None


def test_pain_is_told_before_any_other_reason(catalogue: Catalogue, plain: Drill) -> None:
    every = replace(plain, loads=("knee",), kit=("fins",), levels=("masters",))
    assert unsuitable(every, catalogue, (), SwimmerProfile("club", pain=("knee",))) == (
        "not with a painful knee"
    )


def test_a_drill_that_makes_a_fault_of_the_swimmer_names_the_first(
    catalogue: Catalogue, plain: Drill
) -> None:
    one, two = list(catalogue.faults)[:2]
    feeds = replace(plain, feeds=(one, two))
    name = catalogue.faults[two].name.lower()
    assert unsuitable(feeds, catalogue, [two], ADULT) == f"it makes “{name}”"
    assert unsuitable(feeds, catalogue, [], ADULT) is None


def test_missing_kit_is_called_by_its_name(catalogue: Catalogue, plain: Drill) -> None:
    needs = replace(plain, kit=("fins", "board"))
    assert unsuitable(needs, catalogue, (), SwimmerProfile("club", kit=("fins", "board"))) is None
    reason = unsuitable(needs, catalogue, (), SwimmerProfile("club", kit=("fins",)))
    assert reason == f"needs {KIT_WORDS.get('board', 'board')}"
    own_kit = replace(plain, kit=("rope",))
    assert unsuitable(own_kit, catalogue, (), ADULT) == "needs rope"


def test_a_coaching_approach_that_does_not_want_a_drill_is_named(
    catalogue: Catalogue, plain: Drill
) -> None:
    question = next(iter(catalogue.questions.values()))
    chosen = question.chosen({})
    unwanted = replace(plain, unless_school={question.id: chosen.id})
    name = chosen.name.lower()
    assert unsuitable(unwanted, catalogue, (), ADULT) == f"not wanted by “{name}”"
    others = [s for s in question.schools if s.id != chosen.id]
    assert others
    other = SwimmerProfile("club", schools={question.id: others[0].id})
    assert unsuitable(unwanted, catalogue, (), other) is None


def test_another_drill_goes_round_its_slot_then_all(plain: Drill, fault: Fault) -> None:
    a, b, c, d = (
        replace(plain, id=name, slot=slot)
        for name, slot in (("a", "land"), ("b", "main"), ("c", "main"), ("d", "land"))
    )
    given = Prescription(fault, (a, b), (c, d), ())
    assert given.instead_of("b", kept={"a", "b"}) == c
    assert given.instead_of("c", kept={"a", "c"}) == b
    assert given.instead_of("a", kept={"a", "b"}) == d
    # The first of all goes on to the one behind it, not to the last.
    e = replace(plain, id="e", slot="land")
    more = Prescription(fault, (a, b), (c, d, e), ())
    assert more.instead_of("a", kept={"a", "b"}) == d
    assert more.instead_of("e", kept={"e"}) == a
    # None left in its own slot: the next of any.
    assert given.instead_of("b", kept={"a", "b", "c"}) == d
    assert given.instead_of("b", kept={"a", "b", "c", "d"}) is None
    assert given.instead_of("elsewhere", kept=()) is None


def test_what_to_do_where_pain_leaves_no_drill(plain: Drill, fault: Fault) -> None:
    sore = LeftOut(plain, "not with a painful knee", "knee")
    assert Prescription(fault, (), (), (sore,)).instead
    assert Prescription(fault, (plain,), (), (sore,)).instead == ""


def test_cautions_of_a_focus_are_those_of_its_fault_its_drills_and_its_swimmer(
    plain: Drill, fault: Fault
) -> None:
    drill = replace(
        plain, loads=("knee",), not_with=("neck",), tags=("breath-count",),
        kit=("fins", "snorkel"), helps=("paddles",),
    )  # fmt: skip
    every = {"shoulder", "knee", "breath-count", "fins", "paddles"}
    assert topics_of(fault, [plain, drill], "club") == every
    assert topics_of(fault, [], "club") == {"shoulder"}
    assert topics_of(fault, [], "beginner") == {"shoulder", "beginner"}
    assert topics_of(fault, [], "club", minor=True) == {"shoulder", "minor"}
    # The catalogue's own fault is left as it is.
    assert fault.loads == ("shoulder",)


def test_the_starting_dose_in_words() -> None:
    assert dose(drill("a", repeats=(4, 8))) == "4 to 8 × 25 m"
    assert dose(drill("a", repeats=(3, 3), metres=50, per_side=True)) == "3 × 50 m a side"
    assert dose(drill("a", repeats=(2, 3), metres=None, seconds=30)) == "2 to 3 × 30 s"
    assert dose(drill("a", repeats=(10, 10), metres=None)) == "10 times"


def test_cautions_of_a_drill_are_those_of_its_parts_and_of_kit_that_loads() -> None:
    one = drill("a", kit=("paddles", "buoy"), helps=("board", "fins", "snorkel"), loads=("back",),
                not_with=("knee",), tags=("under-water",))  # fmt: skip
    assert care_of(one) == {"paddles", "board", "fins", "back", "knee", "under-water"}


def test_what_is_left_out_says_why_and_what_hurts() -> None:
    own = (drill("land", place="land", own=True), drill("swum", "whole"), drill("also", "whole"),
           drill("sore", loads=("knee",)), drill("kit", kit=("fins",)))  # fmt: skip
    tables = replace(load("freestyle"), drills={d.id: d for d in own})
    given = prescribe(focus().fault, tables, (), SwimmerProfile("improver", (), ("knee",)))
    assert [(o.drill.id, o.reason, o.pain) for o in given.left_out] == [
        ("sore", "not with a painful knee", "knee"), ("kit", "needs fins", "")
    ]  # fmt: skip
    assert [d.id for d in given.drills] == ["land", "swum"]
    assert [d.id for d in given.others] == ["also"]
    # Of several that are swum beside drills on land alone one is enough.
    dry = replace(tables, drills={d.id: d for d in (own[0], drill("s1"), drill("s2"))})
    assert [d.id for d in prescribe(focus().fault, dry, (), SwimmerProfile("improver")).drills] == [
        "land", "s1"
    ]  # fmt: skip
    # Round the ring, past what is kept.
    assert given.instead_of("also", ["also"]) == own[1]
    assert given.instead_of("swum", ["swum"]) == own[2]
    assert given.instead_of("land", ["land", "swum"]) == own[2]
    assert given.instead_of("land", ["land", "swum", "also"]) is None
    assert given.instead_of("gone", []) is None


def test_mistakes_in_one_line_as_it_follows_a_colon() -> None:
    one = drill("a", mistakes=("The head lifts.", "Hands cross", "IM order: forgotten."))
    assert mistakes_of(one) == "the head lifts; hands cross; IM order: forgotten."
    assert mistakes_of(one, 1) == "the head lifts."
    assert mistakes_of(one, 0) == mistakes_of(drill("a")) == ""
