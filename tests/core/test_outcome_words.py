"""What a pool test says, to the word and to the digit; worked by hand."""

from __future__ import annotations

import math

import pytest

from norvik.core.errors import PoolTestError
from norvik.core.prescription.pool_tests import EarlierTest, Outcome, evaluate, pool_test


def test_the_arms_are_weaker() -> None:
    made = evaluate(pool_test("pull-kick"), {"pull": [108.0], "kick": [60.0]})
    # 108 over 60; each time to 0.15 s; from day to day 1.2 % of either.
    assert made == Outcome(
        1.8, "", 2, pytest.approx(1.8 * math.hypot(0.15 / 108, 0.15 / 60)), (1.5, 1.7), "arms",
        ("Above 1.7: the arms are the weaker part. Work on the hold.",), "arms",
        day_u=pytest.approx(1.8 * 0.012 * math.sqrt(2)),
    )  # fmt: skip


@pytest.mark.parametrize(
    ("pull", "kick", "weaker", "verdict", "says"),
    [
        (84.0, 60.0, "legs", "legs",
         "Below 1.5: the legs are the weaker part. Work on the kick."),
        (96.0, 60.0, "", "balanced", "Balanced: arms and legs go together from 1.5 to 1.7."),
        (102.2, 60.0, "", "open",
         "So near the limits of 1.5 and 1.7 that a watch can't tell."),
        (90.1, 60.0, "", "open",
         "So near the limits of 1.5 and 1.7 that a watch can't tell."),
    ],
)  # fmt: skip
def test_which_part_is_weaker(
    pull: float, kick: float, weaker: str, verdict: str, says: str
) -> None:
    made = evaluate(pool_test("pull-kick"), {"pull": [pull], "kick": [kick]})
    assert (made.weaker, made.verdict, made.says) == (weaker, verdict, (says,))
    assert (made.unit, made.digits, made.good, made.changed) == ("", 2, (1.5, 1.7), None)


def test_both_parts_against_the_last_rested_test() -> None:
    earlier = [
        EarlierTest({"pull": [120.0], "kick": [60.0]}),
        EarlierTest({"pull": [108.0], "kick": [60.0]}),
        EarlierTest({"pull": [90.0], "kick": [90.0]}, rested=False),
    ]
    made = evaluate(pool_test("pull-kick"), {"pull": [96.0], "kick": [60.5]}, earlier)
    assert made.says == (
        "Balanced: arms and legs go together from 1.5 to 1.7.",
        "The arms are 12.0 s faster than before.",
        "The legs are as fast as before, within what watch and day allow.",
    )
    assert made.changed is not None
    assert made.changed.before.value == pytest.approx(1.8)
    assert made.changed.verdict == "better"
    slower = evaluate(pool_test("pull-kick"), {"pull": [120.0], "kick": [66.0]}, earlier[:2])
    assert slower.says[1:] == (
        "The arms are 12.0 s slower than before.",
        "The legs are 6.0 s slower than before.",
    )


def test_within_watch_and_day_is_no_difference() -> None:
    """Twice the root of two hand times (0.15 s each) and 1.2 % of both times: about 2.1 s of 60."""
    before = [EarlierTest({"pull": [96.0], "kick": [60.0]})]
    for kick, said in ((62.0, "as fast as before"), (62.2, "2.2 s slower")):
        made = evaluate(pool_test("pull-kick"), {"pull": [96.0], "kick": [kick]}, before)
        assert said in made.says[2]


def test_not_rested_is_said_first_and_nothing_is_built_on_it() -> None:
    made = evaluate(pool_test("pull-kick"), {"pull": [108.0], "kick": [60.0]}, rested=False)
    assert made.says == (
        "Not rested: repeat it after an easy week before anything is built on it.",
        "Above 1.7: the arms are the weaker part. Work on the hold.",
    )
    assert made.weaker == ""
    # A count of strokes needs no rest.
    entries = {"strokes": [18, 18], "seconds": [22.0, 22.5]}
    assert len(evaluate(pool_test("stroke-count"), entries, rested=False).says) == 1


def test_fewest_strokes_at_one_pace() -> None:
    entries = {"strokes": [21, 18, 16, 15], "seconds": [22.0, 22.6, 22.9, 24.1]}
    assert evaluate(pool_test("stroke-count"), entries) == Outcome(
        16, "strokes", 0, None, None, "fewer",
        ("From 21 strokes in 22.0 s to 16 in 22.9 s.",
         "1 length is more than 1 s off the pace of the first; not counted."),
    )  # fmt: skip
    entries = {"strokes": [21, 22, 15, 15], "seconds": [22.0, 23.0, 24.1, 20.9]}
    assert evaluate(pool_test("stroke-count"), entries) == Outcome(
        21, "strokes", 0, None, None, "no fewer",
        ("No length at this pace took fewer than 21 strokes.",
         "2 lengths are more than 1 s off the pace of the first; not counted."),
    )  # fmt: skip


