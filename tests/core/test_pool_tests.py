"""Pool tests: worked figures, judgements at their limits, and what cannot be."""

from __future__ import annotations

import math
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from norvik.catalogue import load
from norvik.core.errors import NotFoundError, PoolTestError
from norvik.core.pool import Pool
from norvik.core.prescription.pool_tests import (
    TESTS,
    EarlierTest,
    Outcome,
    evaluate,
    offered_tests,
    pool_test,
    read_entries,
)
from norvik.core.prescription.pool_tests.helps import HELPS
from norvik.core.prescription.pool_tests.outcome import VERDICTS


def ratio(pull: float, kick: float, *earlier: EarlierTest, rested: bool = True) -> Outcome:
    return evaluate(pool_test("pull-kick"), {"pull": [pull], "kick": [kick]}, earlier, rested)


def kicks(
    *seconds: float, send_off: float | None = None, before: tuple[EarlierTest, ...] = ()
) -> Outcome:
    entries = {"seconds": list(seconds), "send_off": [] if send_off is None else [send_off]}
    return evaluate(pool_test("kick-set"), entries, before)


def counted(rows: list[tuple[int, float]], *earlier: EarlierTest) -> Outcome:
    entries = {"strokes": [r[0] for r in rows], "seconds": [r[1] for r in rows]}
    return evaluate(pool_test("stroke-count"), entries, earlier)


# 1.5 to 1.7 balanced, above it the arms are weaker, below it the legs: common practice.
@pytest.mark.parametrize(
    ("pull", "kick", "verdict"),
    [(96.0, 60.0, "balanced"), (108.0, 60.0, "arms"), (84.0, 60.0, "legs"),
     (102.2, 60.0, "open"), (90.2, 60.0, "open"), (103.0, 60.0, "arms"), (89.0, 60.0, "legs")],
)  # fmt: skip
def test_pull_and_kick(pull: float, kick: float, verdict: str) -> None:
    said = ratio(pull, kick)
    assert said.verdict == verdict
    assert said.figure == pytest.approx(pull / kick)
    assert said.weaker == (verdict if verdict in HELPS else "")
    assert said.u is not None
    # JCGM 100:2008, 5.1.6: relative uncertainties of a quotient combine by their squares.
    relative = math.sqrt((0.15 / pull) ** 2 + (0.15 / kick) ** 2)
    assert said.u == pytest.approx(said.figure * relative)


def test_a_tired_ratio_says_nothing_yet() -> None:
    said = ratio(108.0, 60.0, rested=False)
    assert said.says[0].startswith("Not rested")
    assert not said.weaker


def test_a_ratio_is_compared_with_the_last_rested_one() -> None:
    first = EarlierTest({"pull": [108.0], "kick": [60.0]})
    tired = EarlierTest({"pull": [140.0], "kick": [60.0]}, rested=False)
    said = ratio(100.0, 60.1, first, tired)
    assert said.changed
    assert said.changed.verdict == "better"  # from 1.80 into the balanced range
    assert "The arms are 8.0 s faster than before." in said.says
    assert "The legs are as fast as before, within what watch and day allow." in said.says


def test_a_count_at_one_pace() -> None:
    # From 21 to 16 within one session has been seen (common practice).
    said = counted([(21, 22.0), (18, 22.6), (16, 22.9), (15, 24.1)])
    assert (said.verdict, said.figure) == ("fewer", 16)
    assert said.says[0] == "From 21 strokes in 22.0 s to 16 in 22.9 s."
    assert said.says[1].startswith("1 length is more than 1 s off the pace")
    assert counted([(18, 22.0), (18, 22.3), (17, 23.5)]).verdict == "no fewer"


def test_counts_of_another_pace_are_not_compared() -> None:
    before = EarlierTest({"strokes": [21, 19], "seconds": [22.0, 22.3]})
    near = counted([(20, 22.5), (16, 22.8)], before)
    assert near.changed
    assert (near.changed.difference, near.changed.verdict) == (-3, "better")
    far = counted([(20, 26.0), (16, 26.1)], before)
    assert far.changed is None
    assert "No earlier test was swum at this pace." in far.says
    one = counted([(20, 22.5), (18, 22.8)], before)
    assert one.changed
    assert one.changed.verdict == "same"  # one stroke is no change


def test_something_is_off_today() -> None:
    test = pool_test("fly-333-count")
    days = [EarlierTest({"strokes": [n]}) for n in (14, 15, 14)]
    assert evaluate(test, {"strokes": [14]}, days[:2]).verdict == "open"
    assert evaluate(test, {"strokes": [14, 15]}, days).verdict == "usual"
    assert evaluate(test, {"strokes": [15]}, days).verdict == "off"
    assert "Fewer than ever" in evaluate(test, {"strokes": [13]}, days).says[0]
    # What is usual looks back on six days, "ever" on all of them.
    long_ago = [EarlierTest({"strokes": [12]}), *days, *days]
    assert "Fewer than ever" not in evaluate(test, {"strokes": [13]}, long_ago).says[0]


