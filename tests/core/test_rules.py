"""Rules that can hurt somebody or mislead a coach, held at their very edges."""

from __future__ import annotations

from datetime import date
from fractions import Fraction

import pytest

from norvik.catalogue import load
from norvik.core.errors import NotFoundError
from norvik.core.followup.focus_status import status_of
from norvik.core.judging.coaching_model import BODY_PARTS, Band, Drill
from norvik.core.judging.verdicts import near_fault, surely_good, verdict_of, verdict_of_takings
from norvik.core.pool import Pool
from norvik.core.prescription.breath_holding import breath_holding, says_under_water
from norvik.core.prescription.instead import instead_of_drills
from norvik.core.prescription.plan.sets import (
    FocusDrills,
    _doses,
    _full_doses,
    _least_dose,
    _set,
    _swim_off,
    block,
    fitting,
    total,
)
from norvik.core.prescription.pool_tests import offered_tests, pool_test

#: Good from 10 to 20, faults under 5 and over 30.
BAND = Band("b", "q", "own", 10, 20, 5, 30)
ONLY_GOOD = Band("b", "q", "own", good_from=10)
ONLY_FAULT = Band("b", "q", "own", fault_above=30)
POOL = Pool(Fraction(25))


@pytest.mark.parametrize(
    ("value", "u", "verdict"),
    [(15, 1, "good"), (20, 1, "good"), (22, 1, "good"), (22.1, 1, "watch"), (27.9, 1, "watch"),
     (28, 1, "watch"), (28.1, 1, "unsure"), (32, 1, "unsure"), (32.1, 1, "fault"),
     (7, 1, "watch"), (6.9, 1, "unsure"), (3, 1, "unsure"), (2.9, 1, "fault"), (8, 1, "good"),
     (7.9, 1, "watch"), (30, None, "watch"), (30.1, None, "fault"), (20, 0, "good"),
     (20.1, 0, "watch")],
)  # fmt: skip
def test_verdicts_at_the_edges(value: float, u: float | None, verdict: str) -> None:
    assert verdict_of(BAND, value, 2 * (u or 0))[0] == verdict


def test_how_far_beyond_and_bands_with_one_side() -> None:
    assert verdict_of(BAND, 33, 1)[1] == pytest.approx(3)
    assert verdict_of(BAND, 15, 1)[1] == pytest.approx(-10)
    assert verdict_of(ONLY_GOOD, 2, 0.1) == ("watch", float("-inf"))
    assert verdict_of(ONLY_GOOD, 1e9, 0.1)[0] == "good"
    assert verdict_of(ONLY_FAULT, -1e9, 0.1)[0] == "good"
    assert verdict_of(ONLY_FAULT, 31, 0.1)[0] == "fault"


def test_too_few_takings_show_no_fault() -> None:
    assert verdict_of_takings(BAND, 40, 1, 1, 2) == "watch"
    assert verdict_of_takings(BAND, 31, 1, 1, 2) == "watch"
    assert verdict_of_takings(BAND, 40, 1, 2, 2) == "fault"
    assert verdict_of_takings(BAND, 40, 1, 1, 1) == "fault"
    assert verdict_of_takings(BAND, 15, 1, 1, 2) == "good"


@pytest.mark.parametrize(
    ("value", "u", "sure"),
    [(15, 1, True), (18, 1, True), (18.1, 1, False), (12, 1, True), (11.9, 1, False),
     (20, None, True), (20, 0, True), (20.1, None, False), (15, 2.5, True), (15, 2.6, False)],
)  # fmt: skip
def test_surely_good_is_the_whole_of_plus_minus(value: float, u: float | None, sure: bool) -> None:
    assert surely_good(BAND, value, 2 * (u or 0)) is sure


def test_surely_good_needs_the_verdict_too() -> None:
    # A band whose fault limit lies inside its good range calls nothing beside it surely good.
    odd = Band("b", "q", "own", good_from=10, good_to=40, fault_above=30)
    assert not surely_good(odd, 31, 0.1)
    assert not surely_good(odd, 30, 1)


@pytest.mark.parametrize(
    ("band", "value", "near"),
    [(BAND, 25, False), (BAND, 25.1, True), (BAND, 7.5, False), (BAND, 7.4, True),
     (BAND, 15, False), (ONLY_FAULT, 30, False), (ONLY_FAULT, 30.1, True), (ONLY_GOOD, 0, False)],
)  # fmt: skip
def test_only_values_past_the_middle_are_worth_a_line(band: Band, value: float, near: bool) -> None:
    assert near_fault(band, value) is near