def test_strokes_are_compared_at_the_same_pace_alone() -> None:
    entries = {"strokes": [18, 17], "seconds": [22.0, 22.5]}
    at_pace = EarlierTest({"strokes": [21, 20], "seconds": [23.0, 23.1]})
    other = EarlierTest({"strokes": [15, 14], "seconds": [23.1, 23.2]})
    made = evaluate(pool_test("stroke-count"), entries, [at_pace, other])
    assert made.changed is not None
    assert (made.changed.before.value, made.changed.after.value) == (20, 17)
    assert made.changed.verdict == "better"
    alone = evaluate(pool_test("stroke-count"), entries, [other])
    assert alone.changed is None
    assert alone.says[-1] == "No earlier test was swum at this pace."
    # One stroke fewer is no change: a count is good to half a stroke.
    near = EarlierTest({"strokes": [18], "seconds": [22.0]})
    found = evaluate(pool_test("stroke-count"), entries, [near]).changed
    assert found is not None
    assert found.verdict == "same"


def days(*means: float, kicks: float | None = None) -> list[EarlierTest]:
    more = {} if kicks is None else {"kicks": [kicks]}
    return [EarlierTest({"strokes": [m, m], **more}) for m in means]


def fly(*strokes: float, before: list[EarlierTest], kicks: float | None = None) -> Outcome:
    entries: dict[str, list[float]] = {"strokes": list(strokes)}
    if kicks is not None:
        entries["kicks"] = [kicks]
    return evaluate(pool_test("fly-333-count"), entries, before)


def test_what_is_usual_takes_three_days() -> None:
    assert fly(10, 11, before=days(10)) == Outcome(
        10.5, "strokes", 1, None, None, "open",
        ("What is usual is known after 2 more days.",),
    )  # fmt: skip
    assert fly(10, before=days(10, 11, kicks=4), kicks=4).says == (
        "What is usual with 4 kicks off the wall is known after 1 more day.",
    )
    # Another number of kicks off the wall is another thing.
    assert fly(10, before=days(10, 11, 12, kicks=4), kicks=5).verdict == "open"


def test_more_than_usual_means_something_is_off() -> None:
    # The median of the last six days; the first, of 20, is too long ago.
    before = days(20, 10, 10, 11, 11, 12, 12)
    off = fly(12, before=before)
    assert off == Outcome(
        12, "strokes", 1, None, (10, 12.0), "off",
        ("1.0 more than the usual 11.0: something is off today. Ask how the swimmer feels before "
         "the hard part.",),
    )  # fmt: skip
    usual = fly(11, 12, before=before)
    assert usual == Outcome(
        11.5, "strokes", 1, None, (10, 12.0), "usual",
        ("As usual: 11.0 in the middle of 6 days.",),
    )  # fmt: skip


def test_fewer_than_ever_counts_all_days() -> None:
    assert fly(9, 10, before=days(10, 10, 11)).says == (
        "As usual: 10.0 in the middle of 3 days. Fewer than ever so far.",
    )
    assert fly(10, before=days(10, 10, 11, kicks=3), kicks=3).says == (
        "As usual with 3 kicks off the wall: 10.0 in the middle of 3 days.",
    )
    # Fewer than in the last six days, and not than ever.
    assert "ever" not in fly(9, 10, before=days(9, 11, 11, 11, 11, 11, 11)).says[0]


def kick(
    *seconds: float, send_off: float | None = None, before: tuple[EarlierTest, ...] = ()
) -> Outcome:
    entries = {"seconds": list(seconds), "send_off": [] if send_off is None else [send_off]}
    return evaluate(pool_test("kick-set"), entries, before)


def test_a_kick_set_that_fades() -> None:
    assert kick(100, 102, 106, send_off=125) == Outcome(
        pytest.approx(102.6667, abs=1e-4), "s", 1, pytest.approx(0.15 / math.sqrt(3)), None,
        "fades",
        ("The last 100 is 6.0 s (6.0 %) slower than the first: the kick fades.",
         "22 s of rest on average on a send-off of 125 s."),
        day_u=pytest.approx(0.012 * 102.6667, abs=1e-5),
    )  # fmt: skip


