"""Black and white points for murky water, beside ones that are worked out pixel by pixel."""

from __future__ import annotations

import math

import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.core.frame.levels import Levels


def _picture(blue: list[int], green: list[int], red: list[int]) -> NDArray[np.uint8]:
    """One row of pixels, blue-green-red as films are read."""
    return np.array([[blue, green, red]], np.uint8).transpose(0, 2, 1)


def _percentile(values: list[float], pct: float) -> float:
    """Between the two values on either side of the place (Hyndman and Fan 1996, type 7)."""
    ordered = sorted(values)
    place = (len(ordered) - 1) * pct / 100
    below = math.floor(place)
    above = min(below + 1, len(ordered) - 1)
    return ordered[below] + (place - below) * (ordered[above] - ordered[below])


def test_each_colour_is_stretched_between_its_own_ends() -> None:
    rng = np.random.default_rng(4)
    first = rng.integers([20, 60, 5], [180, 230, 130], (9, 14, 3)).astype(np.uint8)
    second = rng.integers([30, 70, 10], [190, 240, 120], (9, 14, 3)).astype(np.uint8)
    found = Levels.of([first, second])
    for n, colour in enumerate((found.blue, found.green, found.red)):
        values = [v / 255 for p in (first, second) for v in p[:, :, n].ravel().tolist()]
        assert colour == pytest.approx(
            (_percentile(values, 1), _percentile(values, 99)), abs=0.00006
        )


def test_a_colour_with_little_in_it_is_stretched_by_three_and_a_half_at_most() -> None:
    """About its middle, and inside of what a picture can hold."""
    found = Levels.of([_picture([120] * 9 + [130], [2] * 10, [250] * 10)])
    for black, white in (found.blue, found.green, found.red):
        assert white - black == pytest.approx(1 / 3.5, abs=0.0002)
    low, high = (_percentile([120 / 255] * 9 + [130 / 255], p) for p in (1, 99))
    assert sum(found.blue) / 2 == pytest.approx((low + high) / 2, abs=0.0001)
    assert found.green == (0.0, round(1 / 3.5, 4))
    assert found.red == (round(1 - 1 / 3.5, 4), 1.0)


def test_a_colour_as_wide_as_the_limit_is_left_alone() -> None:
    wide = [51] * 50 + [153] * 50
    found = Levels.of([_picture(wide, wide, wide)])
    assert found == Levels((0.2, 0.6), (0.2, 0.6), (0.2, 0.6))


def test_lines_show_black_as_0_and_white_as_1() -> None:
    levels = Levels((0.1, 0.5), (0.25, 0.75), (0.0, 1.0))
    assert levels.lines() == [(2.5, -0.25), (2.0, -0.5), (1.0, 0.0)]
    for (slope, intercept), (black, white) in zip(
        levels.lines(), (levels.red, levels.green, levels.blue), strict=True
    ):
        assert slope * black + intercept == pytest.approx(0)
        assert slope * white + intercept == pytest.approx(1)
    third = Levels((0.1, 0.4), (0.1, 0.4), (0.1, 0.4)).lines()[0]
    assert third == (3.3333, -0.3333)


def test_kept_as_lists_and_back() -> None:
    levels = Levels((0.1, 0.5), (0.25, 0.75), (0.05, 0.95))
    assert levels.as_list() == [[0.1, 0.5], [0.25, 0.75], [0.05, 0.95]]
    assert Levels.from_list(levels.as_list()) == levels
    assert Levels.from_list([[0, 1], [0, 1], [0, 1]]) == Levels((0.0, 1.0), (0.0, 1.0), (0.0, 1.0))