def test_pain_without_a_drill_gets_a_sentence_for_each_part() -> None:
    assert instead_of_drills([]) == ""
    assert instead_of_drills(["toe"]) == ""
    for part in BODY_PARTS:
        said = instead_of_drills([part])
        assert said.startswith(f"No drill for this with a painful {part}. ")
        assert said.endswith("when a doctor or physiotherapist has cleared it.")
        assert said.count(". ") == 2
    both = instead_of_drills(["knee", "shoulder"])
    assert "painful shoulder and knee. Rest the arms" in both
    assert ", no board. Leave the breaststroke kick out" in both


@pytest.mark.parametrize(
    ("text", "asked"),
    [("Do not hold your breath.", False), ("Never hold it, breathe.", False),
     ("Hold your breath to the wall.", True), ("No hurry: hold your breath to the wall.", True),
     ("Neither rush nor hold your breath.", False), ("HOLD YOUR BREATH for 25 m", True)],
)  # fmt: skip
def test_negation_governs_its_own_verb(text: str, asked: bool) -> None:
    found = breath_holding([text])
    assert bool(found and found.sure) is asked


def test_under_water_is_heard_in_any_letters() -> None:
    assert says_under_water(["Swim UNDERWATER to the flags"])
    assert says_under_water(["two kicks under water"])
    assert not says_under_water(["Swim above the line"])


def test_a_rung_keeps_whose_it_is() -> None:
    made = status_of("freestyle", "late-catch", date(2026, 11, 1), 7, [], "", None)
    assert (made.stroke, made.fault, made.begun_on, made.clip) == (
        "freestyle", "late-catch", date(2026, 11, 1), 7,
    )  # fmt: skip


def test_tests_that_hurt_or_are_not_known() -> None:
    with pytest.raises(NotFoundError, match="not known"):
        pool_test("no-such-test")
    for part, gone in (("shoulder", "pull-kick"), ("knee", "kick-set")):
        names = [t.id for t in offered_tests("freestyle", POOL, ("board",))]
        assert gone in names
        assert gone not in [t.id for t in offered_tests("freestyle", POOL, ("board",), (part,))]


def drill(name: str = "d", **changes: object) -> Drill:
    usual: dict[str, object] = {
        "id": name, "name": name.title(), "slot": "main", "purpose": "p", "how": ("h",), "cue": "c",
        "repeats": (4, 8), "progression": "n", "effort": 2, "works_on": ("crossing",), "metres": 25,
    }  # fmt: skip
    return Drill(**{**usual, **changes})  # type: ignore[arg-type]


FAULT = load("freestyle").faults["crossing"]


def work(*drills: Drill, effort: int = 2) -> FocusDrills:
    return FocusDrills(FAULT, drills, lambda d: effort)


def test_doses_grow_from_low_to_high_over_three_weeks() -> None:
    assert [_full_doses(drill(), week)[0] for week in range(5)] == [4, 6, 8, 8, 8]
    assert _full_doses(drill(), 1) == [6, 5, 4]
    assert _full_doses(drill(per_side=True), 0) == [8]
    assert (_least_dose(drill()), _least_dose(drill(per_side=True))) == (4, 8)


def test_a_drill_comes_with_its_full_dose_or_waits_its_turn() -> None:
    one, other = drill("one"), drill("two", slot="whole")
    both = work(one, other)
    places = [(one, both, 1), (other, both, 1)]
    # 8 lengths: 2 for the swim-off leave room for one dose of 4, not for two.
    assert _doses(places, 8, 0, 0, both, {}) == {0: 4}
    assert _doses(places, 8, 0, 1, both, {}) == {1: 4}
    assert _doses(places, 12, 0, 0, both, {}) == {0: 4, 1: 4}
    # What the coach fixed stands, and takes its room.
    assert _doses(places, 12, 0, 0, both, {1: 6}) == {1: 6}
    assert _doses(places, 14, 0, 0, both, {1: 6}) == {0: 4, 1: 6}
    # Where no dose fits, the smallest comes as far as there is room.
    assert _doses(places, 4, 0, 0, both, {}) == {0: 3}
    sided = work(drill(per_side=True))
    assert _doses([(sided.drills[0], sided, 1)], 6, 0, 0, sided, {}) == {0: 4}


def test_an_earlier_point_takes_at_most_half_of_the_room() -> None:
    now, before = work(drill("now")), work(drill("before"))
    places = [(before.drills[0], before, 1), (now.drills[0], now, 1)]
    assert _doses(places, 12, 0, 0, now, {}) == {0: 4, 1: 4}
    assert _doses(places, 8, 0, 0, now, {}) == {0: 3, 1: 3}


