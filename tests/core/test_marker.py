"""The marker's error: what is stated holds, and is found again by marking twice."""

from __future__ import annotations

import math
import random
from collections import Counter

import pytest

from norvik.core.strokes import STROKES
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import (
    DEFAULT_MARKER,
    FAMILIES,
    FAMILY_OF,
    GRID_ALONE,
    Marker,
    MarkError,
    Marking,
)
from norvik.core.time.marker_found import LEAST_PAIRS, Pair, found_errors
from norvik.core.time.plus_minus import k95
from tests.core.test_certainty import values
from tests.marking import marks
from tests.simulated import Swimmer, crawl, marked


def test_every_event_has_a_family() -> None:
    events = {e for s in STROKES.values() for lane in ("arm", "leg", "breath", "wall", "course")
              for e in s.events_of(lane)}  # fmt: skip
    assert events <= set(FAMILY_OF)
    assert set(DEFAULT_MARKER.errors) == set(FAMILIES)


def test_the_larger_of_milliseconds_and_frames_holds() -> None:
    error = MarkError(10, 0.7, 5, 0.3)
    assert error.spread_s(1 / 240) == pytest.approx(0.010)
    assert error.spread_s(1 / 25) == pytest.approx(0.028)
    assert error.habit_s(1 / 25) == pytest.approx(0.012)
    marker = Marker({"water": error})
    d = 1 / 60
    assert marker.spread_s("entry", d) == pytest.approx(math.hypot(d / math.sqrt(12), 0.7 * d))
    assert marker.spread_s("catch", d) == pytest.approx(d / math.sqrt(12))
    assert GRID_ALONE.habit_s("entry", d) == 0


def test_a_habit_leaves_out_of_a_cycle_and_stays_in_a_phase() -> None:
    late = Marker({"hold": MarkError(habit_ms=30), "water": MarkError(habit_ms=10)})
    text = "; ".join(f"R entry {2 * n}; R catch {2 * n + 0.5}; R press {2 * n + 0.8}; "
                     f"R exit {2 * n + 1.5}" for n in range(5))  # fmt: skip
    timing = compute_timing(marks(text), "freestyle", 1 / 60, None, late)
    alone = compute_timing(marks(text), "freestyle", 1 / 60, None, GRID_ALONE)
    for path in ("rate.cycles_per_min", "cycles.time_s.mean"):
        assert timing.uncertainty[path] == pytest.approx(alone.uncertainty[path])
    entry, pull = "phases.both.entry.mean_s", "phases.both.catch.mean_s"
    assert timing.certainty[entry].habit == pytest.approx(math.hypot(0.03, 0.01))
    # Catch and pull are two events, each with its own habit.
    assert timing.certainty[pull].habit == pytest.approx(math.hypot(0.03, 0.03))
    phase = timing.phases["both"]["entry"]
    assert phase is not None
    assert phase.u_s == pytest.approx(timing.uncertainty[entry])


def test_the_slow_motion_factor_is_in_times_and_rates_and_in_no_share() -> None:
    text = "; ".join(f"R entry {2 * n}; R catch {2 * n + 0.5}" for n in range(6))
    timing = compute_timing(marks(text), "freestyle", 1 / 240, None, GRID_ALONE, scale_u=0.01)
    assert timing.certainty["rate.cycles_per_min"].scale == pytest.approx(0.3)
    assert timing.rate.u_cycles_per_min == pytest.approx(timing.uncertainty["rate.cycles_per_min"])
    assert timing.certainty["phases.both.entry.mean_s"].scale == pytest.approx(0.005)
    assert timing.certainty["phases.both.entry.share_pct"].scale == pytest.approx(0, abs=1e-9)


def test_nothing_is_known_without_a_frame_interval() -> None:
    assert Marking().mean_interval_u("entry", "catch", 3, 0.5) is None
    assert Marking().spread_s("entry") is None
    assert compute_timing(marks("R entry 0; R entry 2"), "freestyle").certainty == {}


@pytest.mark.parametrize("fps", [25, 60, 240])
def test_plus_minus_holds_for_a_marker_with_the_stated_error(fps: int) -> None:
    """Both: of this clip, and of the swimmer; scripts/check-plus-minus.py does it at length."""
    rng = random.Random(fps)
    inside: Counter[str] = Counter()
    tried: Counter[str] = Counter()
    for _ in range(70):
        swim = crawl(Swimmer(cycle=rng.uniform(1.4, 2.2), cycles=rng.choice([5, 8])), rng)
        exact = values(compute_timing(swim.marks, "freestyle"))
        exact["cycles.time_s.own_sd"] = exact["cycles.time_s.sd"]
        exact["cycles.time_s.own_cv_pct"] = exact["cycles.time_s.cv_pct"]
        timing = compute_timing(marked(swim, DEFAULT_MARKER, fps, rng), "freestyle", 1 / fps)
        found = values(timing)
        for path, sure in timing.certainty.items():
            if path in exact and path in found and path != "cycles.drift_pct_per_min":
                tried["clip"] += 1
                inside["clip"] += abs(found[path] - exact[path]) <= 2 * sure.clip
                tried[path] += 1
                inside[path] += abs(found[path] - exact[path]) <= 2 * sure.clip
            own, true = sure.swimmer, swim.truth.get(path)
            if own is not None and true is not None and path in found:
                tried["swimmer"] += 1
                inside["swimmer"] += abs(found[path] - true) <= k95(own) * own.u
    assert 0.94 <= inside["clip"] / tried["clip"] <= 0.975
    assert 0.93 <= inside["swimmer"] / tried["swimmer"] <= 0.99
    # No quantity far off; 70 swims tell a single one to about 5 points.
    for path, n in tried.items():
        if n >= 60 and path not in ("clip", "swimmer"):
            assert inside[path] / n >= 0.86, (path, inside[path] / n)


def pairs_of(error: MarkError, event: str, fps: float, n: int, rng: random.Random) -> list[Pair]:
    d, found = 1 / fps, []
    for _ in range(n):
        at = rng.uniform(0, 10)
        once, twice = (round((at + rng.gauss(0, error.spread_s(d))) / d) * d for _ in range(2))
        found.append(Pair(event, twice - once, d, own=True))
    return found


def test_the_spread_is_found_again() -> None:
    rng, true = random.Random(2), MarkError(spread_ms=25)
    found = found_errors(pairs_of(true, "press", 60, 600, rng), DEFAULT_MARKER.errors)["hold"]
    assert found.error is not None
    assert found.error.spread_ms == pytest.approx(25, rel=0.1)
    # The habit is not told by one person's second look.
    assert found.error.habit_ms == DEFAULT_MARKER.errors["hold"].habit_ms
    few = found_errors(pairs_of(true, "press", 60, LEAST_PAIRS - 1, rng), DEFAULT_MARKER.errors)
    assert few["hold"].error is None
    assert few["hold"].pairs == LEAST_PAIRS - 1
    assert set(few) == {"hold"}


def test_a_habit_is_found_between_two_people() -> None:
    # The second marks every catch 40 ms later, and every pull as the first does.
    pairs = [Pair("catch", 0.04, 1 / 60, own=False)] * 6 + [
        Pair("press", 0.0, 1 / 60, own=False)
    ] * 6
    found = found_errors(pairs, DEFAULT_MARKER.errors)["hold"]
    assert found.error is not None
    # Root mean square of 40 and 0, over root two for one of two people.
    assert found.error.habit_ms == pytest.approx(40 / math.sqrt(2) / math.sqrt(2))
    assert found.error.spread_ms == DEFAULT_MARKER.errors["hold"].spread_ms
    assert found.others == 12