@pytest.mark.parametrize(
    ("seconds", "verdict", "says"),
    [
        # 3 % of the first, or twice the root of two hand times where that is more.
        ((100.0, 103.0), "even", "Even: the last 100 is 3.0 s off the first."),
        ((100.0, 103.1), "fades",
         "The last 100 is 3.1 s (3.1 %) slower than the first: the kick fades."),
        ((10.0, 10.4), "even", "Even: the last 100 is 0.4 s off the first."),
        ((10.0, 10.43), "fades",
         "The last 100 is 0.4 s (4.3 %) slower than the first: the kick fades."),
        ((100.0, 97.0), "even", "Even: the last 100 is 3.0 s off the first."),
        ((100.0, 96.0), "even",
         "The last 100 is 4.0 s faster than the first: there was more in it."),
    ],
)  # fmt: skip
def test_how_the_last_hundred_compares(seconds: tuple[float, ...], verdict: str, says: str) -> None:
    made = kick(*seconds)
    assert (made.verdict, made.says) == (verdict, (says,))


def test_what_is_not_inside_the_send_off_is_named() -> None:
    assert kick(100, 121, 99, 120.5, send_off=120).says[1] == (
        "Not inside the send-off: number 2, 4. Give more time."
    )
    assert kick(100, 120, send_off=120).says[1] == "10 s of rest on average on a send-off of 120 s."


def test_kick_sets_of_one_kind_are_compared() -> None:
    same = EarlierTest({"seconds": [110, 110], "send_off": [140]})
    other = EarlierTest({"seconds": [90, 90], "send_off": [130]})
    made = kick(100, 101, send_off=140, before=(same, other))
    assert made.changed is not None
    assert (made.changed.before.value, made.changed.verdict) == (110, "better")
    alone = kick(100, 101, send_off=140, before=(other,))
    assert alone.changed is None
    assert alone.says[-1] == "No earlier set had as many repeats and this send-off."
    assert kick(100, 101, 102, send_off=140, before=(same,)).changed is None
    # Within what watch and days allow nothing has changed.
    close = EarlierTest({"seconds": [102, 102], "send_off": [140]})
    found = kick(100, 101, send_off=140, before=(close,)).changed
    assert found is not None
    assert found.verdict == "same"


@pytest.mark.parametrize(
    ("test", "entries", "sentence"),
    [
        ("pull-kick", {"pull": [], "kick": [60]}, "{pull}: is missing."),
        ("pull-kick", {"pull": [96, 97], "kick": [60]}, "{pull}: one value is taken."),
        ("pull-kick", {"pull": [0.5], "kick": [60]}, "{pull}: 0.5 s lies outside 1 to 1800 s."),
        ("pull-kick", {"pull": [1801], "kick": [60]}, "{pull}: 1801 s lies outside 1 to 1800 s."),
        ("pull-kick", {"pull": [math.nan], "kick": [60]},
         "{pull}: nan s lies outside 1 to 1800 s."),
        ("stroke-count", {"strokes": [18.5, 18], "seconds": [22, 22]},
         "{strokes}: whole numbers from 1 to 200 are taken."),
        ("stroke-count", {"strokes": [201, 18], "seconds": [22, 22]},
         "{strokes}: whole numbers from 1 to 200 are taken."),
        ("stroke-count", {"strokes": [0, 18], "seconds": [22, 22]},
         "{strokes}: whole numbers from 1 to 200 are taken."),
        ("stroke-count", {"strokes": [18] * 21, "seconds": [22] * 21},
         "{strokes}: at most 20 values are taken."),
    ],
)  # fmt: skip
def test_what_cannot_be_is_said_exactly(
    test: str, entries: dict[str, list[float]], sentence: str
) -> None:
    labels = {e.id: e.label for e in pool_test(test).entries}
    with pytest.raises(PoolTestError) as refused:
        evaluate(pool_test(test), entries)
    assert refused.value.sentence == sentence.format(**labels)


def test_the_limits_themselves_are_taken() -> None:
    entries = {"strokes": [1, 200], "seconds": [1, 1800]}
    assert evaluate(pool_test("stroke-count"), entries).figure == 1
    twenty = {"strokes": [18] * 20, "seconds": [22.0] * 20}
    assert evaluate(pool_test("stroke-count"), twenty).figure == 18


def test_as_many_strokes_as_times() -> None:
    labels = [e.label.lower() for e in pool_test("stroke-count").entries if e.many]
    with pytest.raises(PoolTestError) as refused:
        evaluate(pool_test("stroke-count"), {"strokes": [18, 19, 20], "seconds": [22, 23]})
    assert refused.value.sentence == (
        f"There must be as many {' and '.join(labels)}: one pair for each length."
    )
