"""The time of a cycle from how parts of a picture stir."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.core.reading.cycle import CycleTime
from norvik.core.reading.motion import stirred_cycle

APART = 1 / 30
TIMES = np.arange(0, 9, APART)


def stroked(seconds: float, halves_alike: float, seed: int = 1) -> NDArray[np.float64]:
    """Sixty parts, of which twelve stir with the stroke, each in its own way and at its own time.

    halves_alike: 1 where the second half of a cycle is as its first one, as of two equal arms.
    """
    rng = np.random.default_rng(seed)
    parts = rng.normal(0, 0.4, (TIMES.size, 60)) + 2
    for n in rng.choice(60, 12, replace=False):
        turn, late = 2 * np.pi * TIMES / seconds, rng.uniform(0, 2 * np.pi)
        once, twice = np.cos(turn + late), np.cos(2 * turn + 2 * late)
        parts[:, n] += 1.5 * (twice + (1 - halves_alike) * once)
    return parts


@pytest.mark.parametrize(
    ("stroke", "seconds", "alike"),
    [("freestyle", 1.36, 0.6), ("backstroke", 1.71, 0.5), ("breaststroke", 1.9, 0.0),
     ("butterfly", 1.22, 0.3)],
)  # fmt: skip
def test_the_cycle_is_found_wherever_in_the_picture_it_is(
    stroke: str, seconds: float, alike: float
) -> None:
    found = stirred_cycle(stroked(seconds, alike), APART, stroke)  # type: ignore[arg-type]
    assert isinstance(found, CycleTime)
    assert found.seconds == pytest.approx(seconds, rel=0.01)
    assert abs(found.seconds - seconds) <= found.u95
    assert found.cycles == pytest.approx(TIMES.size * APART / found.seconds)


def test_what_does_not_come_back_is_no_stroke() -> None:
    rng = np.random.default_rng(5)
    for seed in range(10):
        noise = np.random.default_rng(seed).normal(2, 0.5, (TIMES.size, 60))
        assert stirred_cycle(noise, APART, "freestyle") == "no regular stroke can be seen"
    # Once across the picture and away.
    once = rng.normal(2, 0.3, (TIMES.size, 60))
    once += 4 * np.exp(-(((TIMES[:, None] - np.linspace(0, 9, 60)) / 0.3) ** 2))
    assert isinstance(stirred_cycle(once, APART, "butterfly"), str)


def test_too_little_is_said() -> None:
    assert stirred_cycle(np.zeros((20, 60)), APART, "freestyle") == "the film is too short"
    assert stirred_cycle(np.ones((270, 60)), APART, "freestyle") == "nothing moves in this film"
