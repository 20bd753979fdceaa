"""A plan from its rules, written once more as plain loops: whose week, which day, which sets, when
to test and when to film.
"""

from __future__ import annotations

from datetime import date, timedelta
from fractions import Fraction

import pytest

from norvik.core.errors import PlanError
from norvik.core.prescription.plan import FocusRequest, Plan, PlanRequest, Pool, build_plan
from norvik.core.prescription.plan.sets import ADDED, block, block_lengths, fitting
from norvik.core.prescription.pool_tests import TESTS
from tests.core.test_block_of_sets import drill
from tests.core.test_block_of_sets import focus as working_on
from tests.core.test_plan import CATALOGUE, FOCUSES, MONDAY, request, work

POOL_TESTS = TESTS[:3]
DRILLS = {d: CATALOGUE.drills[d] for d in ("fist", "catch-up")}


def laid_out(asked: PlanRequest, tests: int = 3) -> Plan:
    return build_plan(asked, [work(f.fault) for f in asked.focuses], POOL_TESTS[:tests], DRILLS)


def whose_weeks(asked: PlanRequest) -> list[int | None]:
    """The focus of each week: three weeks each, or what the coach set; None when all are kept."""
    made: list[int | None] = [n for n, f in enumerate(asked.focuses) for _ in range(f.weeks or 3)]
    # In all of these plans there is time for all three.
    until = asked.weeks_until_aim
    return made if until is None else (made + [None] * until)[:until]


@pytest.mark.parametrize(
    "changes",
    [
        {},
        {"weekdays": (0, 2, 5), "starts_on": MONDAY + timedelta(days=2)},
        {"aim_on": MONDAY + timedelta(weeks=14, days=3), "weekdays": (3, 1)},
        {"aim_on": MONDAY + timedelta(weeks=16), "weekdays": (0, 3, 6)},
        {"focuses": tuple(FocusRequest(f, w) for f, w in zip(FOCUSES, (1, 6, 2), strict=True))},
        {"focuses": tuple(FocusRequest(f, w) for f, w in zip(FOCUSES, (4, 5, 12), strict=True))},
        # The last week of the first focus is swum before the week before it.
        {"moves": {"3-1": MONDAY + timedelta(days=4), "3-2": MONDAY + timedelta(days=5)}},
        {"added": {"2-1": (("fist", 2), ("catch-up", 1)), "3-2": (("gone", 2),)},
         "repeats": {"4-1": {0: 3}}, "moves": {"2-2": MONDAY + timedelta(days=13)}},
    ],
)  # fmt: skip
def test_a_plan_is_what_the_rules_say(changes: dict[str, object]) -> None:
    asked = request(**changes)
    made = laid_out(asked)
    works = [work(f.fault) for f in asked.focuses]
    lengths = asked.session_lengths
    sizes = [fitting(block_lengths(lengths, asked.pool), lengths, asked.pool, w) for w in works]
    focus_of = whose_weeks(asked)
    assert len(made.weeks) == len(focus_of)
    last_test, tested, filmed = -6, 0, dict[str, tuple[date, str]]()
    for number, (week, focus) in enumerate(zip(made.weeks, focus_of, strict=True)):
        assert week.number == number + 1
        assert week.monday == MONDAY + timedelta(weeks=number)
        assert week.focus == (None if focus is None else FOCUSES[focus])
        first_of_it = number == 0 or focus_of[number - 1] != focus
        tests_now = number - last_test >= (4 if first_of_it else 6)
        since = 0
        while since < number and focus_of[number - since - 1] == focus:
            since += 1
        days = []
        for n, weekday in enumerate(sorted(asked.weekdays)):
            key, on = f"{number + 1}-{n + 1}", week.monday + timedelta(days=weekday)
            moved = asked.moves.get(key)
            if moved or (asked.starts_on <= on and (asked.aim_on is None or on < asked.aim_on)):
                days.append((key, moved or on))
        expected = []
        for n, (key, on) in enumerate(days):
            earlier = list(range(len(asked.focuses) if focus is None else focus))
            own = earlier[(number + n) % len(earlier)] if focus is None else focus
            older = [e for e in earlier if e != own and works[e].in_water]
            keep = works[older[number % len(older)]] if older and n == len(days) - 1 else None
            added = [
                (ADDED + at, DRILLS[drill], times)
                for at, (drill, times) in enumerate(asked.added.get(key, ()))
                if drill in DRILLS
            ]
            sets = block(sizes[own], asked.pool, works[own], since, keep, asked.repeats.get(key),
                         added, turn=since * len(days) + n)  # fmt: skip
            test = POOL_TESTS[tested % 3] if tests_now and n == 0 else None
            land = tuple(d.id for d in works[own].on_the_spot)
            expected.append(
                (on, key, number + 1, FOCUSES[own], tuple(sets), land, test, key in asked.moves)
            )
        if tests_now:
            tested, last_test = tested + 1, number
        found = [(s.on, s.key, s.week, s.focus, s.sets, s.land, s.test, s.moved)
                 for s in week.sessions]  # fmt: skip
        assert found == sorted(expected, key=lambda e: e[0])
        if focus is not None:
            for on, key, *_ in expected:
                if on > filmed.get(FOCUSES[focus], (date.min, ""))[0]:
                    filmed[FOCUSES[focus]] = (on, key)
    assert {s.key for s in made.sessions if s.film} == {key for _, key in filmed.values()}
    assert sum(s.test is not None for s in made.sessions) == tested


