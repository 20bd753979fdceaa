"""The time of a cycle from movement alone: known signals, and SciPy's periodogram beside it."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.signal import lombscargle

from norvik.core.reading.cycle import CycleTime, cycle_time, swap_proof

APART = 1 / 30
Series = NDArray[np.float64]


def arms(seconds: float, cycle_s: float, lag: float, seed: int, swapped: float = 0.0,
         noise: float = 0.15) -> tuple[Series, Series]:  # fmt: skip
    """Two arms that reach and pull unevenly; some frames have them the wrong way round."""
    rng = np.random.default_rng(seed)
    t = np.arange(0, seconds, APART)

    def one(shift: float) -> Series:
        phase = 2 * np.pi * (t / cycle_s + shift)
        return np.cos(phase) + 0.35 * np.cos(2 * phase + 0.8) + noise * rng.standard_normal(t.size)

    left, right = one(0.0), one(lag)
    wrong = rng.random(t.size) < swapped
    return np.where(wrong, right, left), np.where(wrong, left, right)


def found(left: Series, right: Series, stroke: str) -> CycleTime | str:
    steady, turning = swap_proof(left, right)
    return cycle_time(steady, turning[:, None], APART, stroke)


@pytest.mark.parametrize("cycle_s", [1.05, 1.4, 1.9, 2.6])
@pytest.mark.parametrize("swapped", [0.0, 0.25])
@pytest.mark.parametrize("stroke", ["freestyle", "backstroke"])
def test_alternating_arms_tell_their_whole_cycle(
    cycle_s: float, swapped: float, stroke: str
) -> None:
    one = found(*arms(10.0, cycle_s, 0.5, 3, swapped), stroke)
    assert isinstance(one, CycleTime), one
    assert one.seconds == pytest.approx(cycle_s, rel=0.01)
    assert one.cycles == pytest.approx(10 / cycle_s, rel=0.02)


@pytest.mark.parametrize("cycle_s", [0.95, 1.3, 1.8])
@pytest.mark.parametrize("stroke", ["butterfly", "breaststroke"])
def test_arms_together_tell_their_cycle(cycle_s: float, stroke: str) -> None:
    one = found(*arms(9.0, cycle_s, 0.0, 5), stroke)
    assert isinstance(one, CycleTime), one
    assert one.seconds == pytest.approx(cycle_s, rel=0.01)


def test_a_breath_every_second_cycle_is_no_cycle_of_its_own() -> None:
    left, right = arms(9.0, 1.3, 0.0, 7)
    t = np.arange(left.size) * APART
    breath = 0.25 * (np.cos(2 * np.pi * t / 2.6) > 0)
    one = found(left + breath, right + breath, "butterfly")
    assert isinstance(one, CycleTime), one
    assert one.seconds == pytest.approx(1.3, rel=0.01)


def test_gaps_are_bridged() -> None:
    left, right = arms(12.0, 1.6, 0.5, 11, 0.1)
    for start in (40, 130, 250):
        left[start : start + 25] = right[start : start + 25] = np.nan
    one = found(left, right, "freestyle")
    assert isinstance(one, CycleTime), one
    assert one.seconds == pytest.approx(1.6, rel=0.01)


def test_as_a_periodogram_has_it() -> None:
    """Lomb and Scargle's strongest period of the arms' difference, by SciPy."""
    left, right = arms(14.0, 1.72, 0.5, 13)
    t = np.arange(left.size) * APART
    periods = np.arange(1.0, 3.0, 0.002)
    power = lombscargle(t, (left - right) - np.mean(left - right), 2 * np.pi / periods)
    one = found(left, right, "freestyle")
    assert isinstance(one, CycleTime), one
    assert one.seconds == pytest.approx(float(periods[np.argmax(power)]), rel=0.01)


def test_its_plus_minus_holds() -> None:
    held = 0
    for seed in range(40):
        one = found(*arms(8.0, 1.5, 0.5, seed, 0.1, 0.3), "freestyle")
        assert isinstance(one, CycleTime), one
        held += abs(one.seconds - 1.5) <= one.u95
    assert held >= 36


def test_what_is_no_swim_is_not_timed() -> None:
    rng = np.random.default_rng(2)
    noise = rng.standard_normal((300, 2))
    assert found(noise[:, 0], noise[:, 1], "freestyle") == "no regular stroke can be seen"
    still = np.zeros(300)
    assert found(still, still, "butterfly") == "no regular stroke can be seen"
    assert found(*arms(1.2, 1.0, 0.5, 1), "freestyle") == "the film is too short"
    nothing = np.full(300, np.nan)
    assert found(nothing, nothing, "backstroke") == "no regular stroke can be seen"
