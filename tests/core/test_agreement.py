"""Agreement: the worked examples of the papers, and a statistics library."""

from __future__ import annotations

import random

import numpy as np
import pytest
from statsmodels.stats.inter_rater import cohens_kappa

from norvik.core.followup.agreement import icc_2_1, kappa, limits_of_agreement

#: Peak flow of 17 people by two meters, l/min (Bland and Altman 1986, table 1; recalled).
FLOW = [(494, 512), (395, 430), (516, 520), (434, 428), (476, 500), (557, 600), (413, 364),
        (442, 380), (650, 658), (433, 445), (417, 432), (656, 626), (267, 260), (478, 477),
        (178, 259), (423, 350), (427, 451)]  # fmt: skip
#: Six targets, four judges (Shrout and Fleiss 1979, table 2).
JUDGED = [[9, 2, 5, 8], [6, 1, 3, 2], [8, 4, 6, 8], [7, 1, 2, 6], [10, 5, 6, 9], [6, 2, 4, 7]]


def test_limits_of_peak_flow() -> None:
    found = limits_of_agreement([a - b for a, b in FLOW])
    assert found is not None
    # -2.1 and 38.8 in the paper, whose limits take 2 for 1.96: -79.7 and 75.5.
    assert found.bias == pytest.approx(-2.1, abs=0.05)
    assert found.sd == pytest.approx(38.8, abs=0.05)
    assert (found.low, found.high) == pytest.approx((-78.1, 73.9), abs=0.1)
    # Of the bias, with t of 16 degrees of freedom: -22.0 to 17.8 there.
    assert found.bias_interval == pytest.approx((-22.0, 17.8), abs=0.1)
    assert limits_of_agreement([1.0, 2.0]) is None


def test_the_interval_of_a_limit_holds() -> None:
    rng = random.Random(3)
    inside = 0
    for _ in range(400):
        found = limits_of_agreement([rng.gauss(1, 2) for _ in range(20)])
        assert found is not None
        low, high = found.high_interval
        inside += low <= 1 + 1.96 * 2 <= high
    assert 0.92 <= inside / 400 <= 0.98


def test_icc_of_six_targets() -> None:
    found = icc_2_1(JUDGED)
    assert found is not None
    assert found.value == pytest.approx(0.29, abs=0.005)
    # The interval as published for this table: 0.02 to 0.76.
    assert found.interval == pytest.approx((0.019, 0.761), abs=0.001)
    assert icc_2_1(JUDGED[:2]) is None
    assert icc_2_1([[1.0], [2.0], [3.0]]) is None
    same = icc_2_1([[1.0, 1.0], [2.0, 2.0], [5.0, 5.0]])
    assert same is not None
    assert (same.value, same.interval) == (pytest.approx(1), (1, 1))
    assert icc_2_1([[2.0, 2.0]] * 4) is None


def test_mean_squares_are_those_of_an_analysis_of_variance() -> None:
    """ICC(2,1) worked out anew with NumPy on random tables."""
    rng = np.random.default_rng(5)
    for _ in range(20):
        n, k = int(rng.integers(4, 12)), int(rng.integers(2, 5))
        x = rng.normal(0, 2, (n, 1)) + rng.normal(0, 0.5, (1, k)) + rng.normal(0, 1, (n, k))
        mean = x.mean()
        bms = k * ((x.mean(1) - mean) ** 2).sum() / (n - 1)
        jms = n * ((x.mean(0) - mean) ** 2).sum() / (k - 1)
        left = x - x.mean(1, keepdims=True) - x.mean(0, keepdims=True) + mean
        ems = (left**2).sum() / ((n - 1) * (k - 1))
        expected = (bms - ems) / (bms + (k - 1) * ems + k * (jms - ems) / n)
        found = icc_2_1(x.tolist())
        assert found is not None
        assert found.value == pytest.approx(expected)
        assert found.interval[0] <= found.value <= found.interval[1]


def test_kappa_against_statsmodels() -> None:
    rng = random.Random(9)
    for words in (("seen", "not seen"), ("none", "slight", "clear")):
        for _ in range(20):
            pairs = []
            for _ in range(rng.randint(20, 80)):
                first = rng.choice(words)
                pairs.append((first, first if rng.random() < 0.6 else rng.choice(words)))
            table = [[sum(p == (a, b) for p in pairs) for b in sorted(words)]
                     for a in sorted(words)]  # fmt: skip
            theirs = cohens_kappa(np.array(table))
            found = kappa(pairs)
            assert found is not None
            assert found.value == pytest.approx(float(theirs.kappa))
            assert found.interval is not None
            assert found.interval[1] == pytest.approx(min(1.0, float(theirs.kappa_upp)), abs=1e-6)


def test_kappa_without_chance() -> None:
    found = kappa([("seen", "seen")] * 5)
    assert found is not None
    assert (found.agreed, found.value, found.interval) == (1.0, None, None)
    assert kappa([]) is None
