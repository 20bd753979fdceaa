"""Two microphones that hear the same splashes: found again, and never invented."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.signal import butter, sosfilt

from norvik.core.time.sound_offset import STEPS_PER_S, onsets, sound_offset

RATE = 8000


def swum(
    at_s: tuple[float, ...], long_s: float, seed: int, noise: float = 0.01
) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    """Splashes at those times over the noise of a hall."""
    chance = np.random.default_rng(seed)
    made = noise * chance.standard_normal(round(long_s * RATE))
    for n, t in enumerate(at_s):
        begin, long = round(t * RATE), round(0.25 * RATE)
        splash = np.exp(-np.arange(long) / (0.06 * RATE)) * chance.standard_normal(long)
        end = min(len(made), begin + long)
        made[begin:end] += (0.5 + 0.2 * (n % 3)) * splash[: end - begin]
    return made


SPLASHES = (0.9, 2.31, 3.05, 4.72, 5.9, 7.33, 8.84, 10.1)


@pytest.mark.parametrize("later_s", [-1.75, -0.4, 0.0, 0.613, 2.2])
def test_the_offset_is_found_to_a_frame_at_240(later_s: float) -> None:
    """Other noise, another place, and under water no high tones: the beginnings are the same."""
    one = swum(SPLASHES, 12, 1)
    heard = tuple(t + later_s for t in SPLASHES if 0 < t + later_s < 11.5)
    other = swum(heard, 12, 2, noise=0.03)
    dull = sosfilt(butter(4, 700, fs=RATE, output="sos"), other)
    found = sound_offset(one, dull, RATE)
    assert found is not None
    assert found.later_s == pytest.approx(later_s, abs=1 / 240 + 1 / STEPS_PER_S)
    assert found.clear
    turned = sound_offset(dull, one, RATE)
    assert turned is not None
    assert turned.later_s == pytest.approx(-found.later_s, abs=1 / STEPS_PER_S)


def test_two_other_swims_are_not_taken_for_one() -> None:
    wrong = 0
    for seed in range(20):
        chance = np.random.default_rng(seed)
        one = swum(tuple(np.sort(chance.uniform(0.2, 11, 8))), 12, seed)
        other = swum(tuple(np.sort(chance.uniform(0.2, 11, 8))), 12, 100 + seed)
        found = sound_offset(one, other, RATE)
        wrong += found is not None and found.clear
    assert not wrong


def test_even_strokes_fit_at_several_offsets_and_it_says_so() -> None:
    even = tuple(0.5 + 0.8 * n for n in range(13))
    found = sound_offset(swum(even, 12, 1), swum(even, 12, 2), RATE)
    assert found is not None
    assert not found.clear


@pytest.mark.parametrize(
    "other",
    [np.zeros(12 * RATE), 0.01 * np.random.default_rng(3).standard_normal(12 * RATE),
     np.zeros(0), swum((0.3,), 0.5, 4)],
)  # fmt: skip
def test_silence_noise_and_what_is_too_short_give_nothing(other: np.ndarray) -> None:  # type: ignore[type-arg]
    assert sound_offset(swum(SPLASHES, 12, 1), other, RATE) is None


def test_offsets_beyond_the_longest_are_not_tried() -> None:
    one, other = swum(SPLASHES, 12, 1), swum(tuple(t + 4 for t in SPLASHES), 16, 2)
    far = sound_offset(one, other, RATE)
    assert far is not None
    assert far.later_s == pytest.approx(4, abs=0.01)
    near = sound_offset(one, other, RATE, most_s=2)
    assert near is None or abs(near.later_s) <= 2


def test_what_becomes_louder_is_a_beginning_and_what_fades_is_none() -> None:
    loud = np.concatenate([np.full(RATE, 0.01), np.full(RATE, 0.5), np.full(RATE, 0.01)])
    found = onsets(loud, RATE)
    assert len(found) == 3 * STEPS_PER_S
    assert abs(int(found.argmax()) - STEPS_PER_S) <= 5
    assert found[STEPS_PER_S + 20 :].max() < 1e-6
    assert len(onsets(loud[:10], RATE)) == 0
