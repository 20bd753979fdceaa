"""Whether a value really changed: worked examples, a statistics library, and swims at random."""

from __future__ import annotations

import math
import random
from dataclasses import replace

import pytest
from scipy import stats

from norvik.catalogue import load
from norvik.core.followup.change import (
    FALSE_PAGES,
    ComparableValue,
    Comparison,
    _weights,
    compare,
    compare_value,
)
from norvik.core.followup.comparable import values_in_time
from norvik.core.judging.coaching_model import Band
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import DEFAULT_MARKER, Marker
from norvik.core.time.own_spread import of_values
from norvik.core.time.plus_minus import Own
from tests.simulated import Swimmer, crawl, marked

BAND = Band("b", "q", "own", good_from=90, good_to=130, fault_above=150)
SURE = Own(1.0, math.inf)


def known(
    value: float, own: Own | None = SURE, band: Band | None = BAND, what: str = "elbow-angle",
    side: str = "", hits: tuple[int, int] | None = None, singles: tuple[float, ...] = (),
    unit: str = "°",
) -> ComparableValue:  # fmt: skip
    return ComparableValue(what, side, "Elbow angle", unit, 0, value, own, hits, singles, band)


@pytest.mark.parametrize(
    ("before", "after", "verdict"),
    [
        # 1.96 times the root of 1 and 1 squared is 2.77.
        (160, 157.3, "same"), (160, 157.2, "better"), (160, 163, "worse"),
        # Both in the good range: it changed, and neither is better.
        (100, 110, "changed"), (160, 120, "better"), (120, 160, "worse"), (80, 92, "better"),
        # From one side of the range to the other, as far outside it.
        (80, 140, "changed"),
    ],
)  # fmt: skip
def test_verdicts(before: float, after: float, verdict: str) -> None:
    found = compare_value(known(before), known(after))
    assert found.verdict == verdict
    assert found.least == pytest.approx(1.96 * math.sqrt(2), abs=1e-3)
    assert found.difference == pytest.approx(after - before)
    # The other way round the verdict turns, too.
    turned = {"better": "worse", "worse": "better"}.get(verdict, verdict)
    assert compare_value(known(after), known(before)).verdict == turned


def test_it_is_welchs_test() -> None:
    """Against scipy's, at the edge of its level."""
    rng = random.Random(4)
    for _ in range(40):
        one = [rng.gauss(150, 6) for _ in range(rng.randint(4, 9))]
        other = [rng.gauss(144, 3) for _ in range(rng.randint(4, 9))]
        a, b = (known(sum(v) / len(v), of_values(v), singles=tuple(v)) for v in (one, other))
        found = compare_value(a, b)
        welch = stats.ttest_ind(one, other, equal_var=False)
        low, high = welch.confidence_interval(0.95)
        assert found.interval is not None
        assert found.interval == pytest.approx((-high, -low), abs=5e-3)
        assert (found.verdict != "same") == (welch.pvalue <= 0.05 and abs(found.difference) > 1)


def test_one_value_alone_tells_nothing() -> None:
    found = compare_value(known(160, None), known(100))
    assert (found.verdict, found.least, found.interval) == ("unknown", None, None)
    # Two values tell little: Student's factor is 12.7 there.
    two = of_values([150.0, 152.0])
    assert two is not None
    assert compare_value(known(151, two), known(140, SURE)).least == pytest.approx(18, abs=0.3)


def test_without_a_limit_it_only_changed() -> None:
    assert compare_value(known(160, band=None), known(100, band=None)).verdict == "changed"
    # Without a good range, the way back over the fault limit is what counts.
    no_good = Band("b", "q", "own", fault_above=150)
    assert compare_value(known(160, band=no_good), known(100, band=no_good)).verdict == "better"
    assert compare_value(known(120, band=no_good), known(100, band=no_good)).verdict == "changed"
    none = Band("b", "q", "own")
    assert compare_value(known(160, band=none), known(100, band=none)).verdict == "changed"


def test_what_no_digit_shows_is_no_change() -> None:
    tight = Own(0.01, math.inf)
    found = compare_value(known(100.2, tight), known(100.9, tight))
    assert (found.verdict, found.least) == ("same", 1.0)


