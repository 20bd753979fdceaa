"""Kicks from what changes where the legs are: rhythms by hand, instants, and what is not told."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.signal import periodogram

from norvik.core.reading.kick_motion import KickMotion, LegRhythms, leg_rhythms, told_kicks
from norvik.core.reading.stroke import read_stroke, within
from norvik.model.schedule import USUAL
from norvik.reading.templates import templates_of
from tests.core.kick_counts import saying
from tests.core.test_read_stroke import swum

Series = NDArray[np.float64]
CYCLE_S, FIRST_S = 1.5, 0.3
TIMES = np.arange(0, 12, 1 / 30)
NUMBERS = np.arange(-1, 10, dtype=float)
OPENINGS = FIRST_S + CYCLE_S * NUMBERS
SHARES = (TIMES - FIRST_S) / CYCLE_S


def learnt(beats: int | None, later: float = 0.4, off: float = 0.05) -> KickMotion:
    every = (2, 4, 6)
    return KickMotion(saying(beats), dict.fromkeys(every, later), dict.fromkeys(every, off))


def changing(times: int, most_at: float, rng: np.random.Generator, noise: float = 0.05) -> Series:
    """Nine parts; three of them change so many times in a cycle, first most at this share of it."""
    wave = 0.5 * np.cos(2 * np.pi * times * (SHARES - most_at))
    parts = 3 + rng.normal(0, noise, (len(TIMES), 9))
    parts[:, 2:5] += wave[:, None]
    return parts


def rhythms_of(changed: Series) -> LegRhythms:
    found = leg_rhythms(TIMES, changed, NUMBERS, OPENINGS)
    assert found is not None
    return found


@pytest.mark.parametrize("times", [1, 2, 4, 6, 9])
def test_power_is_that_of_a_periodogram(times: int) -> None:
    """That of scipy, of whole cycles with 45 pictures each, is one-sided: twice as much."""
    changed = changing(times, 0.07, np.random.default_rng(times))
    inside = slice(9, 9 + 7 * 45)
    found = leg_rhythms(TIMES[inside], changed[inside], NUMBERS, OPENINGS)
    assert found is not None
    at, power = periodogram(changed[inside], fs=45, detrend="constant", scaling="spectrum", axis=0)
    for n in range(1, 10):
        expected = power[np.argmin(np.abs(at - n))].sum() / 2
        assert found.power[n - 1] == pytest.approx(expected, rel=1e-6)
    # Half of the square of the amplitude 0.5 lies on each side of zero, in each of three parts.
    assert found.power[times - 1] == pytest.approx(3 * 0.25**2, rel=0.05)
    assert found.alike[times - 1] > 0.95
    assert found.power[times - 1] > 100 * found.chance
    shares = dict(zip((1, 2, 3, 4, 6, 8), found.shares, strict=True))
    if times in shares:
        assert shares[times] == pytest.approx(np.log10(1.003), abs=0.02)
        assert all(share < -1.5 for n, share in shares.items() if n != times)


@pytest.mark.parametrize("beats", [2, 4, 6])
@pytest.mark.parametrize("most_at", [0.0, 0.03, 0.13])
def test_a_kick_comes_as_long_after_the_most_change_as_was_learnt(
    beats: int, most_at: float
) -> None:
    rhythms = rhythms_of(changing(beats, most_at, np.random.default_rng(beats)))
    assert rhythms.most_at(beats) % (1 / beats) == pytest.approx(most_at % (1 / beats), abs=0.004)
    told = told_kicks(rhythms, learnt(beats), TIMES, NUMBERS, OPENINGS)
    assert not isinstance(told, str)
    assert told.beats == beats
    assert told.off_s == pytest.approx(0.05 * CYCLE_S / beats)
    apart = CYCLE_S / beats
    first = FIRST_S + CYCLE_S * most_at + 0.4 * apart
    expected = [t for n in range(-10, 60) if 0 <= (t := first + n * apart) <= TIMES[-1]]
    assert told.at == pytest.approx(expected, abs=0.006)


def test_a_count_that_is_not_sure_is_not_told_nor_a_rhythm_that_is_chance() -> None:
    rng = np.random.default_rng(1)
    good = rhythms_of(changing(6, 0.02, rng))
    unsure = told_kicks(good, learnt(None), TIMES, NUMBERS, OPENINGS)
    assert unsure == "the number of kicks per cycle can't be seen"
    # What is told is that six go to a cycle; what changes does so four times.
    other = told_kicks(rhythms_of(changing(4, 0.02, rng)), learnt(6), TIMES, NUMBERS, OPENINGS)
    assert other == "the number of kicks per cycle can't be seen"
    # Strong enough, but every second cycle the other way round.
    turned = replace(good, alike=np.full(9, 0.4))
    nothing = told_kicks(turned, learnt(6), TIMES, NUMBERS, OPENINGS)
    assert nothing == "the feet show no steady kick"


def test_of_changes_by_chance_few_are_taken_for_kicks() -> None:
    rng = np.random.default_rng(8)
    told = [
        told_kicks(rhythms, learnt(n), TIMES, NUMBERS, OPENINGS)
        for rhythms in (rhythms_of(rng.normal(3, 1, (len(TIMES), 64))) for _ in range(40))
        for n in (2, 4, 6)
    ]
    assert sum(not isinstance(one, str) for one in told) <= 6


def test_legs_that_are_hardly_seen_tell_nothing() -> None:
    changed = changing(6, 0.0, np.random.default_rng(2))
    hidden = changed.copy()
    hidden[: int(0.75 * len(TIMES))] = np.nan
    assert leg_rhythms(TIMES, hidden, NUMBERS, OPENINGS) is None
    assert leg_rhythms(TIMES, changed, NUMBERS[:3], OPENINGS[:3]) is None
    # Gaps that are shorter do no harm.
    gaps = changed.copy()
    gaps[::5] = np.nan
    assert rhythms_of(gaps).most_at(6) == pytest.approx(rhythms_of(changed).most_at(6), abs=0.01)


def test_a_film_s_kicks_have_a_plus_minus_of_their_count() -> None:
    plan, times, limbs = swum("freestyle", "side-under", 1)
    templates = templates_of("freestyle", "side-under")
    assert templates is not None
    known = replace(templates, kick_motion=learnt(6))
    cycle_s = USUAL["freestyle"].cycle_s
    entries = [c.at["entry"] for c in plan.arms["right"]]
    share = np.interp(times, entries, np.arange(len(entries)))
    wave = np.cos(2 * np.pi * 6 * share)
    rng = np.random.default_rng(3)
    changed = 3 + 0.5 * wave[:, None] + rng.normal(0, 0.05, (len(times), 4))
    found = read_stroke(limbs, times, "freestyle", known, cycle_s, changed)
    kicks = [e for e in found.events if e.lane == "leg"]
    assert len(kicks) == pytest.approx(6 * times[-1] / cycle_s, abs=4)
    (u95_s,) = {round(e.u95_s, 9) for e in kicks}
    assert u95_s == pytest.approx(1.96 * 0.05 * cycle_s / 6, rel=0.03)
    assert {e.confidence for e in kicks} == {within(0.08, 0.02)}
    unseen = read_stroke(limbs, times, "freestyle", known, cycle_s)
    assert unseen.reasons["kicks"] == "the legs are out of sight most of the time"
    assert [e for e in unseen.events if e.lane == "arm"] == [
        e for e in found.events if e.lane == "arm"
    ]
