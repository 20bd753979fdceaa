"""Speed steps: what a gain in speed is made of, and when the hand slips."""

from __future__ import annotations

import math

import pytest

from norvik.core.followup.speed_steps import (
    Step,
    changes,
    frame_rows,
    in_order,
    rows,
    speed_without_walls,
    step_of,
)
from norvik.core.judging.on_frame import OnFrame
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import GRID_ALONE
from norvik.core.time.quantities import Occurrence
from tests.marking import marks, steady_arm


def step(cycle_s: float, pace_s: float | None, key: int = 1, passes: str = "") -> Step | None:
    found = steady_arm("right", 0, cycle_s, 4) + steady_arm("left", cycle_s / 2, cycle_s, 4)
    return step_of(
        key, compute_timing([*found, *marks(passes)], "freestyle", 1 / 60, None, GRID_ALONE), pace_s
    )


def sure(found: Step | None) -> Step:
    assert found is not None
    return found


def test_worked_example() -> None:
    """1.50 m/s at 30 cycles/min: 3.00 m a cycle, index 4.50 m2/s (Craig and Pendergast 1979,

    Med Sci Sports 11:278-283; Costill et al. 1985, Int J Sports Med 6:266-270).
    """
    found = sure(step(2.0, 100 / 1.5))
    assert found.how == "pace with walls"
    assert found.speed.value == pytest.approx(1.5)
    assert found.rate.value == pytest.approx(30)
    assert found.per_cycle_m.value == pytest.approx(3.0)
    assert found.index.value == pytest.approx(4.5)
    # Eight cycles of two arms: u of the mean cycle is that of its two ends, a cycle each, over 4.
    u_cycle = (1 / 60) / math.sqrt(6) / math.sqrt(2) / 4
    assert found.per_cycle_m.u == pytest.approx(1.5 * u_cycle)


def test_a_measured_speed_goes_before_the_pace() -> None:
    found = sure(step(2.0, 60, passes="pass 5m 1; pass 10m 5"))
    assert found.how == "passes"
    assert found.speed.value == pytest.approx(1.25)
    assert found.speed.u is not None


def test_without_rate_or_speed_there_is_no_step() -> None:
    assert step(2.0, None) is None
    assert step_of(1, compute_timing([], "freestyle", 1 / 60), 80) is None


def test_speed_is_gained_by_rate_and_paid_by_distance() -> None:
    slow, fast = sure(step(2.0, 90, 1)), sure(step(1.5, 75, 2))
    (change,) = changes([fast, slow])
    assert change.slower is slow
    assert change.rate == pytest.approx(2.0 / 1.5 - 1)
    assert change.speed == pytest.approx(90 / 75 - 1)
    assert (1 + change.rate) * (1 + change.per_cycle) == pytest.approx(1 + change.speed)
    assert not change.slips


def test_a_rate_that_rises_while_speed_is_lost_slips() -> None:
    steady = sure(step(1.6, None, 1, "pass 5m 0; pass 10m 4"))
    hurried = sure(step(1.2, None, 2, "pass 5m 0; pass 10m 4.2"))
    (change,) = changes([steady, hurried])
    assert change.slips
    assert change.per_cycle < -change.rate / (1 + change.rate)
    # Within the uncertainty of the passes nothing is said.
    near = sure(step(1.2, None, 3, "pass 5m 0; pass 10m 4.005"))
    (change,) = changes([steady, near])
    assert not change.slips


def test_rows_say_what_changes_with_speed() -> None:
    steps = in_order([sure(step(1.5, 75, 2)), sure(step(2.0, 90, 1)), sure(step(1.3, 62, 3))])
    assert [s.key for s in steps] == [1, 2, 3]
    found = {row.name: row for row in rows(steps)}
    assert found["Stroke rate"].trend == "rises"
    assert found["Distance per cycle"].trend == "falls"
    assert found["Pull"].trend == "holds"  # the same shares at every rate
    assert "Beats of the legs" not in found  # nothing is marked
    assert [v.value for v in found["Pull"].values if v] == pytest.approx([35.0] * 3)


WALLED = "touch 0.2; push 1.0; breakout 3.2; pass 4m 2.8; pass 6m 3.6; R entry 4; R entry 5.2"


def test_walls_are_taken_off_a_pace_where_they_are_known() -> None:
    # 25 m at 1:20 a 100 m are 20 s; 0.8 s of turn, 2.2 s under water to 5 m leave 20 m in 17 s.
    timing = compute_timing(marks(WALLED), "freestyle", 1 / 60, pool_m=25)
    assert speed_without_walls(timing, 80) == pytest.approx(20 / 17)
    # Nothing is taken off while the pool or the breakout is not known.
    assert speed_without_walls(compute_timing(marks(WALLED), "freestyle", 1 / 60), 80) is None
    bare = compute_timing(marks("push 1; R entry 4; R entry 5.2"), "freestyle", 1 / 60, pool_m=25)
    assert speed_without_walls(bare, 80) is None


def test_a_step_says_how_its_speed_is_known() -> None:
    no_passes = "touch 0.2; push 1.0; breakout 3.2; R entry 4; R entry 5.2"
    timing = compute_timing(marks(no_passes), "freestyle", 1 / 60, pool_m=25)
    found = step_of(1, timing, 80)
    assert found is not None
    assert (found.how, found.speed.value) == ("pace with walls", 1.25)


def taken(what: str, side: str, *values: float, unit: str = "°") -> OnFrame:
    found = tuple(Occurrence(float(n), v, side) for n, v in enumerate(values))
    return OnFrame(what, what.title(), unit, 0, side, found, 1.0)


def test_measures_on_the_frame_stand_beside_the_speeds() -> None:
    slow = [taken("elbow", "left", 150, 154), taken("roll", "", 50)]
    fast = [
        taken("elbow", "left", 140),
        taken("elbow", "right", 141),
        taken("kick", "", 30, unit="px"),
    ]
    (row,) = frame_rows([slow, fast])
    assert (row.row.name, row.side, row.row.trend) == ("Elbow", "left", "falls")
    assert [v.value for v in row.row.values if v] == [152, 140]
    assert row.at_s == ((0.0, 1.0), (0.0,))
    # A height in pixels is never compared with one in metres.
    assert frame_rows([[taken("kick", "", 0.3, unit="m")], fast]) == []