def test_what_both_have_is_compared_side_by_side() -> None:
    before = [known(160, side="left"), known(160, side="right"), known(1, what="other")]
    after = [known(120, side="right"), known(159, side="left")]
    found = compare(before, after, {"elbow-angle"})
    assert [(c.after.side, c.verdict) for c in found] == [("right", "better"), ("left", "same")]


def test_better_is_a_word_for_what_was_worked_on() -> None:
    before, after = [known(160), known(160, what="other")], [known(120), known(120, what="other")]
    found = {c.after.what: c for c in compare(before, after, {"other"})}
    assert (found["other"].verdict, found["other"].worked_on) == ("better", True)
    assert (found["elbow-angle"].verdict, found["elbow-angle"].worked_on) == ("changed", False)
    assert next(iter(found)) == "other"


def test_many_looks_are_paid_for() -> None:
    """A difference that would count alone does not among twenty; what was worked on still does."""
    alone, far = known(154), known(158)
    assert compare_value(alone, far).verdict == "worse"
    others = [known(100, what=f"q{n}") for n in range(19)]
    page = compare([alone, *others], [far, *others])
    assert {c.after.what: c.verdict for c in page}["elbow-angle"] == "same"
    page = compare([alone, *others], [far, *others], {"elbow-angle"})
    assert page[0].verdict == "worse"
    # The smallest change that could have shown grows with the number of looks.
    many = next(c for c in compare([alone, *others], [far, *others]) if c.worked_on is False)
    one = compare_value(alone, far)
    assert many.least is not None
    assert one.least is not None
    assert many.least > one.least


def test_shares_of_counts_by_fisher() -> None:
    def share(hits: int, n: int) -> ComparableValue:
        return known(100 * hits / n, None, None, hits=(hits, n), unit="% of entries")

    lost = compare_value(share(9, 10), share(2, 10))
    assert lost.verdict == "changed"
    assert stats.fisher_exact([[9, 1], [2, 8]]).pvalue < 0.05
    few = compare_value(share(3, 4), share(1, 4))
    assert few.verdict == "same"
    # Nothing four of four could have shown: even none of four has p = 0.14.
    assert few.least is None
    # All of ten before: from 5 of 10 on it would have shown.
    assert compare_value(share(10, 10), share(9, 10)).least == pytest.approx(50)
    assert lost.interval is not None
    assert lost.interval[0] < -70 < lost.interval[1]


def test_effect_is_hedges() -> None:
    one, other = (150.0, 155.0, 160.0), (140.0, 150.0, 145.0)
    found = compare_value(
        known(155, of_values(one), singles=one), known(145, of_values(other), singles=other)
    )
    # d = -10 / 5 = -2, corrected by 1 - 3 / (4 * 4 - 1) = 0.8.
    assert found.effect == pytest.approx(-1.6)
    assert compare_value(known(155), known(145)).effect is None


def test_no_effect_where_one_clip_has_one_value_or_none_differ() -> None:
    three = (150.0, 155.0, 160.0)
    one = known(155, of_values(three), singles=three)
    for bare in ((), (145.0,)):
        other = known(145, singles=bare)
        assert compare_value(one, other).effect is None
        assert compare_value(other, one).effect is None
    alike = known(5, SURE, singles=(5.0, 5.0))
    assert compare_value(alike, known(6, SURE, singles=(6.0, 6.0))).effect is None


def test_the_interval_is_students() -> None:
    found = compare_value(known(160, Own(1.0, 4)), known(150, Own(0.0, 4)))
    half = stats.t.ppf(0.975, 4)
    assert found.least == pytest.approx(half, rel=1e-4)
    assert found.interval == pytest.approx((-10 - half, -10 + half), rel=1e-4)


def test_without_any_doubt_a_difference_is_a_change() -> None:
    still = Own(0.0, 5)
    assert compare_value(known(160, still), known(160, still)).verdict == "same"
    # A whole one, since the value is written without decimals.
    assert compare_value(known(160, still), known(159, still)).verdict == "better"
    assert compare_value(known(160, still), known(159.5, still)).verdict == "same"


