"""Published gaps of butterfly, and the end of the push in backstroke."""

from __future__ import annotations

import pytest

from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import GRID_ALONE
from tests.marking import marks, steady_arm


def fly(text: str):  # type: ignore[no-untyped-def]
    return compute_timing(marks(text), "butterfly", 1 / 60, None, GRID_ALONE)


CYCLE = "entry {0}; press {1}; shoulder {2}; exit {3};"


def cycles() -> str:
    return "".join(
        CYCLE.format(*(round(1.2 * n + t, 3) for t in (0, 0.3, 0.55, 0.8))) for n in range(4)
    )


def feet() -> str:
    return "".join(
        f"up {1.2 * n + 0.06:.3f}; beat {1.2 * n + 0.27:.3f}; up {1.2 * n + 0.58:.3f};"
        f"beat {1.2 * n + 0.80:.3f};"
        for n in range(3)
    )


def test_t1_to_t4() -> None:
    gaps = fly(cycles() + feet()).fly_gaps
    assert gaps.t1_s == pytest.approx(0.06)
    assert gaps.t1_pct == pytest.approx(5)
    assert gaps.t2_s == pytest.approx(-0.03)
    assert gaps.t3_s == pytest.approx(0.03)
    assert gaps.t4_s == pytest.approx(0)


def test_uncertainty_is_that_of_two_marks_a_cycle() -> None:
    timing = fly(cycles() + feet())
    # Two marks of 1/60 s grid each, averaged over three cycles whose marks are all different.
    grid = 1 / 60 / 12**0.5
    assert timing.uncertainty["fly_gaps.t1_s"] == pytest.approx(grid * (2 / 3) ** 0.5, rel=0.01)


def test_without_feet_there_are_none_and_without_highs_two() -> None:
    assert fly(cycles()).fly_gaps is None
    beats = ";".join(p for p in feet().split(";") if "beat" in p)
    timing = fly(cycles() + beats)
    assert timing.fly_gaps.t1_s is None
    assert "foot at the top" in timing.reasons["fly_gaps.t1_s"]
    assert timing.fly_gaps.t2_s is not None


def test_other_strokes_have_no_butterfly_gaps() -> None:
    assert compute_timing(steady_arm("right", 0, 1.4, 3), "freestyle", 1 / 60).fly_gaps is None


def test_the_other_kick_is_not_taken_for_a_missing_one() -> None:
    # Only second kicks are marked: at the entry none lies near.
    late = "".join(f"up {1.2 * n + 0.58:.3f}; beat {1.2 * n + 0.80:.3f};" for n in range(3))
    gaps = fly(cycles() + late).fly_gaps
    assert gaps.t1_s is None
    assert gaps.t3_s == pytest.approx(0.03)


def test_a_marked_end_of_the_push_ends_the_hand_over_in_backstroke() -> None:
    given = steady_arm("right", 0, 1.6, 4) + steady_arm("left", 0.8, 1.6, 4)
    to_exit = compute_timing(given, "backstroke", 1 / 60).coordination
    pushes = marks(
        ";".join(f"R push-end {1.6 * n + 1.1}; L push-end {1.6 * n + 1.9}" for n in range(4))
    )
    to_push = compute_timing([*given, *pushes], "backstroke", 1 / 60).coordination
    # Exits lie at 75 % of the cycle, the ends of the push 0.1 s before: 6.25 points.
    assert to_exit.index_pct - to_push.index_pct == pytest.approx(100 * 0.1 / 1.6)
    # Freestyle has no such event: it is a problem, not a mark.
    assert compute_timing([*given, *pushes], "freestyle", 1 / 60).problems