@pytest.mark.parametrize(
    ("changes", "effort", "rest"),
    [({}, 1, 15), ({}, 2, 15), ({}, 3, 20), ({}, 4, 40), ({}, 5, 60), ({}, 6, 90),
     ({"rest_s": 30}, 2, 30), ({"rest_s": 10}, 4, 40), ({"tags": ("under-water",)}, 2, 60),
     ({"tags": ("under-water",), "effort": 1}, 1, 15), ({"tags": ("under-water",)}, 6, 90)],
)  # fmt: skip
def test_rest_never_falls_below_its_effort_or_full_rest_under_water(
    changes: dict[str, object], effort: int, rest: int
) -> None:
    d = drill(**changes)
    assert _set(d, work(d, effort=effort), 4, 1, POOL).rest_s == rest


def test_a_set_says_what_it_is() -> None:
    d = drill(per_side=True, kit=("fins",))
    made = _set(d, work(d), 6, 1, POOL)
    assert (made.fault, made.name, made.repeats, made.lengths) == ("crossing", "D", 6, 1)
    assert (made.effort, made.cue, made.kit, made.drill) == (2, "c", ("fins",), "d")
    assert made.note == "3 each side"
    long_pool = Pool(Fraction(50))
    d = drill(metres=25)
    assert _set(d, work(d), 4, 1, long_pool).note.startswith("25 m of each length as the drill")
    assert _set(d, work(d), 4, 1, POOL).note == ""
    # Half as much again is still the drill.
    assert _set(drill(metres=50), work(d), 2, 3, POOL).note == ""


@pytest.mark.parametrize(
    ("lengths", "repeats", "each"), [(4, 2, 2), (3, 3, 1), (1, 1, 1), (6, 3, 2)]
)
def test_the_swim_off_is_near_50_m(lengths: int, repeats: int, each: int) -> None:
    made = _swim_off(work(drill()), lengths, POOL)
    assert (made.repeats, made.lengths, made.rest_s, made.effort) == (repeats, each, 15, 2)
    assert made.fault == "crossing"
    assert made.cue == FAULT.cue
    assert made.drill is None
    assert made.place is None


def test_a_block_is_no_longer_than_its_drills_can_fill_twice() -> None:
    # 8 repeats of 25 m, and as much swimming: 16 lengths.
    assert fitting(30, 160, POOL, work(drill())) == 16
    assert fitting(12, 40, POOL, work(drill())) == 12
    assert fitting(40, 200, POOL, work(drill(per_side=True))) == 32
    assert fitting(30, 100, POOL, work(drill(metres=None, seconds=30, place="land"))) == 30
    # Never below the least block.
    assert fitting(30, 200, POOL, work(drill(repeats=(1, 2)))) == 20


def test_places_and_kept_points_of_a_block() -> None:
    now, before = work(drill("now")), work(drill("before"))
    made = block(12, POOL, now, 0, keep=before)
    assert [(s.drill, s.place, s.keeps, s.fixed) for s in made] == [
        ("before", 0, True, False), ("now", 1, False, False), (None, None, False, False),
    ]  # fmt: skip
    assert total(made) == 12


@pytest.mark.parametrize(
    "text",
    ["NEVER swim 25 m without air.", "Nobody swims 25 m without air", "Don’t hold your breath.",
     "Breathless sets are forbidden.", "No-breath drills are never given.",
     "Take one stroke without a breath.", "EACH STROKE WITHOUT A BREATH",
     "Breathe every 3 strokes"],
)  # fmt: skip
def test_what_forbids_it_or_is_one_stroke_passes(text: str) -> None:
    assert breath_holding([text]) is None


@pytest.mark.parametrize(
    ("text", "words"),
    [("Do not hold your breath here, and then hold your breath to the wall.", "hold your breath"),
     ("Swim 12,5 m without a breath", "without a breath"), ("Swim without air", "without air"),
     ("Hold your breath? Don’t hold your breath.", "Hold your breath"),
     ("Breathe every nine strokes", "Breathe every nine")],
)  # fmt: skip
def test_a_refusal_elsewhere_forbids_nothing_here(text: str, words: str) -> None:
    found = breath_holding([text])
    assert found is not None
    assert (found.words, found.sure) == (words, True)


@pytest.mark.parametrize(
    "text", ["Do not swim 25 m underwater.", "Never go a length underwater.", "No 25 m underwater"]
)
def test_far_under_water_is_refused_by_its_own_negation(text: str) -> None:
    found = breath_holding([text])
    assert not (found and found.sure)
    assert breath_holding(["Swim 25 m underwater."])