def test_a_kick_that_fades() -> None:
    said = kicks(100.0, 102.0, 106.0, send_off=120.0)
    assert said.verdict == "fades"
    assert said.figure == pytest.approx(102.667, abs=0.001)
    assert said.says[0] == "The last 100 is 6.0 s (6.0 %) slower than the first: the kick fades."
    assert said.says[1] == "17 s of rest on average on a send-off of 120 s."
    assert kicks(100.0, 101.0, 102.0).verdict == "even"
    assert "faster" in kicks(106.0, 102.0, 100.0).says[0]
    assert "number 2, 3" in kicks(100.0, 111.0, 112.0, send_off=110.0).says[1]


def test_kick_sets_of_one_kind_are_compared() -> None:
    before = (EarlierTest({"seconds": [100.0, 102.0, 106.0], "send_off": [120.0]}),)
    said = kicks(98.0, 99.0, 100.0, send_off=120.0, before=before)
    assert said.changed
    assert said.changed.verdict == "better"
    assert kicks(102.7, 102.8, 102.6, send_off=120.0, before=before).changed.verdict == "same"  # type: ignore[union-attr]
    assert kicks(98.0, 99.0, 100.0, send_off=110.0, before=before).changed is None


@pytest.mark.parametrize(
    ("test", "entries", "word"),
    [
        ("pull-kick", {"pull": [96.0]}, "50 kick: is missing."),
        ("pull-kick", {"pull": [96.0, 97.0], "kick": [60.0]}, "one value is taken"),
        ("pull-kick", {"pull": [math.nan], "kick": [60.0]}, "lies outside"),
        ("pull-kick", {"pull": [0.2], "kick": [60.0]}, "lies outside"),
        ("kick-set", {"seconds": [100.0]}, "at least 2 values"),
        ("kick-set", {"seconds": [100.0] * 21}, "at most 20"),
        ("stroke-count", {"strokes": [20, 19], "seconds": [22.0, 22.1, 22.2]}, "as many strokes"),
        ("stroke-count", {"strokes": [20.5, 19], "seconds": [22.0, 22.1]}, "whole numbers"),
        ("fly-333-count", {"strokes": [0]}, "whole numbers"),
        ("fly-333-count", {"strokes": [math.inf]}, "whole numbers"),
    ],
)
def test_what_cannot_be_is_said(test: str, entries: dict[str, list[float]], word: str) -> None:
    with pytest.raises(PoolTestError) as error:
        evaluate(pool_test(test), entries)
    assert word in error.value.sentence


def test_an_unknown_test() -> None:
    with pytest.raises(NotFoundError):
        pool_test("long-dive")


def test_tests_fit_pool_stroke_and_kit() -> None:
    def names(stroke: str, length: str, *kit: str) -> list[str]:
        return [t.id for t in offered_tests(stroke, Pool(Fraction(length)), kit)]

    assert names("freestyle", "25", "board") == ["pull-kick", "stroke-count", "kick-set"]
    assert names("freestyle", "25") == ["stroke-count", "kick-set"]
    # 100 is three lengths of 33 1/3, 50 is none.
    assert names("freestyle", "100/3", "board") == ["stroke-count", "kick-set"]
    assert names("butterfly", "18") == ["fly-333-count", "stroke-count"]


def test_drills_that_help_are_in_the_tables() -> None:
    for stroke in ("freestyle", "backstroke"):
        drills = load(stroke).drills
        for part, ids in HELPS.items():
            assert any(d in drills for d in ids), (stroke, part)
    known = {d for stroke in ("freestyle", "backstroke") for d in load(stroke).drills}
    assert {d for ids in HELPS.values() for d in ids} <= known


@given(
    st.sampled_from(TESTS),
    st.lists(st.floats(15, 300).map(lambda x: round(x, 1)), min_size=2, max_size=6),
    st.lists(st.integers(5, 60), min_size=6, max_size=6),
    st.integers(0, 4),
)
def test_every_test_says_something_of_what_is_possible(
    test: object, seconds: list[float], strokes: list[int], days: int
) -> None:
    assert test in TESTS
    entries: dict[str, list[float]] = {
        "pull": seconds[:1], "kick": seconds[1:2], "seconds": seconds,
        "strokes": [float(s) for s in strokes[: len(seconds)]], "send_off": [], "kicks": [],
    }  # fmt: skip
    asked = {e.id: entries[e.id] for e in test.entries}  # type: ignore[attr-defined]
    read = read_entries(test, asked)  # type: ignore[arg-type]
    said = evaluate(test, read, [EarlierTest(read)] * days)  # type: ignore[arg-type]
    assert said.verdict in VERDICTS
    assert all(line.strip() for line in said.says)
    if said.changed:
        assert said.changed.verdict == "same"  # the same test again is no change


def test_a_pool_test_that_is_not_known_is_said() -> None:
    with pytest.raises(NotFoundError) as wrong:
        pool_test("tow")
    assert wrong.value.sentence == "This pool test is not known. Reload the page."
