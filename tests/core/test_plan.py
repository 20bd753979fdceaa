"""Plans: sums that are exact, focuses in their weeks, film dates, tests, and what is refused."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from norvik.catalogue import load
from norvik.core.errors import PlanError
from norvik.core.prescription.plan import FocusRequest, Plan, PlanRequest, Pool, build_plan
from norvik.core.prescription.plan.event_day import MOST_LETTERS, event_day
from norvik.core.prescription.plan.sets import ADDED, FocusDrills, block, block_lengths, total
from norvik.core.prescription.pool_tests import offered_tests
from norvik.core.prescription.prescribe import SwimmerProfile, effort_of, prescribe

CATALOGUE = load("freestyle")
FOCUSES = ("crossing", "breath-held", "dropped-elbow")
MONDAY = date(2026, 11, 30)


SWIMMER = SwimmerProfile("improver", ("fins", "buoy"))


def work(fault: str, receiver: SwimmerProfile = SWIMMER) -> FocusDrills:
    chosen = prescribe(CATALOGUE.faults[fault], CATALOGUE, FOCUSES, receiver)
    return FocusDrills(
        chosen.fault, chosen.drills, lambda d: effort_of(d, CATALOGUE, receiver.schools)
    )


def request(**changes) -> PlanRequest:  # type: ignore[no-untyped-def]
    usual = PlanRequest(
        MONDAY, (1, 3), Pool(Fraction(25)), tuple(FocusRequest(f) for f in FOCUSES), metres=2500
    )
    return replace(usual, **changes)


def plan(**changes) -> Plan:  # type: ignore[no-untyped-def]
    asked = request(**changes)
    return build_plan(asked, [work(f.fault) for f in asked.focuses])


@pytest.mark.parametrize("unit", ["m", "yd"])
@pytest.mark.parametrize("length", [*range(15, 51), Fraction(50, 3), Fraction(100, 3)])
def test_sums_are_exact_in_whole_lengths(length: int | Fraction, unit: str) -> None:
    pool = Pool(Fraction(length), unit)
    for metres in (1000, 2500, 4400):
        made = plan(pool=pool, metres=metres, aim_on=MONDAY + timedelta(weeks=12))
        least, most = Fraction(200) / pool.metres, Fraction(800) / pool.metres
        for session in made.sessions:
            assert session.lengths == sum(s.repeats * s.lengths for s in session.sets)
            assert sum(pool.length * s.total for s in session.sets) == (
                pool.length * session.lengths
            )
            assert least <= session.lengths <= max(most, least + 1)
            # 10 to 20 % of the session, unless 200 m are more than that.
            of_it = Fraction(session.lengths, made.session_lengths)
            assert of_it >= Fraction(1, 10)
            assert of_it <= Fraction(1, 5) or session.lengths - 1 < least
            assert session.sets[-1].drill is None
            assert all(s.repeats >= 1 and s.lengths >= 1 and s.rest_s >= 15 for s in session.sets)


@settings(max_examples=60, deadline=None)
@given(
    metres=st.integers(400, 8000),
    length=st.integers(15, 50),
    week=st.integers(0, 5),
    focus=st.sampled_from(sorted(CATALOGUE.faults)),
    keep=st.sampled_from([None, *FOCUSES]),
)
def test_a_block_is_filled_exactly(
    metres: int, length: int, week: int, focus: str, keep: str | None
) -> None:
    pool = Pool(Fraction(length))
    lengths = block_lengths(int(Fraction(metres) / pool.metres), pool)
    sets = block(lengths, pool, work(focus), week, work(keep) if keep else None)
    assert total(sets) == lengths
    assert sets[-1].drill is None
    sided = [s for s in sets if s.drill and CATALOGUE.drills[s.drill].per_side]
    assert all(s.repeats % 2 == 0 for s in sided)


@settings(max_examples=60, deadline=None)
@given(
    metres=st.integers(1000, 8000),
    length=st.integers(15, 50),
    focus=st.sampled_from(sorted(CATALOGUE.faults)),
    extra=st.lists(st.tuples(st.sampled_from(["fist", "catch-up", "single-arm"]),
                             st.integers(1, 6)), min_size=1, max_size=3),
)  # fmt: skip
def test_sets_of_the_coach_stand_and_the_sum_stays(
    metres: int, length: int, focus: str, extra: list[tuple[str, int]]
) -> None:
    pool = Pool(Fraction(length))
    lengths = block_lengths(int(Fraction(metres) / pool.metres), pool)
    added = [(ADDED + n, CATALOGUE.drills[d], times) for n, (d, times) in enumerate(extra)]
    if sum(times for _, times in extra) * pool.lengths_near(25) >= lengths:
        with pytest.raises(PlanError, match="swim-off needs a length"):
            block(lengths, pool, work(focus), 1, None, None, added)
        return
    sets = block(lengths, pool, work(focus), 1, None, None, added)
    assert total(sets) == lengths
    assert [(s.drill, s.repeats) for s in sets if s.added] == extra
    assert sets[-1].drill is None


def test_an_added_drill_that_suits_no_more_rests() -> None:
    asked = request(added={"1-1": (("fist", 2),)})
    works = [work(f.fault) for f in asked.focuses]
    with_it = build_plan(asked, works, (), {"fist": CATALOGUE.drills["fist"]})
    assert [s.drill for s in with_it.session("1-1").sets if s.added] == ["fist"]
    assert not any(s.added for s in build_plan(asked, works).session("1-1").sets)
    assert with_it.session("1-1").lengths == build_plan(asked, works).session("1-1").lengths


def test_worked_example() -> None:
    """2,500 m in 25 m: 15 % are 375 m, 15 lengths, made even: 16 lengths, 400 m."""
    assert block_lengths(100, Pool(Fraction(25))) == 16
    # A session of 1,000 m: 200 m are more than 15 %, and win.
    assert block_lengths(40, Pool(Fraction(25))) == 8
    # 800 m are the most: of 6,000 m in 50 m 16 lengths, not 18.
    assert block_lengths(120, Pool(Fraction(50))) == 16


def test_focuses_get_their_weeks_and_one_set_a_week_keeps_the_earlier_ones() -> None:
    made = plan()
    assert made.spans() == [("crossing", 1, 3), ("breath-held", 4, 6), ("dropped-elbow", 7, 9)]
    for week in made.weeks:
        kept = [s for session in week.sessions for s in session.sets if s.keeps]
        assert len(kept) == (0 if week.number <= 3 else 1), week.number
        assert all(s.fault != week.focus for s in kept)
        filmed = [s for s in week.sessions if s.film]
        assert len(filmed) == (week.number in (3, 6, 9))
        assert all(s is week.sessions[-1] for s in filmed)
    # A week that the aim cuts short keeps them alive in the last session that is left.
    short = plan(aim_on=MONDAY + timedelta(weeks=5, days=2))
    assert [s.on.weekday() for s in short.weeks[-1].sessions] == [1]
    assert any(s.keeps for s in short.weeks[-1].sessions[0].sets)
    # The dose grows from the low end of a drill to its high end.
    first, last = made.weeks[0].sessions[0], made.weeks[2].sessions[0]
    assert first.sets[0].repeats < last.sets[0].repeats


def test_time_until_the_aim_is_shared_out() -> None:
    def spans(weeks: int) -> tuple[list[tuple[str, int, int]], tuple[str, ...]]:
        made = plan(aim_on=MONDAY + timedelta(weeks=weeks, days=-2))
        assert all(made.request.aim_on and s.on < made.request.aim_on for s in made.sessions)
        return made.spans(), made.waiting

    assert spans(7)[0] == [("crossing", 1, 3), ("breath-held", 4, 5), ("dropped-elbow", 6, 7)]
    assert spans(4) == ([("crossing", 1, 2), ("breath-held", 3, 4)], ("dropped-elbow",))
    assert spans(1) == ([("crossing", 1, 1)], ("breath-held", "dropped-elbow"))
    # What the coach set stays.
    focuses = (FocusRequest("crossing", 4), FocusRequest("breath-held"))
    made = plan(focuses=focuses, aim_on=MONDAY + timedelta(weeks=9))
    assert made.spans()[0] == ("crossing", 1, 4)
    # After the last focus the earlier ones are kept alive in turn.
    assert made.weeks[-1].focus is None
    assert {s.focus for s in made.weeks[-1].sessions} <= {"crossing", "breath-held"}


def test_a_moved_session_and_fixed_repeats_stay_and_the_rest_is_worked_out_again() -> None:
    before = plan()
    key = before.weeks[2].sessions[0].key
    moved = plan(moves={key: before.weeks[2].sessions[1].on + timedelta(days=2)})
    session = moved.session(key)
    assert session.moved
    # It is the last one of its block now, so that is when to film.
    assert session.film
    assert not moved.weeks[2].sessions[0].film
    place = before.session(key).sets[0].place
    assert place is not None
    fixed = plan(repeats={key: {place: 2}}).session(key)
    assert (fixed.sets[0].repeats, fixed.sets[0].fixed) == (2, True)
    assert fixed.lengths == before.session(key).lengths
    # What the fixed set leaves goes to the drills that had no room, and to the swim-off.
    assert sum(s.total for s in fixed.sets[1:]) > sum(s.total for s in before.session(key).sets[1:])
    with pytest.raises(PlanError, match="swim-off needs a length"):
        plan(repeats={key: {place: 40}})
    with pytest.raises(PlanError, match="no longer in the plan"):
        plan().session("99-1")


def test_pool_tests_every_four_to_six_weeks_that_fit_pool_and_kit() -> None:
    pool = Pool(Fraction(25))
    tests = offered_tests("freestyle", pool, ("board",))
    assert [t.id for t in tests] == ["pull-kick", "stroke-count", "kick-set"]
    assert [t.id for t in offered_tests("freestyle", pool, ())] == ["stroke-count", "kick-set"]
    # 50 is no whole number of lengths of 20.
    assert "pull-kick" not in [
        t.id for t in offered_tests("freestyle", Pool(Fraction(20)), ("board",))
    ]
    assert offered_tests("butterfly", pool, ())[0].id == "fly-333-count"
    asked = request(aim_on=MONDAY + timedelta(weeks=26))
    made = build_plan(asked, [work(f) for f in FOCUSES], tests)
    on = [w.number for w in made.weeks for s in w.sessions if s.test]
    assert on[0] == 1
    assert all(4 <= b - a <= 6 for a, b in pairwise(on))
    assert made.weeks[0].sessions[0].test == tests[0]


def test_pain_takes_drills_out_and_a_focus_without_any_is_only_swum() -> None:
    asked = request(focuses=(FocusRequest("low-swing"),))
    hurting = SwimmerProfile("improver", ("cord",), ("shoulder",))
    made = build_plan(asked, [work("low-swing", hurting)])
    for s in made.sessions[0].sets:
        assert s.drill is None or "shoulder" not in CATALOGUE.drills[s.drill].loads
    nothing = FocusDrills(CATALOGUE.faults["low-swing"], (), lambda d: d.effort)
    only = build_plan(asked, [nothing]).sessions[0]
    assert [s.drill for s in only.sets] == [None]


def test_breath_holding_is_refused() -> None:
    drill = replace(CATALOGUE.drills["fist"], how=("One breath per length.", "Go on."))
    bad = FocusDrills(CATALOGUE.faults["dropped-elbow"], (drill,), lambda d: d.effort)
    with pytest.raises(PlanError, match="can kill"):
        build_plan(request(focuses=(FocusRequest("dropped-elbow"),)), [bad])


def test_under_water_kicks_have_full_rest() -> None:
    fault = CATALOGUE.faults["wall-few-kicks"]
    drills = (CATALOGUE.drills["streamline-six"],)
    sets = block(16, Pool(Fraction(25)), FocusDrills(fault, drills, lambda d: d.effort), 0)
    assert sets[0].rest_s >= 60


@pytest.mark.parametrize(
    ("changes", "word"),
    [
        ({"weekdays": ()}, "at least one day"),
        ({"weekdays": (9,)}, "at least one day"),
        ({"focuses": ()}, "at least one point"),
        ({"metres": None}, "metres or minutes"),
        ({"minutes": 60}, "metres or minutes"),
        ({"metres": 300}, "at least 400 m"),
        ({"metres": 20000}, "at most"),
        ({"aim_on": MONDAY}, "before the start"),
        ({"aim_on": MONDAY + timedelta(weeks=60)}, "at most 52 weeks"),
        ({"focuses": (FocusRequest("crossing", 20),)}, "between 1 and 12"),
    ],
)
def test_wishes_that_cannot_be(changes, word) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(PlanError, match=word):
        request(**changes)


def test_pools_that_cannot_be_and_minutes_by_level() -> None:
    with pytest.raises(PlanError, match="between 10 and 100"):
        Pool(Fraction(5))
    with pytest.raises(PlanError, match="metres"):
        Pool(Fraction(25), "ft")
    assert float(Pool(Fraction(25), "yd").metres) == pytest.approx(22.86)
    slow = request(metres=None, minutes=60, level="beginner")
    quick = request(metres=None, minutes=60, level="advanced")
    assert slow.session_metres < quick.session_metres
    # 60 minutes at 2:30 a hundred.
    assert request(metres=None, minutes=60).session_metres == pytest.approx(2400)


def test_a_long_event_in_blocks_of_one_word_each() -> None:
    day = event_day(600, [("crossing", "Wide"), ("breath-held", "Bubbles")], 120)
    assert [(s.word, s.from_min, s.to_min) for s in day] == [
        ("Wide", 0, 120),
        ("Bubbles", 120, 240),
        ("Wide", 240, 360),
        ("Bubbles", 360, 480),
        ("Wide", 480, 600),
    ]
    equal = event_day(100, [("a", "One"), ("b", "Two"), ("c", "Three")])
    assert [s.to_min for s in equal] == [33, 67, 100]
    for minutes, focuses, each, word in (
        (0, [("a", "One")], None, "how many minutes"),
        (2_000_000, [("a", "One")], 5, "how many minutes"),
        (2880, [("a", "One")], 5, "more than 48 blocks"),
        (60, [], None, "at least one point"),
        (60, [("a", "More words than fit")], None, "short words"),
        (60, [("a", "One")], 2, "at least 5 minutes"),
    ):
        with pytest.raises(PlanError, match=word):
            event_day(minutes, focuses, each)
    assert all(0 < len(f.word) <= MOST_LETTERS for f in CATALOGUE.faults.values())