def test_the_smallest_share_that_can_show() -> None:
    def share(hits: int, n: int, unit: str = "%") -> ComparableValue:
        return known(100 * hits / n, None, None, hits=(hits, n), unit=unit)

    # Of four nothing but all against none tells: p = 2 / 70.
    assert compare_value(share(0, 4), share(2, 4)).least == pytest.approx(100)
    assert compare_value(share(4, 4), share(2, 4)).least == pytest.approx(100)
    # As a share of 1, not of 100.
    found = compare_value(share(0, 4, ""), share(4, 4, ""))
    assert found.least == pytest.approx(1)
    assert found.verdict == "changed"
    assert found.interval is not None
    assert 0 < found.interval[0] < found.interval[1] <= 1


def test_a_limit_on_one_side_says_which_way_is_better() -> None:
    low = Band("b", "q", "own", fault_below=90)
    assert compare_value(known(60, band=low), known(80, band=low)).verdict == "better"
    assert compare_value(known(80, band=low), known(60, band=low)).verdict == "worse"
    # The good range counts before the fault limit where the band has both.
    both = Band("b", "q", "own", good_from=100, fault_below=90)
    assert compare_value(known(93, band=both), known(97, band=both)).verdict == "better"
    assert compare_value(known(103, band=both), known(110, band=both)).verdict == "changed"
    # Just beyond the range is off it, too: by less than one whole unit.
    edge = Band("b", "q", "own", good_from=100, good_to=110)
    assert compare_value(known(99.5, band=edge), known(105, band=edge)).verdict == "better"
    # The limits of the later clip's pace hold, for both values.
    assert compare_value(known(120, band=None), known(80, band=low)).verdict == "worse"


@pytest.mark.parametrize(
    ("whats", "worked", "parts"),
    [
        (["x", "rate", "entry-share", "y"], {"x"}, [0.4, 0.3, 0.15, 0.15]),
        (["fly-reach-share", "a", "t1", "b"], set[str](), [0.075, 0.075, 0.075, 0.075]),
        # What was worked on counts as that, even where it is the rate.
        (["rate", "x"], {"rate", "x"}, [0.2, 0.2]),
    ],
)
def test_what_is_asked_about_first_has_the_larger_part(
    whats: list[str], worked: set[str], parts: list[float]
) -> None:
    assert _weights(whats, worked) == pytest.approx(parts)


def test_how_long_the_hands_stay_in_front_has_a_part_of_its_own() -> None:
    """One such line and two of the rest: its part is not shared."""
    assert _weights(["entry-share", "a", "b"], set()) == pytest.approx([0.15, 0.075, 0.075])
    assert _weights(["entry-share", "t1", "b"], set()) == pytest.approx([0.075, 0.075, 0.15])


def test_what_is_not_seen_in_the_digits_is_no_change() -> None:
    """However surely it is known: a tenth, where tenths are written."""
    sure = Own(1e-6, math.inf)
    before, near, far = (replace(known(v, sure), digits=1) for v in (160.0, 159.91, 159.89))
    assert compare_value(before, near).verdict == "same"
    found = compare_value(before, far)
    assert found.verdict == "better"
    assert found.least == pytest.approx(0.1)


def test_each_line_has_the_level_of_its_part() -> None:
    """Nothing changed: three lines share 5 of 100 as 0.4, 0.3 and 0.15 of 0.85."""
    values = [known(100, what=w) for w in ("x", "rate", "entry-share")]
    found = {c.after.what: c.least for c in compare(values, values, {"x"})}
    for what, part in (("x", 0.4), ("rate", 0.3), ("entry-share", 0.15)):
        level = 0.05 * part / 0.85
        assert found[what] == pytest.approx(stats.norm.isf(level / 2) * math.sqrt(2), rel=1e-3)


def test_one_value_alone_takes_nothing_from_the_others() -> None:
    values = [known(100, what="x"), known(100, None, what="rate"), known(100, what="y")]
    found = {c.after.what: c for c in compare(values, values)}
    assert found["rate"].verdict == "unknown"
    level = 0.05 / 2
    assert found["y"].least == pytest.approx(stats.norm.isf(level / 2) * math.sqrt(2), rel=1e-3)
    assert found["x"].least == found["y"].least


