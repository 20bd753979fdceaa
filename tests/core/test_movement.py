"""Movement of followed points against SciPy, NumPy and worked examples."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy import interpolate, signal

from norvik.core.errors import MeasureError
from norvik.core.frame.movement import (
    TWO_PASSES,
    angles,
    climb,
    coefficients,
    filled,
    half_waves,
    late_bend,
    runs,
    smooth,
    turning_points,
    velocity,
)

RATE = 60.0
TIMES = np.arange(240) / RATE


def noisy(seed: int = 1) -> np.ndarray:
    rng = np.random.default_rng(seed)
    return 100 * np.sin(2 * np.pi * 0.9 * TIMES) + 3 * rng.standard_normal(TIMES.size)


def test_the_filter_is_that_of_scipy() -> None:
    """Winter's correction is one of the analogue cut-off, before it is warped into samples."""
    for cutoff in (4.0, 6.0, 12.0):
        warped = math.atan(math.tan(math.pi * cutoff / RATE) / TWO_PASSES) * 2 / math.pi
        b, a = signal.butter(2, warped)
        assert coefficients(cutoff / RATE)[0] == pytest.approx(b, abs=1e-12)
        assert coefficients(cutoff / RATE)[1] == pytest.approx(a, abs=1e-12)
        pad = max(9, round(1.5 / (cutoff / RATE)))
        expected = signal.filtfilt(b, a, noisy(), padtype="odd", padlen=pad)
        assert smooth(TIMES, noisy(), cutoff) == pytest.approx(expected, abs=1e-8)


def test_two_passes_halve_the_power_at_the_cut_off() -> None:
    """Gain of both passes together at the cut-off is 1/sqrt(2): that is what 0.802 is for."""
    b, a = coefficients(6.0 / RATE)
    _, response = signal.freqz(b, a, worN=[2 * np.pi * 6.0 / RATE])
    assert abs(response[0]) ** 2 == pytest.approx(1 / math.sqrt(2), abs=0.002)


def test_nothing_is_shifted_in_time() -> None:
    wave = np.sin(2 * np.pi * 1.5 * TIMES)
    low = smooth(TIMES, wave, 6.0)
    lag = np.argmax(signal.correlate(low, wave)) - (wave.size - 1)
    assert lag == 0


def test_uneven_frames_are_filtered_in_time_and_not_in_frames() -> None:
    rng = np.random.default_rng(2)
    uneven = np.sort(TIMES + 0.3 / RATE * rng.uniform(-1, 1, TIMES.size))
    wave = np.sin(2 * np.pi * 0.8 * uneven)
    assert smooth(uneven, wave, 6.0)[10:-10] == pytest.approx(wave[10:-10], abs=0.02)


def test_short_gaps_are_filled_and_long_ones_and_ends_are_not() -> None:
    values = 2.0 * np.arange(60.0)
    holes = values.copy()
    for frame in (0, 1, 10, 11, 12, 13, 14, 30, 31, 32, 33, 34, 35, 36, 59):
        holes[frame] = np.nan
    times = np.arange(60) / RATE
    found = filled(times, holes)
    # Five lost frames lie between two known ones 0.1 s apart; seven do not.
    assert found[10:15] == pytest.approx(values[10:15])
    assert np.isnan(found[30:37]).all()
    assert np.isnan(found[[0, 1, 59]]).all()
    assert [(r.start, r.stop) for r in runs(found)] == [(2, 30), (37, 59)]
    both = filled(times, np.stack([holes, holes], axis=1))
    assert both[10:15, 1] == pytest.approx(values[10:15])
    # What is lost stays lost in the filter, too, and spoils no neighbour.
    assert np.isnan(smooth(times, found)[30:37]).all()
    assert smooth(times, found)[37:59] == pytest.approx(values[37:59], abs=0.5)


def test_velocity_of_a_spline() -> None:
    values = 40 * np.sin(2 * np.pi * 0.7 * TIMES)
    expected = interpolate.CubicSpline(TIMES, values).derivative()(TIMES)
    assert velocity(TIMES, values)[1:-1] == pytest.approx(expected[1:-1], abs=0.4)
    # A straight way at uneven times is exactly as quick everywhere.
    uneven = TIMES + 0.2 / RATE * np.sin(np.arange(TIMES.size))
    assert velocity(uneven, 3 * uneven) == pytest.approx(np.full(TIMES.size, 3.0))
    assert np.isnan(velocity(TIMES[:1], np.array([1.0]))).all()


