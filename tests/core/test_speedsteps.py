"""Speed steps: what a gain in speed is made of, and when the hand slips."""

from __future__ import annotations

import math
import random

import pytest
from scipy import stats

from norvik.core.followup.speed_steps import (
    Row,
    Step,
    Value,
    _p,
    changes,
    frame_rows,
    in_order,
    rows,
    speed_without_walls,
    step_of,
)
from norvik.core.judging.on_frame import OnFrame
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import DEFAULT_MARKER, GRID_ALONE, Marker
from norvik.core.time.quantities import Occurrence
from tests.marking import marks, steady_arm
from tests.simulated import Swimmer, crawl, marked


def step(cycle_s: float, pace_s: float | None, key: int = 1, passes: str = "") -> Step | None:
    found = steady_arm("right", 0, cycle_s, 4) + steady_arm("left", cycle_s / 2, cycle_s, 4)
    return step_of(
        key, compute_timing([*found, *marks(passes)], "freestyle", 1 / 60, None, GRID_ALONE), pace_s
    )


def sure(found: Step | None) -> Step:
    assert found is not None
    return found


def test_worked_example() -> None:
    """1.50 m/s at 30 cycles/min: 3.00 m a cycle, index 4.50 m2/s.

    Craig and Pendergast (1979,
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
    slow = [taken("elbow", "left", 152, 151, 153), taken("roll", "", 50)]
    fast = [
        taken("elbow", "left", 141, 139, 140),
        taken("elbow", "right", 141),
        taken("kick", "", 30, unit="px"),
    ]
    (row,) = frame_rows([slow, fast])
    assert (row.row.name, row.side, row.row.trend) == ("Elbow", "left", "falls")
    assert [v.value for v in row.row.values if v] == [152, 140]
    assert row.at_s == ((0.0, 1.0, 2.0), (0.0, 1.0, 2.0))
    # Once at a speed does not tell how much the swimmer's own differ.
    (alone,) = frame_rows([slow, [taken("elbow", "left", 120)]])
    assert (alone.row.trend, alone.row.p) == ("", None)
    # A height in pixels is never compared with one in metres.
    assert frame_rows([[taken("kick", "", 0.3, unit="m")], fast]) == []


def test_a_trend_is_held_against_how_much_cycles_differ() -> None:
    """Welch's test of the slowest against the fastest, at Holm's level of a table of one."""
    one, other = (152.0, 146.0, 158.0, 149.0, 155.0), (147.0, 143.0, 151.0, 144.0, 150.0)
    made = ("elbow", "")

    def against(values: tuple[float, ...]) -> Row:
        """In a unit of which nothing is known to be usual."""
        (row,) = frame_rows([[taken(*made, *v, unit="made-up")] for v in (one, values)])
        return row.row

    row = against(other)
    welch = stats.ttest_ind(one, other, equal_var=False)
    assert row.p == pytest.approx(welch.pvalue, rel=1e-4)
    assert (row.trend, 0.025 < welch.pvalue < 0.1) == ("holds", True)
    assert against(tuple(v - 20 for v in other)).trend == "falls"


def test_two_cycles_count_with_what_is_usual() -> None:
    """Two cycles at 60 and two at 100 strokes/min: nobody doubts that the rate rose."""
    timings = [
        compute_timing(
            [*steady_arm("right", 0, cycle_s, 2), *steady_arm("left", cycle_s / 2, cycle_s, 2)],
            "freestyle", 1 / 60, None, DEFAULT_MARKER,
        )
        for cycle_s in (2.0, 1.2)
    ]  # fmt: skip
    steps = [sure(step_of(n, t, 90.0 - 10 * n)) for n, t in enumerate(timings)]
    found = {row.name: row.trend for row in rows(steps)}
    assert found["Stroke rate"] == "rises"
    assert found["Distance per cycle"] == "falls"
    # Angles of two takings each: 4 degrees are usual, so that 6 apart tell nothing and 40 do.
    (near,) = frame_rows([[taken("elbow", "", 150, 150)], [taken("elbow", "", 144, 144)]])
    (far,) = frame_rows([[taken("elbow", "", 150, 150)], [taken("elbow", "", 110, 110)]])
    assert (near.row.trend, far.row.trend) == ("holds", "falls")


def test_a_count_that_is_the_same_holds() -> None:
    same, other = Value(6.0, 0.0), Value(4.0, 0.0)
    assert [_p(same, same, 1), _p(same, other, 1)] == [1.0, None]
    assert _p(Value(6.0, 0.2), Value(6.0, 0.2), 1) is None


def test_one_stretch_counts_by_what_is_usual() -> None:
    """Two of 100 of the speed, besides how well it was timed."""
    found = sure(step(2.0, None, passes="pass 5m 1; pass 10m 5"))
    between = found.per_cycle_m.between
    assert between is not None
    assert found.per_cycle_m.u is not None
    least = math.hypot(0.02 * 2.5, found.per_cycle_m.u)
    assert least < between.u < math.hypot(least, 0.03 * 2.5)
    squared = found.index.between
    assert squared is not None
    assert squared.u > 2 * between.u


@pytest.mark.simulation
def test_alike_at_every_speed_seldom_shows_a_trend() -> None:
    """The same swimmer twice, at a pace that was asked for: at most 2.5 of 100 tables, and luck."""
    rng, shown, swims = random.Random(8), 0, 120
    # One person marks both clips, so that the habit is the same in both.
    steady = Marker({k: e.without_habit for k, e in DEFAULT_MARKER.errors.items()})
    for _ in range(swims):
        found = []
        for key, pace_s in ((1, 80.0), (2, 80.0)):
            swim = marked(crawl(Swimmer(walls=False, cycles=4), rng), steady, 60, rng)
            timing = compute_timing(swim, "freestyle", 1 / 60, None, DEFAULT_MARKER)
            made = step_of(key, timing, pace_s)
            assert made is not None
            found.append(made)
        shown += any(row.trend in ("rises", "falls") for row in rows(found))
    # 7 of 120: a share of 0.025 gives more once in 40 times.
    assert shown <= 7
