"""How far beyond a limit a value has to lie: a swimmer who is at it is seldom called beyond it."""

from __future__ import annotations

import math
import random
from collections import Counter
from dataclasses import replace

import pytest

from norvik.catalogue import load
from norvik.core.distributions import t_factor
from norvik.core.frame.measures import MEASURES
from norvik.core.frame.movement import FOLLOWED
from norvik.core.judging import margin
from norvik.core.judging.coaching_model import Band
from norvik.core.judging.findings import judge
from norvik.core.judging.margin import ENOUGH_DOF, WRONG_AT_LIMIT, margin_of
from norvik.core.judging.verdicts import verdict_of
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import DEFAULT_MARKER, GRID_ALONE, Marker
from norvik.core.time.own_spread import of_values
from norvik.core.time.plus_minus import Certainty, Own
from norvik.core.time.quantities import QUANTITIES, Occurrence, Reading
from tests.simulated import Swimmer, crawl, marked

FREE = load("freestyle").for_level("improver")


def reading(certainty: Certainty | None, n: int = 1, u: float | None = 0.1) -> Reading:
    found = tuple(Occurrence(float(k), 1.0) for k in range(n))
    return Reading(1.0, u, found, certainty)


def test_what_is_usual_is_known_for_everything_that_is_judged() -> None:
    units = {QUANTITIES[b.quantity].unit for s in ("freestyle", "backstroke", "breaststroke",
             "butterfly") for b in load(s).bands}  # fmt: skip
    units |= {m.unit for m in MEASURES.values()} | {m.unit for m in FOLLOWED.values()}
    known = {*margin._USUAL_BY_UNIT, "px", "% of their width", "% of entries"}
    assert units <= known, units - known


def test_one_value_counts_by_what_is_usual() -> None:
    found = margin_of("made-up", "°", reading(Certainty(0.5)))
    assert found == pytest.approx(t_factor(ENOUGH_DOF, 2 * WRONG_AT_LIMIT) * 4.0)
    # Several that each stand for a cycle are that much surer.
    four = margin_of("made-up", "°", reading(Certainty(0.5), n=4))
    assert four == pytest.approx(found / 2)


def test_many_values_count_by_themselves() -> None:
    own = Own(1.5, 9)
    found = margin_of("made-up", "°", reading(Certainty(0.5, own=own), n=10))
    assert found == pytest.approx(t_factor(9, 2 * WRONG_AT_LIMIT) * 1.5)
    # Cycles that happen to be alike do not make marking better than it is.
    alike = margin_of("made-up", "°", reading(Certainty(0.5, own=Own(0.0, 9)), n=10))
    assert alike == pytest.approx(t_factor(math.inf, 2 * WRONG_AT_LIMIT) * 0.5)


def test_two_values_are_pooled_with_what_is_usual() -> None:
    own = of_values([10.0, 12.0])
    assert own is not None
    pooled = math.sqrt((4 * 4.0**2 / 2 + own.u**2) / 5)
    found = margin_of("made-up", "°", reading(Certainty(0.1, own=own), n=2))
    assert found == pytest.approx(t_factor(5, 2 * WRONG_AT_LIMIT) * pooled)


def test_habit_and_factor_come_on_top() -> None:
    bare = margin_of("made-up", "made-up", reading(Certainty(0.3)))
    assert bare == pytest.approx(t_factor(math.inf, 2 * WRONG_AT_LIMIT) * 0.3)
    more = margin_of("made-up", "made-up", reading(Certainty(0.3, habit=0.4)))
    assert more == pytest.approx(bare / 0.3 * 0.5)


def test_what_is_not_known_by_its_unit_counts_by_its_own_cycles() -> None:
    own = margin_of("made-up", "made-up", reading(Certainty(0.3, own=Own(1.5, 4)), n=5))
    assert own == pytest.approx(t_factor(4, 2 * WRONG_AT_LIMIT) * 1.5)
    # No better than it was marked, and that is known well.
    same = margin_of("made-up", "made-up", reading(Certainty(1.5, own=Own(1.5, 4)), n=5))
    assert same == pytest.approx(t_factor(math.inf, 2 * WRONG_AT_LIMIT) * 1.5)
    scaled = margin_of("made-up", "made-up", reading(Certainty(0.3, scale=0.4)))
    assert scaled == pytest.approx(t_factor(math.inf, 2 * WRONG_AT_LIMIT) * 0.5)
    assert margin_of("made-up", "made-up", reading(Certainty(0.0))) == 0


