"""Rate, cycle time, spread, drift and their uncertainty."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import linregress

from norvik.core.errors import TimeBaseError
from norvik.core.time.compute import compute_timing
from norvik.core.time.cycles import rate_fall
from norvik.core.time.marker import GRID_ALONE
from norvik.core.time.timebase import Stretch, TimeBase, interval_uncertainty_s, mark_uncertainty_s
from tests.marking import marks, steady_arm


def test_mark_uncertainty_is_that_of_a_rectangular_distribution() -> None:
    # JCGM 100:2008 (GUM), 4.3.7: half-width a gives a / sqrt(3); a frame of 1/60 s has a = 1/120.
    assert mark_uncertainty_s(1 / 60) == pytest.approx((1 / 120) / math.sqrt(3), rel=1e-12)
    # The same from 200,000 draws of a true instant within one frame.
    draws = np.random.default_rng(1).uniform(-1 / 120, 1 / 120, 200_000)
    assert mark_uncertainty_s(1 / 60) == pytest.approx(draws.std(), rel=0.01)
    assert interval_uncertainty_s(1 / 60) == pytest.approx(math.sqrt(2) * draws.std(), rel=0.01)


@pytest.mark.parametrize(
    ("text", "cycles_per_min", "u"),
    [
        # Worked values: 60 frames/s; one cycle of 1.25 s, then three in 3.75 s.
        ("R entry 0; R entry 1.25", 48.0, 0.261),
        ("R entry 0; R entry 1.25; R entry 2.5; R entry 3.75", 48.0, 0.0871),
    ],
)
def test_worked_rates(text: str, cycles_per_min: float, u: float) -> None:
    rate = compute_timing(marks(text), "freestyle", 1 / 60, None, GRID_ALONE).rate
    assert rate.cycles_per_min == pytest.approx(cycles_per_min)
    assert rate.u_cycles_per_min == pytest.approx(u, abs=5e-4)


def test_strokes_count_each_arm_in_freestyle_and_both_together_in_butterfly() -> None:
    # 57 strokes/min = 28.5 cycles/min = 2.105 s a cycle (arithmetic of the definition).
    cycle = 60 / 28.5
    free = compute_timing(marks(f"R entry 0; R entry {cycle}"), "freestyle").rate
    fly = compute_timing(marks(f"entry 0; entry {cycle}"), "butterfly").rate
    assert (free.strokes_per_min, free.cycles_per_min) == pytest.approx((57.0, 28.5))
    assert (fly.strokes_per_min, fly.cycles_per_min) == pytest.approx((28.5, 28.5))
    assert cycle == pytest.approx(2.105, abs=5e-4)


def test_rate_is_all_cycles_over_their_time_not_the_mean_of_rates() -> None:
    timing = compute_timing(marks("R entry 0; R entry 1; R entry 3"), "freestyle")
    assert timing.rate.cycles_per_min == pytest.approx(40.0)  # the mean of 60 and 30 is 45


def test_both_arms_whole_have_root_two_of_the_uncertainty() -> None:
    both = steady_arm("right", 0, 1.5, 4) + steady_arm("left", 0.75, 1.5, 4)
    rate = compute_timing(both, "freestyle", 0.02, None, GRID_ALONE).rate
    expected = 40 * math.sqrt(2) * 0.02 / math.sqrt(6) / (8 * 1.5)
    assert rate.u_cycles_per_min == pytest.approx(expected)


def test_a_wall_breaks_the_stretch_and_the_cycle() -> None:
    timing = compute_timing(
        marks("R entry 0; R entry 1.5; R entry 3; touch 3.8; push 4.2; R entry 6; R entry 7.5"),
        "freestyle",
        0.02,
        None,
        GRID_ALONE,
    )
    assert timing.cycles.by_side["right"] == pytest.approx([1.5, 1.5, 1.5])
    # Two stretches: the variance of two intervals.
    expected = 40 * math.sqrt(2) * 0.02 / math.sqrt(6) / 4.5
    assert timing.rate.u_cycles_per_min == pytest.approx(expected)


def test_spread_against_numpy() -> None:
    times = [0.0, 1.5, 3.1, 4.55, 6.2, 7.6]
    timing = compute_timing(marks(";".join(f"L entry {t}" for t in times)), "freestyle")
    cycles = np.diff(times)
    spread = timing.cycles.time_s
    assert spread.mean == pytest.approx(cycles.mean())
    assert spread.sd == pytest.approx(cycles.std(ddof=1))
    assert spread.cv_pct == pytest.approx(100 * cycles.std(ddof=1) / cycles.mean())


def test_drift_and_fading_against_numpys_line() -> None:
    rng = np.random.default_rng(4)
    cycles = 1.5 + 0.008 * np.arange(20) + 0.004 * rng.standard_normal(20)
    entries = np.concatenate([[0], np.cumsum(cycles)])
    timing = compute_timing(marks(";".join(f"L entry {t}" for t in entries)), "freestyle", 1 / 120)
    middle = (entries[1:] + entries[:-1]) / 2
    slope, start = np.polyfit(middle, cycles, 1)
    assert timing.cycles.drift_pct_per_min == pytest.approx(100 * slope * 60 / cycles.mean())
    assert 1 - (start + slope * middle[0]) / (start + slope * middle[-1]) > 0.03
    assert timing.cycles.fading is True


def test_the_fall_and_its_uncertainty_against_scipys_regression() -> None:
    rng = np.random.default_rng(11)
    cycles = 1.6 + 0.003 * np.arange(15) + 0.02 * rng.standard_normal(15)
    entries = np.concatenate([[0], np.cumsum(cycles)])
    timing = compute_timing(marks(";".join(f"L entry {t}" for t in entries)), "freestyle")
    middle = (entries[1:] + entries[:-1]) / 2
    line = linregress(middle, cycles)
    last = line.intercept + line.slope * middle[-1]
    found = rate_fall(timing.resolved.cycles, 0.02)
    assert found is not None
    assert found.fall == pytest.approx(1 - (line.intercept + line.slope * middle[0]) / last)
    frames = 0.02 / math.sqrt(6) / last
    assert found.u == pytest.approx(math.hypot(line.stderr * np.ptp(middle) / last, frames))


@pytest.mark.parametrize(
    ("cycles", "fading"),
    [
        ([1.5] * 10, False),
        ([1.5, 1.9, 1.4, 1.8, 1.5, 1.9], False),  # grows, but not beyond doubt
        ([1.9 - 0.01 * n for n in range(10)], False),  # grows quicker
        ([1.5 + 0.01 * n for n in range(10)], True),
    ],
)
def test_fading_needs_three_percent_beyond_doubt(cycles: list[float], fading: bool) -> None:
    entries = np.concatenate([[0], np.cumsum(cycles)])
    timing = compute_timing(marks(";".join(f"L entry {t}" for t in entries)), "freestyle", 0.01)
    assert timing.cycles.fading is fading


def test_nothing_marked_is_an_answer_with_reasons() -> None:
    timing = compute_timing([], "freestyle", 1 / 60)
    assert timing.cycles.count == 0
    assert timing.rate.cycles_per_min is None
    assert timing.reasons["rate.cycles_per_min"] == "no whole cycle"
    assert timing.cycles.drift_pct_per_min is None
    assert timing.cycles.fading is None


def test_without_frame_interval_there_is_no_uncertainty() -> None:
    timing = compute_timing(marks("R entry 0; R entry 1.5"), "freestyle")
    assert timing.rate.u_cycles_per_min is None
    assert timing.reasons["rate.u_cycles_per_min"] == "the frame interval is not known"


@pytest.mark.parametrize("interval", [0.0, -0.1])
def test_a_wrong_frame_interval_is_refused(interval: float) -> None:
    with pytest.raises(TimeBaseError, match="above 0"):
        compute_timing(marks("R entry 0; R entry 1.5"), "freestyle", interval)


def test_time_base_stretch_and_nearest_frame() -> None:
    base = TimeBase(np.array([0.0, 0.1, 0.25, 0.3]), (Stretch(0, 2.0),))
    assert base.real_s.tolist() == pytest.approx([0, 0.05, 0.125, 0.15])
    assert base.frame_interval_s == pytest.approx(0.05)
    assert [base.frame_nearest(t) for t in (-1, 0.024, 0.026, 0.09, 9)] == [0, 0, 1, 2, 3]


@pytest.mark.parametrize("times", [[], [0.0, 0.1, 0.1], [0.0, 0.2, 0.1], [0.0, float("nan")]])
def test_time_base_refuses_what_cannot_be_right(times: list[float]) -> None:
    with pytest.raises(TimeBaseError):
        TimeBase(np.array(times))
    with pytest.raises(TimeBaseError, match="factor"):
        TimeBase(np.array([0.0, 0.1]), (Stretch(0, 0),))


@given(
    shift=st.floats(-1000, 1000),
    scale=st.floats(0.5, 4),
    shares=st.tuples(*[st.floats(0.1, 1)] * 4),
)
def test_shifting_and_stretching_time_changes_what_it_must(
    shift: float, scale: float, shares: tuple[float, float, float, float]
) -> None:
    total = sum(shares)
    share = tuple(s / total for s in shares)
    plain = compute_timing(steady_arm("right", 0, 1.2, 5, share), "freestyle", 0.01)  # type: ignore[arg-type]
    moved = compute_timing(
        steady_arm("right", shift, 1.2 * scale, 5, share),  # type: ignore[arg-type]
        "freestyle",
        0.01 * scale,
    )
    assert moved.rate.cycles_per_min == pytest.approx(plain.rate.cycles_per_min / scale, rel=1e-9)  # type: ignore[operator]
    for name, phase in plain.phases["right"].items():
        other = moved.phases["right"][name]
        assert phase is not None
        assert other is not None
        assert other.share_pct == pytest.approx(phase.share_pct, abs=1e-6)
        assert other.mean_s == pytest.approx(phase.mean_s * scale, abs=1e-9)