def test_the_order_of_a_page() -> None:
    """What was worked on first; then by verdict."""
    before = [known(100, None, what="alone"), known(100, what="still"), known(100, what="moved"),
              known(160, what="w-worse"), known(160, what="w-better"),
              known(160, what="w-still")]  # fmt: skip
    after = [known(100, None, what="alone"), known(100, what="still"), known(140, what="moved"),
             known(190, what="w-worse"), known(140, what="w-better"),
             known(160, what="w-still")]  # fmt: skip
    found = compare(before, after, {"w-better", "w-worse", "w-still"})
    assert [(c.after.what, c.verdict) for c in found] == [
        ("w-better", "better"), ("w-worse", "worse"), ("w-still", "same"),
        ("moved", "changed"), ("still", "same"), ("alone", "unknown"),
    ]  # fmt: skip
    assert [c.worked_on for c in found] == [True] * 3 + [False] * 3


def page(one: Swimmer, other: Swimmer, rng: random.Random, focus: set[str]) -> list[Comparison]:
    tables = load("freestyle")
    # One person marks both clips, so that the habit is the same in both.
    steady = Marker({k: e.without_habit for k, e in DEFAULT_MARKER.errors.items()})
    clips = [
        values_in_time(
            compute_timing(
                marked(crawl(s, rng), steady, 60, rng), "freestyle", 1 / 60, 25.0, DEFAULT_MARKER
            ),
            tables, {},
        )
        for s in (one, other)
    ]  # fmt: skip
    return compare(clips[0], clips[1], focus)


def really(found: list[Comparison]) -> set[str]:
    return {c.after.what for c in found if c.verdict in ("better", "worse", "changed")}


@pytest.mark.simulation
@pytest.mark.parametrize(
    ("swimmer", "focus"),
    [
        (Swimmer(cycles=4), set[str]()),
        (Swimmer(walls=False), {"entry-share"}),
        # The other hand passes its shoulder about when a hand enters.
        (Swimmer(cycles=4, shares=(0.2, 0.1, 0.4)), {"head-lead"}),
    ],
)
def test_a_page_on_which_nothing_changed_seldom_shows_anything(
    swimmer: Swimmer, focus: set[str]
) -> None:
    """At most 5 of 100: of 60 pages, more than 6 would be a bad accident (2 of 100)."""
    rng = random.Random(21)
    shown = [really(page(swimmer, swimmer, rng, focus)) for _ in range(60)]
    assert FALSE_PAGES == 0.05
    assert sum(map(bool, shown)) <= 6, shown


@pytest.mark.simulation
def test_a_real_change_shows() -> None:
    rng = random.Random(8)
    usual = Swimmer()
    faster = [page(usual, Swimmer(cycle=usual.cycle / 1.03), rng, set()) for _ in range(20)]
    assert sum("rate" in really(p) for p in faster) >= 17
    longer = Swimmer(shares=(0.22, 0.14, 0.38))
    reach = [page(usual, longer, rng, {"entry-share"}) for _ in range(20)]
    assert sum("entry-share" in really(p) for p in reach) >= 13


@pytest.mark.parametrize(
    ("band", "before", "after"),
    [(Band("b", "q", "own", good_to=150), 150.4, 140.0),
     (Band("b", "q", "own", good_from=90), 89.7, 99.0)],
)  # fmt: skip
def test_a_band_with_one_end_says_better_however_little_it_was_passed(
    band: Band, before: float, after: float
) -> None:
    assert compare_value(known(before, band=band), known(after, band=band)).verdict == "better"
    assert compare_value(known(after, band=band), known(before, band=band)).verdict == "worse"


def test_counts_of_one_clip_alone_are_no_test() -> None:
    counted, measured = known(50, own=None, hits=(5, 10)), known(40, own=None)
    assert compare_value(counted, measured).verdict == "unknown"
    assert compare_value(measured, counted).verdict == "unknown"


def test_the_reach_in_front_has_its_part_of_the_chance() -> None:
    """Nothing differs: each is tested at its own part of all, which its smallest change shows."""
    parts = {"elbow-angle": 0.4, "rate": 0.3, "entry-share": 0.15, "hand-over": 0.075, "dpc": 0.075}
    values = [known(100, what=what) for what in parts]
    for one in compare(values, values, worked_on=("elbow-angle",)):
        level = FALSE_PAGES * parts[one.after.what]
        assert one.least == pytest.approx(stats.norm.ppf(1 - level / 2) * math.sqrt(2), abs=2e-3), (
            one.after.what
        )
