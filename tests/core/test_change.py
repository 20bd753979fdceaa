"""Whether a value really changed, against simulation and worked examples."""

from __future__ import annotations

import math
import random

import pytest

from norvik.core.followup.change import ComparableValue, compare, compare_value
from norvik.core.judging.coaching_model import Band

BAND = Band("b", "q", "own", good_from=90, good_to=130, fault_above=150)


def known(
    value: float, u: float | None = 1.0, singles: tuple[float, ...] = (), band: Band | None = BAND,
    what: str = "elbow-angle", side: str = "",
) -> ComparableValue:  # fmt: skip
    return ComparableValue(what, side, "Elbow angle", "°", 0, value, u, singles, band)


@pytest.mark.parametrize(
    ("before", "after", "verdict"),
    [
        # Twice the root of 1 and 1 squared is 2.83.
        (160, 157.3, "same"), (160, 157.1, "better"), (160, 163, "worse"),
        # Both in the good range: it changed, and neither is better.
        (100, 110, "changed"), (160, 120, "better"), (120, 160, "worse"), (80, 92, "better"),
        # From one side of the range to the other, as far outside it.
        (80, 140, "changed"),
    ],
)  # fmt: skip
def test_verdicts(before: float, after: float, verdict: str) -> None:
    found = compare_value(known(before), known(after))
    assert found.verdict == verdict
    assert found.least == pytest.approx(2 * math.sqrt(2))
    assert found.difference == pytest.approx(after - before)
    # The other way round the verdict turns, too.
    turned = {"better": "worse", "worse": "better"}.get(verdict, verdict)
    assert compare_value(known(after), known(before)).verdict == turned


def test_the_swimmers_own_spread_counts() -> None:
    """Five cycles from 150 to 170 have a standard error of 3.54: 5 degrees less are nothing."""
    wide = (150.0, 155.0, 160.0, 165.0, 170.0)
    assert known(160, 1.0, wide).own_u == pytest.approx(math.sqrt(62.5 / 5))
    assert compare_value(known(160, 1.0, wide), known(155, 1.0)).verdict == "same"
    assert compare_value(known(160, 1.0), known(155, 1.0)).verdict == "better"
    # A small spread does not make measuring better than it is.
    assert known(160, 1.0, (160.0, 160.0, 160.0)).own_u == 1.0


def test_without_any_uncertainty_nothing_is_said_to_be_real() -> None:
    found = compare_value(known(160, None), known(100, 1.0))
    assert (found.verdict, found.least) == ("same", None)
    assert compare_value(known(160, 1, band=None), known(100, 1, band=None)).verdict == "changed"
    # Without a good range, the way back over the fault limit is what counts.
    no_good = Band("b", "q", "own", fault_above=150)
    assert (
        compare_value(known(160, 1, band=no_good), known(100, 1, band=no_good)).verdict == "better"
    )
    assert (
        compare_value(known(120, 1, band=no_good), known(100, 1, band=no_good)).verdict == "changed"
    )
    none = Band("b", "q", "own")
    assert compare_value(known(160, 1, band=none), known(100, 1, band=none)).verdict == "changed"


def test_what_no_digit_shows_is_no_change() -> None:
    found = compare_value(known(100.2, 0.01), known(100.9, 0.01))
    assert (found.verdict, found.least) == ("same", 1.0)


def test_what_both_have_is_compared_side_by_side() -> None:
    before = [known(160, side="left"), known(160, side="right"), known(1, what="other")]
    after = [known(120, side="right"), known(159, side="left")]
    found = compare(before, after)
    assert [(c.after.side, c.verdict) for c in found] == [("right", "better"), ("left", "same")]


def test_a_swimmer_who_did_not_change_is_seldom_said_to_have() -> None:
    """About 5 of 100 with many cycles, as twice the standard uncertainty promises; more with few,

    whose spread is little known.
    """
    rng = random.Random(11)

    def clip(n: int) -> ComparableValue:
        singles = tuple(rng.gauss(150, 6) for _ in range(n))
        return known(sum(singles) / n, 0.1, singles)

    for n, most in ((20, 0.075), (6, 0.12)):
        wrong = sum(compare_value(clip(n), clip(n)).verdict != "same" for _ in range(3000)) / 3000
        assert 0.02 < wrong < most