def test_three_drills_of_which_two_fit_take_turns_session_by_session() -> None:
    """In the order of the sessions, week after week: nobody waits longer than another."""
    drills = [drill(name, repeats=(6, 6), metres=25) for name in "abc"]
    one = request(focuses=(FocusRequest("made-up"),), weekdays=(0, 2, 3, 5))
    made = build_plan(one, [working_on(*drills)])
    swum = [{s.drill for s in x.sets if s.drill} for x in made.sessions]
    turns = [{"a", "b"}, {"b", "c"}, {"c", "a"}]
    assert swum == [turns[n % 3] for n in range(len(swum))]
    assert len(swum) == 12


def test_land_drills_stand_beside_every_session_of_their_focus() -> None:
    made = laid_out(request())
    assert {s.focus: s.land for s in made.sessions} == {
        f: tuple(d.id for d in work(f).on_the_spot) for f in FOCUSES
    }
    assert laid_out(request(), tests=0).sessions[0].test is None


def test_where_time_is_short_a_later_focus_leaves_room_for_those_after_it() -> None:
    """Seven weeks: three, two and two. A week without a day to train before the aim is none."""
    seven = request(aim_on=MONDAY + timedelta(weeks=7))
    spans = laid_out(seven).spans()
    assert [(last - first + 1) for _, first, last in spans] == [3, 2, 2]
    for weekday, weeks in ((0, 7), (1, 7), (2, 8), (6, 8)):  # Tuesdays and Thursdays are swum
        asked = request(aim_on=MONDAY + timedelta(weeks=7, days=weekday))
        assert asked.weeks_to_train == weeks
        assert all(w.sessions for w in laid_out(asked).weeks[:weeks])
    assert request(aim_on=MONDAY + timedelta(days=1)).weeks_to_train == 1
    assert request().weeks_to_train is None
    focuses = (FocusRequest(FOCUSES[0]), FocusRequest(FOCUSES[1], 4), FocusRequest(FOCUSES[2]))
    fixed = laid_out(request(aim_on=MONDAY + timedelta(weeks=8), focuses=focuses))
    assert [(first, last) for _, first, last in fixed.spans()] == [(1, 2), (3, 6), (7, 8)]


def test_weeks_that_keep_all_alive_belong_to_no_span() -> None:
    made = laid_out(request(aim_on=MONDAY + timedelta(weeks=12)))
    assert made.spans() == [(FOCUSES[0], 1, 3), (FOCUSES[1], 4, 6), (FOCUSES[2], 7, 9)]
    # The last one is the aim's own: its training days come after it.
    assert [(w.focus, len(w.sessions)) for w in made.weeks[9:]] == [(None, 2)] * 3 + [(None, 0)]
    # A focus that was put first again has a span of its own.
    twice = Plan(made.request, (*made.weeks[8:12], made.weeks[0]), made.session_lengths, ())
    assert [(f, first) for f, first, _ in twice.spans()] == [(FOCUSES[2], 9), (FOCUSES[0], 1)]


def test_what_does_not_belong_together_is_said() -> None:
    with pytest.raises(PlanError) as wrong:
        build_plan(request(), [work(FOCUSES[1])])
    assert wrong.value.sentence == "The points of this plan have changed. Reload the page."
    with pytest.raises(PlanError) as gone:
        laid_out(request()).session("99-1")
    assert gone.value.sentence == "This session is no longer in the plan. Reload the page."


def test_a_pool_of_yards_is_laid_out_by_the_same_rules() -> None:
    asked = request(pool=Pool(Fraction(25), "yd"))
    assert [s.key for s in laid_out(asked).sessions] == [
        s.key for s in laid_out(request()).sessions
    ]
