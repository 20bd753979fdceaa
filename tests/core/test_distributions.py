"""Quantiles and tests against a statistics library and the papers that they come from."""

from __future__ import annotations

import math
import random

import pytest
from scipy import stats

from norvik.core.distributions import (
    f_above,
    fisher_two_sided,
    holm,
    incomplete_beta,
    shares_apart,
    t_factor,
    t_two_sided,
    wilson,
)


@pytest.mark.parametrize("dof", [0.7, 1, 1.5, 2, 3, 4.2, 9, 22, 120, 199, 201, 1000, 1e7])
@pytest.mark.parametrize("outside", [0.3, 0.06, 0.05, 0.01, 0.0004])
def test_students_t(dof: float, outside: float) -> None:
    t = t_factor(dof, outside)
    assert t == pytest.approx(float(stats.t.ppf(1 - outside / 2, dof)), rel=1e-6)
    assert t_two_sided(t, dof) == pytest.approx(outside, rel=1e-5)
    assert t_two_sided(-t, dof) == pytest.approx(outside, rel=1e-5)


def test_students_table() -> None:
    """The 95 % column of JCGM 100:2008, table G.2."""
    for dof, factor in ((1, 12.71), (2, 4.30), (3, 3.18), (5, 2.57), (10, 2.23), (50, 2.01)):
        assert t_factor(dof) == pytest.approx(factor, abs=0.005)
    assert t_two_sided(math.inf, 3) == 0


@pytest.mark.parametrize(("a", "b"), [(0.5, 0.5), (3, 0.5), (40, 2), (2, 90), (500, 0.5)])
def test_incomplete_beta(a: float, b: float) -> None:
    for x in (0, 1e-6, 0.2, 0.5, 0.93, 1 - 1e-9, 1):
        assert incomplete_beta(a, b, x) == pytest.approx(float(stats.beta.cdf(x, a, b)), abs=1e-10)


def test_f() -> None:
    for f, one, other in ((3.0, 5, 7), (0.2, 1, 1), (8.5, 30, 2)):
        assert f_above(f, one, other) == pytest.approx(float(stats.f.sf(f, one, other)), rel=1e-8)


def test_fishers_tea() -> None:
    """Three cups of four told right: 0.486 on both sides (Fisher 1935, one side 0.243)."""
    assert fisher_two_sided(3, 4, 1, 4) == pytest.approx(0.4857, abs=1e-4)
    rng = random.Random(2)
    for _ in range(60):
        n, m = rng.randint(1, 15), rng.randint(1, 15)
        a, b = rng.randint(0, n), rng.randint(0, m)
        found = stats.fisher_exact([[a, n - a], [b, m - b]]).pvalue
        assert fisher_two_sided(a, n, b, m) == pytest.approx(float(found), rel=1e-6)


def test_newcombes_worked_example() -> None:
    """56 of 70 against 48 of 80 (Newcombe 1998, table II, case a, method 10)."""
    low, high = shares_apart(48, 80, 56, 70)
    assert (low, high) == pytest.approx((0.0524, 0.3339), abs=1e-4)
    # And 81 of 263 (Newcombe 1998, Stat Med 17:857-872, table I, method 3).
    assert wilson(81, 263) == pytest.approx((0.2553, 0.3662), abs=1e-4)
    assert wilson(0, 20) == pytest.approx((0.0, 0.1611), abs=1e-4)


def test_holm() -> None:
    # Four probabilities, equal weights: 0.01 <= 0.05/4, 0.02 > 0.05/3, and nothing after it.
    p = [0.04, 0.01, 0.03, 0.02]
    levels = holm(p, [1.0] * 4)
    assert [a <= b for a, b in zip(p, levels, strict=True)] == [False, True, False, False]
    assert levels[1] == pytest.approx(0.0125)
    assert levels[3] == pytest.approx(0.05 / 3)
    # A line with nine tenths of the weight is tested almost alone.
    assert holm([0.044, 0.5], [0.9, 0.1])[0] == pytest.approx(0.045)
    # What it leaves goes to the other.
    assert holm([0.01, 0.04], [0.9, 0.1])[1] == pytest.approx(0.05)
    assert holm([], []) == []
