"""The way through a cycle: the likeliest one, and through what is seen wrongly."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.core.reading.events import clock_of, events_of, mean_cycle
from norvik.core.reading.phase import PhasePath, Template, likeliest, misfit, phase_path

Series = NDArray[np.float64]

APART = 1 / 30
STEPS = 90


def template() -> Template:
    """A limb that goes round: the outer joint on a circle, the inner one on half of it."""
    phase = 2 * np.pi * np.arange(STEPS) / STEPS
    ring = np.stack([np.cos(phase), np.sin(phase), 0.5 * np.cos(phase), 0.5 * np.sin(phase)], 1)
    return Template(ring, 0.8 * ring, np.full((STEPS, 4), 0.15), {"open": 0.0, "half": 0.5})


def swum(cycle_s: float, lag: float | None, seconds: float = 10.0) -> tuple[Series, Series]:
    """Instants, and both limbs; the near one opens at 0.2 s."""
    times = np.arange(0, seconds, APART)
    usual = template()

    def at(phase: Series, of: Series) -> Series:
        wide = np.concatenate([of, of[:1]])
        where = (phase % 1) * STEPS
        return np.stack([np.interp(where, np.arange(STEPS + 1), c) for c in wide.T], axis=1)

    phase = (times - 0.2) / cycle_s
    far = phase if lag is None else phase - lag
    return times, np.stack([at(phase, usual.near), at(far, usual.far)], axis=1)


def openings(times: Series, path: PhasePath) -> Series:
    numbers, opened = clock_of(times, path.phase)
    assert len(numbers) >= 4
    return opened[1:-1]


# ---- the search itself ----


def test_the_likeliest_way_is_the_best_of_all_ways() -> None:
    """Against trying every way of a small case."""
    rng = np.random.default_rng(3)
    emitted = rng.random((1, 5, 4))
    ways, totals = likeliest(emitted, 1.0)
    moves = range(int(np.ceil(2.6)) + 1)
    price = [0.7 * ((m - 1.0) / 0.45) ** 2 for m in moves]
    best = min(
        emitted[0, 0, first]
        + sum(price[m] for m in taken)
        + sum(
            emitted[0, n + 1, (first + sum(taken[: n + 1])) % 4] for n in range(4)
        )
        for first in range(4)
        for taken in itertools.product(moves, repeat=4)
    )  # fmt: skip
    assert totals[0] == pytest.approx(best)
    steps = np.diff(ways[0])
    assert (steps >= 0).all()
    cost = emitted[0, np.arange(5), ways[0] % 4].sum() + sum(price[m] for m in steps)
    assert cost == pytest.approx(best)


def test_what_is_not_seen_says_nothing_and_what_is_far_off_says_little() -> None:
    usual = template()
    limb = np.array([[np.nan] * 4, [50.0, 50.0, 50.0, 50.0], list(usual.near[7])])
    found = misfit(limb, usual.near, usual.spread)
    assert np.ptp(found[0]) == 0
    assert np.ptp(found[1]) == 0
    assert found[1, 0] == 12.0
    assert int(np.argmin(found[2])) == 7


# ---- the way ----


@pytest.mark.parametrize("cycle_s", [1.1, 1.7, 2.6])
def test_openings_lie_where_they_were_swum(cycle_s: float) -> None:
    times, limbs = swum(cycle_s, 0.5)
    path = phase_path(limbs, template(), cycle_s, APART, alternating=True)
    true = 0.2 + cycle_s * np.arange(len(openings(times, path)))
    np.testing.assert_allclose(openings(times, path), true, atol=0.04)


@pytest.mark.parametrize("lag", [0.40, 0.50, 0.60])
def test_the_far_arm_is_as_far_behind_as_it_was(lag: float) -> None:
    _, limbs = swum(1.7, lag)
    path = phase_path(limbs, template(), 1.7, APART, alternating=True)
    assert path.lag == pytest.approx(lag, abs=0.021)


def test_arms_taken_for_each_other_and_outliers_lead_nowhere_else() -> None:
    rng = np.random.default_rng(5)
    times, limbs = swum(1.7, 0.5)
    swapped = rng.random(len(times)) < 0.5
    limbs[swapped] = limbs[swapped][:, ::-1]
    wrong = rng.random((len(times), 2)) < 0.25
    limbs[wrong] = rng.uniform(-1.5, 1.5, (int(wrong.sum()), 4))
    limbs[100:112] = np.nan
    path = phase_path(limbs, template(), 1.72, APART, alternating=True)
    opened = openings(times, path)
    np.testing.assert_allclose(opened, 0.2 + 1.7 * np.arange(len(opened)), atol=0.06)


def test_both_together_have_no_lag() -> None:
    times, limbs = swum(1.3, None)
    path = phase_path(limbs, template(), 1.3, APART, alternating=False)
    assert path.lag == 0.0
    np.testing.assert_allclose(openings(times, path)[:3], [0.2, 1.5, 2.8], atol=0.04)


# ---- events on the way ----


def test_events_come_from_the_mean_of_all_cycles() -> None:
    """Of a swimmer who is in the second half of the cycle early: the template is bent for it."""
    times, _ = swum(1.7, 0.5)
    usual = template()
    share = ((times - 0.2) / 1.7) % 1
    # Half of the way is done after 0.42 of the time.
    bent = np.interp(share, [0, 0.42, 1], [0, 0.5, 1])
    limb = np.stack(
        [np.interp(bent * STEPS, np.arange(STEPS), c, period=STEPS) for c in usual.near.T], axis=1
    )
    limb = limb + np.random.default_rng(1).normal(0, 0.12, limb.shape)
    path = phase_path(np.stack([limb, limb], axis=1), usual, 1.7, APART, alternating=False)
    numbers, opened = clock_of(times, path.phase)
    mean = mean_cycle(times, path.near, numbers, opened, usual.near, usual)
    found = events_of(mean, numbers, opened, usual.events, 0.0, 10.0)
    half = np.array([f.time_s for f in found if f.event == "half"])
    opens = np.array([f.time_s for f in found if f.event == "open"])
    true = 0.2 + 1.7 * (np.arange(-1, 7) + 0.42)
    assert np.abs(half[:, None] - true).min(axis=1).max() < 0.05
    assert np.abs(opens[:, None] - (0.2 + 1.7 * np.arange(7))).min(axis=1).max() < 0.05
    assert all(0 <= f.time_s <= 10 for f in found)


def test_a_film_of_less_than_two_cycles_has_no_clock() -> None:
    times = np.arange(0, 1.5, APART)
    numbers, opened = clock_of(times, times / 1.7)
    assert len(numbers) == len(opened) == 0
