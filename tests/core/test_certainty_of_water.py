"""Plus-minus of kicks, walls, breaths and speed: by hand, by derivatives, by published tables."""

from __future__ import annotations

import math

import numpy as np
import pytest

from norvik.core.strokes.events import Mark
from norvik.core.time.certainty.water import excess_of_longest
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import GRID_ALONE
from norvik.core.time.timing import Timing
from tests.marking import marks

D = 1 / 120
#: A length with a turn: passes on either side of it, kicks under water, three cycles, two breaths.
LENGTH = (
    "pass 15m 0.513; R entry 0.70; R exit 1.52; L entry 1.43; L exit 2.21; pass 20m 4.021;"
    "R entry 2.12; R exit 2.93; L entry 2.84; L exit 3.60; R entry 3.51; touch 6.731; push 7.402;"
    "R beat 7.95; L beat 8.28; R beat 8.71; L beat 9.06; breakout 9.513; pass 5m 8.611;"
    "pass 10m 11.432; R entry 9.92; R exit 10.71; L entry 10.63; L exit 11.40; R entry 11.31;"
    "R exit 12.12; R entry 12.74; pass 15m 14.953"
)


def u_of(path: str, timing: Timing) -> float:
    return timing.uncertainty[path]


def value_of(path: str, timing: Timing) -> float:
    first, _, rest = path.partition(".")
    if first == "walls":
        number, _, name = rest.partition(".")
        return float(getattr(timing.walls[int(number)], name))
    if not rest:
        return float(getattr(timing, first))
    return float(getattr(getattr(timing, first), rest))


@pytest.mark.parametrize(
    "path",
    ["walls.0.breakout_m", "speed.m_per_s", "speed.distance_per_cycle_m", "speed.stroke_index"],
)
def test_of_a_length_with_a_turn_it_is_that_of_the_derivative(path: str) -> None:
    given = marks(LENGTH)
    timing = compute_timing(given, "freestyle", D, 25, GRID_ALONE)
    step, squares = 1e-6, 0.0
    for n, mark in enumerate(given):
        up, down = (
            value_of(path, compute_timing(
                [*given[:n], mark._replace(time_s=mark.time_s + s), *given[n + 1 :]],
                "freestyle", D, 25,
            ))
            for s in (step, -step)
        )  # fmt: skip
        squares += ((up - down) / (2 * step)) ** 2
    assert squares > 0
    assert u_of(path, timing) == pytest.approx(D / math.sqrt(12 / squares), rel=1e-4)


def test_speed_between_two_places_by_hand() -> None:
    """10 m in 5 s: v = 2, and u(v) = v/t times the root of two frames' grid."""
    timing = compute_timing(marks("pass 5m 1; pass 15m 6"), "freestyle", D, 25, GRID_ALONE)
    assert timing.speed.m_per_s == pytest.approx(2)
    grid = D / math.sqrt(12)
    assert u_of("speed.m_per_s", timing) == pytest.approx(2 / 5 * math.sqrt(2) * grid)


def beats(seconds: list[float]) -> list[Mark]:
    return [
        Mark(s, "leg", "right" if n % 2 == 0 else "left", "beat", key=n)
        for n, s in enumerate(seconds)
    ]


def test_kicks_a_minute_by_hand() -> None:
    """Ends alone count: 60 n / T with n gaps in T; u = 60 n / T² times the root of two grids."""
    timing = compute_timing(beats([1.0, 1.26, 1.49, 1.77, 2.0]), "freestyle", D, 25, GRID_ALONE)
    assert timing.kick is not None
    assert timing.kick.beats_per_min == pytest.approx(240)
    grid = D / math.sqrt(12)
    assert u_of("kick.beats_per_min", timing) == pytest.approx(240 * math.sqrt(2) * grid, rel=1e-3)


@pytest.mark.parametrize(
    ("n", "expected"),
    # Mean of the largest of n standard normal values (Harter 1961, Biometrika 48:151; recalled).
    [(2, 0.56419), (3, 0.84628), (5, 1.16296), (10, 1.53875), (20, 1.86748)],
)
def test_the_longest_of_equal_intervals_is_too_long_by_the_published_mean(
    n: int, expected: float
) -> None:
    u = 0.013
    assert excess_of_longest([0.42] * n, u) == pytest.approx(expected * u, rel=2e-3)


def test_one_that_is_longest_by_far_is_hardly_too_long() -> None:
    assert excess_of_longest([0.3, 0.31, 0.29, 0.9], 0.01) == pytest.approx(0, abs=1e-6)
    assert excess_of_longest([0.9], 0.01) == 0
    assert excess_of_longest([0.3, 0.4], 0.0) == 0


def test_what_marking_adds_to_the_longest_against_drawing_it() -> None:
    """Four true lengths of which two are near: drawn 200,000 times, against the lengths drawn
    together by what marking has spread them.
    """
    lengths, u = [0.30, 0.33, 0.40, 0.41], 0.02
    x = np.array(lengths)
    centres = x.mean() + math.sqrt(1 - u * u / x.var(ddof=1)) * (x - x.mean())
    rng = np.random.default_rng(4)
    drawn = (centres + u * rng.standard_normal((200_000, 4))).max(axis=1).mean()
    assert excess_of_longest(lengths, u) == pytest.approx(drawn - centres.max(), abs=2e-4)
