"""Cycles laid over each other."""

from __future__ import annotations

import numpy as np

from norvik.core.reading.folded import folded, shares_of


def test_the_middle_of_all_cycles_is_taken_at_each_share_and_one_wrong_one_left_out() -> None:
    times = np.arange(0, 10, 0.05)
    shares = shares_of(times, np.arange(11.0), np.arange(11.0))
    wave = np.cos(2 * np.pi * times)
    wave[40:60] = 50.0  # a whole cycle is seen wrongly
    found = folded(shares, np.stack([wave, np.full(200, np.nan)], axis=1), 20, 0.01)
    np.testing.assert_allclose(found[:, 0], np.cos(2 * np.pi * np.arange(20) / 20), atol=1e-9)
    assert np.isnan(found[:, 1]).all()


def test_outside_of_the_clock_there_is_no_share() -> None:
    found = shares_of(np.array([-1.0, 0.5, 3.0]), np.array([4.0, 5.0]), np.array([0.0, 2.0]))
    np.testing.assert_allclose(found, [np.nan, 4.25, np.nan])


def test_too_few_say_nothing() -> None:
    shares, values = np.array([0.0, 1.0, 1.5]), np.array([[1.0], [3.0], [7.0]])
    np.testing.assert_allclose(folded(shares, values, 2, 0.1)[:, 0], [2.0, np.nan])
    np.testing.assert_allclose(folded(shares, values, 2, 0.1, least=1)[:, 0], [2.0, 7.0])
