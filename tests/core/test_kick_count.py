"""The count of kicks: features by hand, and the discriminant against scipy's normal densities."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.stats import multivariate_normal

from norvik.core.reading.kick_count import BEATS, kick_features, learn, told_count

Series = NDArray[np.float64]
TIMES = np.arange(0, 12, 1 / 30)
NUMBERS = np.arange(-1, 10, dtype=float)
OPENINGS = 0.3 + 1.5 * NUMBERS


def feet(beats: int, size: float = 0.1) -> Series:
    """Height of both, one up when the other is down."""
    wave = size * np.cos(np.pi * beats * (TIMES - 0.3) / 1.5)
    return np.stack([wave, -wave], axis=1)


def features(heights: Series, crossed: NDArray[np.bool_] | None = None) -> Series:
    found = kick_features(
        {"ankle": heights}, np.zeros(len(TIMES), np.bool_) if crossed is None else crossed,
        ("ankle",), TIMES, NUMBERS, OPENINGS,
    )  # fmt: skip
    assert found is not None
    return found


@pytest.mark.parametrize("beats", BEATS)
def test_each_count_has_a_rhythm_of_its_own(beats: int) -> None:
    """Each foot kicks half as often as both; how far they are apart is a wave that is folded up.

    Of |cos| the second harmonic has 1/25 of the first one's power (its Fourier series, 4 / (π (4n²
    - 1))), so the share of the first is 1 / (1 + 1/25 + 9/1225 + ...) = 0.951.
    """
    found = 10 ** features(feet(beats)) - 0.003
    signed, apart = dict(zip((1, 2, 3), found[:3], strict=True)), dict(
        zip((2, 4, 6), found[3:], strict=True)
    )  # fmt: skip
    assert signed[beats // 2] == pytest.approx(1, abs=0.01)
    assert apart[beats] == pytest.approx(0.951, abs=0.03)
    assert sum(signed.values()) == pytest.approx(1, abs=0.01)


def test_feet_that_were_taken_for_each_other_are_put_back() -> None:
    heights, crossed = feet(4), np.zeros(len(TIMES), np.bool_)
    crossed[::3] = True
    mixed = heights.copy()
    mixed[crossed] = mixed[crossed][:, ::-1]
    assert features(mixed, crossed) == pytest.approx(features(heights), abs=1e-9)
    # Without knowing it the rhythm of the single foot is lost, that of their distance is not.
    lost = features(mixed)
    assert lost[1] < features(heights)[1] - 0.05
    assert lost[3:] == pytest.approx(features(heights)[3:], abs=1e-9)


def test_feet_that_are_hardly_seen_have_no_features() -> None:
    unseen = np.full((len(TIMES), 2), np.nan)
    seen = np.zeros(len(TIMES), np.bool_)
    for joints in (("ankle",), ("knee", "ankle")):
        heights = {"ankle": unseen, "knee": feet(2)}
        assert kick_features(heights, seen, joints, TIMES, NUMBERS, OPENINGS) is None


def test_a_count_is_as_likely_as_normal_densities_say() -> None:
    """Each count a normal density with the common covariance; scipy works them out."""
    rng = np.random.default_rng(4)
    spread = np.array([[1.0, 0.6, 0.0], [0.6, 2.0, -0.3], [0.0, -0.3, 0.5]])
    middles = {2: (0, 0, 0), 4: (2, 1, 0), 6: (0, 3, 1)}
    beats = [int(n) for n in rng.choice(BEATS, 300)]
    seen = np.array([rng.multivariate_normal(middles[n], spread) for n in beats])
    learnt = learn(seen, beats, ("ankle",), held=0.0)
    of = np.array(beats)
    centres = {n: seen[of == n].mean(axis=0) for n in BEATS}
    left = seen - np.array([centres[n] for n in beats])
    common = left.T @ left / len(left)
    for one in rng.normal(1, 2, (20, 3)):
        density = [multivariate_normal(centres[n], common).pdf(one) for n in BEATS]
        likely = learnt.likely(one)
        assert list(likely) == list(BEATS)
        assert list(likely.values()) == pytest.approx(np.array(density) / sum(density), rel=1e-6)


def test_few_films_do_not_say_too_much() -> None:
    """Held back, the same films are less sure of what lies between two counts."""
    rng = np.random.default_rng(9)
    beats = [2, 4, 6] * 5
    seen = rng.normal(0, 1, (15, 6)) + 0.7 * np.array(beats)[:, None]
    between = seen[np.array(beats) < 6].mean(axis=0) + 0.3
    free, held = (
        max(learn(seen, beats, ("ankle",), h).likely(between).values()) for h in (0.0, 3.0)
    )
    assert held < free


@pytest.mark.parametrize(
    ("likely", "stands_out", "told"),
    [
        ((0.1, 0.1, 0.8), None, (6, 0.8)),
        ((0.1, 0.1, 0.8), 2, (6, 0.8)),
        ((0.1, 0.2, 0.7), None, None),
        ((0.1, 0.2, 0.7), 6, (6, 0.75)),
        ((0.5, 0.1, 0.4), 6, (6, 0.75)),
        ((0.5, 0.1, 0.4), 4, None),
    ],
)
def test_a_count_is_told_where_one_way_is_sure_or_both_agree(
    likely: tuple[float, ...], stands_out: int | None, told: tuple[int, float] | None
) -> None:
    assert told_count(dict(zip(BEATS, likely, strict=True)), stands_out) == told