def test_a_quantity_unlike_others_of_its_unit_has_its_own_usual_spread() -> None:
    found = margin_of("body-line", "°", reading(Certainty(0.5)))
    assert found == pytest.approx(t_factor(ENOUGH_DOF, 2 * WRONG_AT_LIMIT) * 1.0)


def test_cycles_of_a_rhythm_count_as_often_as_they_are_there() -> None:
    """Two arms give eight values of one rhythm: four degrees of freedom, and eight values."""
    own = Own(1.0, 4)
    found = margin_of("made-up", "°", reading(Certainty(0.1, own=own), n=8))
    pooled = math.sqrt((1 * 4.0**2 / 8 + 4 * 1.0**2) / 5)
    assert found == pytest.approx(t_factor(5, 2 * WRONG_AT_LIMIT) * pooled)
    # With fewer values in the list than the spread rests on, the latter holds.
    found = margin_of("made-up", "°", reading(Certainty(0.1, own=own), n=1))
    pooled = math.sqrt((1 * 4.0**2 / 5 + 4 * 1.0**2) / 5)
    assert found == pytest.approx(t_factor(5, 2 * WRONG_AT_LIMIT) * pooled)


def test_habit_lowers_how_much_the_few_cycles_count() -> None:
    """Welch and Satterthwaite: the habit is known, so that the whole has more than four."""
    certainty = Certainty(0.3, habit=1.5, own=Own(1.5, 4))
    found = margin_of("made-up", "made-up", reading(certainty, n=5))
    whole = math.hypot(1.5, 1.5)
    assert found == pytest.approx(t_factor(16, 2 * WRONG_AT_LIMIT) * whole)


def test_without_a_certainty_the_uncertainty_alone_counts() -> None:
    found = margin_of("made-up", "%", reading(None, u=0.2))
    assert found == pytest.approx(t_factor(math.inf, 2 * WRONG_AT_LIMIT) * 0.2)


def test_nothing_known_and_counts_have_none() -> None:
    assert margin_of("made-up", "s", reading(None, u=None)) == 0
    share = replace(reading(None), hits=(3, 4))
    assert margin_of("made-up", "%", share) == 0
    assert margin_of("made-up", "%", reading(None)) > 0


def test_surely_inside_good_is_never_watched() -> None:
    band = Band("b", "q", "own", good_from=10, good_to=20, fault_below=8, fault_above=22)
    for value in (10, 12, 15, 20):
        for width in (0, 0.5, 2, 5, 50):
            assert verdict_of(band, value, width)[0] == "good", (value, width)
    # Outside good the limit may be within the margin: then nobody can tell.
    assert verdict_of(band, 21, 3)[0] == "unsure"
    assert verdict_of(band, 21, 0.5)[0] == "watch"


@pytest.mark.simulation
@pytest.mark.parametrize("marker", [GRID_ALONE, DEFAULT_MARKER], ids=["frames", "default"])
@pytest.mark.parametrize(
    ("band", "swimmer"),
    [
        ("exhale-share", Swimmer(exhale=0.30, walls=False)),
        ("breath-return", Swimmer(back_before=0.0)),
        ("head-lead", Swimmer(head_lead=0.25)),
        ("hand-rhythm", Swimmer(lag=0.53)),
        ("reach-share", Swimmer(shares=(0.07, 0.2, 0.45))),
    ],
    ids=lambda x: x if isinstance(x, str) else "",
)
def test_a_swimmer_at_a_limit_is_seldom_called_faulty(
    band: str, swimmer: Swimmer, marker: Marker
) -> None:
    """At most 5 of 100; 70 clips tell it to about 3 points."""
    rng = random.Random(band)
    limits = FREE.band(band, {}, swimmer.cycle)
    said: Counter[str] = Counter()
    for _ in range(70):
        swim = marked(crawl(swimmer, rng), marker, 60, rng)
        judged = judge(limits, compute_timing(swim, "freestyle", 1 / 60, 25.0, marker))
        if judged is not None:
            said[judged.verdict] += 1
    assert sum(said.values()) >= 60
    assert said["fault"] <= 7, said