def test_turning_points_are_those_of_scipy() -> None:
    for seed in range(20):
        values = smooth(TIMES, noisy(seed), 6.0)
        least = 0.3 * float(np.ptp(values))
        peaks, troughs = turning_points(values, least)
        assert peaks == signal.find_peaks(values, prominence=least)[0].tolist()
        assert troughs == signal.find_peaks(-values, prominence=least)[0].tolist()


def test_angles_agree_with_the_scalar_product() -> None:
    rng = np.random.default_rng(5)
    a, corner, b = rng.uniform(0, 900, (3, 200, 2))
    u, v = a - corner, b - corner
    norms = np.linalg.norm(u, axis=1) * np.linalg.norm(v, axis=1)
    expected = np.degrees(np.arccos(np.sum(u * v, axis=1) / norms))
    assert angles(a, corner, b) == pytest.approx(expected, abs=1e-6)
    a[3] = np.nan
    assert np.isnan(angles(a, corner, b)[3])


def test_late_bend_of_an_arm_that_is_drawn() -> None:
    """An arm that swings straight through 90 of 150 degrees before it bends."""
    swing = np.radians(np.linspace(0, 150, 151))
    shoulder = np.zeros((151, 2))
    elbow = 100 * np.stack([np.cos(swing), np.sin(swing)], axis=1)
    straight = 200 * np.stack([np.cos(swing), np.sin(swing)], axis=1)
    assert late_bend(shoulder, elbow, straight) == 100
    bent = straight.copy()
    # From 90 degrees on the forearm stays behind by 60: the elbow angle is 120.
    behind = swing[90:] - np.radians(60)
    bent[90:] = elbow[90:] + 100 * np.stack([np.cos(behind), np.sin(behind)], axis=1)
    way = np.hypot(*np.diff(bent, axis=0).T)
    expected = 100 * way[:90].sum() / way.sum()
    assert late_bend(shoulder, elbow, bent) == pytest.approx(expected)
    lost = np.full((151, 2), np.nan)
    assert late_bend(shoulder, elbow, lost) is None
    assert late_bend(shoulder, elbow, np.ones((151, 2))) is None


def test_climb_and_half_waves() -> None:
    way = np.stack([np.arange(30.0), -0.5 * np.arange(30.0)], axis=1)
    assert climb(way) == pytest.approx(math.degrees(math.atan(0.5)))
    assert climb(way * [-1, 1]) == pytest.approx(math.degrees(math.atan(0.5)))
    assert climb(way * [1, -1]) == pytest.approx(-math.degrees(math.atan(0.5)))
    assert climb(way, 10) == pytest.approx(math.degrees(math.atan(0.5)) - 10)
    assert climb(np.full((30, 2), np.nan)) is None
    assert climb(np.zeros((30, 2))) is None
    waves = half_waves(50 * np.sin(2 * np.pi * 1.25 * TIMES), 20)
    assert np.mean(waves) == pytest.approx(100, abs=0.5)
    assert np.std(waves) == pytest.approx(0, abs=0.5)
    assert len(waves) == 9  # ten turning points in four seconds, nine half waves between them
    assert half_waves(np.zeros(50), 1.0) == []


def test_a_half_wave_never_reaches_over_a_stretch_that_is_lost() -> None:
    """Else the peak before it and the one behind would be a wave without any height."""
    values = 50 * np.sin(2 * np.pi * 1.25 * TIMES)
    # Round every second trough the point is lost, so that two peaks face each other.
    waves = (1.25 * TIMES + 0.25) % 2.0
    values[np.abs(waves - 1.0) < 0.15] = np.nan
    found = half_waves(values, 20)
    assert found
    assert found == pytest.approx([100] * len(found), abs=1.0)


def test_a_cut_off_has_to_be_one() -> None:
    for wrong in (0.0, -1.0, math.nan):
        with pytest.raises(MeasureError, match="above 0 Hz"):
            smooth(TIMES, noisy(), wrong)
    # Nothing is filtered where the film is too slow for it, or too short.
    assert smooth(TIMES, noisy(), 29.0) == pytest.approx(noisy())
    assert smooth(TIMES[:5], noisy()[:5]) == pytest.approx(noisy()[:5])
