"""Phases, coordination, breathing, kick, walls, speed: worked values and hand-computed tables."""

from __future__ import annotations

import pytest

from norvik.core.time.compute import compute_timing
from norvik.core.time.coordination import model_of
from norvik.core.time.marker import GRID_ALONE
from norvik.core.time.phases import symmetry_index_pct
from norvik.core.time.timing import Timing
from tests.marking import marks, steady_arm

FREE = "freestyle"


def two_arms(cycle: float = 1.6, count: int = 4, **more) -> Timing:  # type: ignore[no-untyped-def]
    both = steady_arm("right", 0, cycle, count, **more)
    both += steady_arm("left", cycle / 2, cycle, count, **more)
    return compute_timing(both, FREE, 1 / 60, None, GRID_ALONE)


def test_phase_shares_of_a_steady_arm() -> None:
    timing = two_arms(shares=(0.30, 0.10, 0.35, 0.25))
    for side in ("left", "right", "both"):
        shares = {name: p.share_pct for name, p in timing.phases[side].items() if p}
        assert shares == pytest.approx({"entry": 30, "catch": 10, "pull": 35, "recovery": 25})
    entry = timing.phases["both"]["entry"]
    assert entry is not None
    assert (entry.n, entry.mean_s) == (8, pytest.approx(0.48))
    assert entry.u_s == pytest.approx((1 / 60) / (6 * 8) ** 0.5)


def test_share_is_the_mean_of_each_cycles_own_share() -> None:
    timing = compute_timing(
        marks("R entry 0; R catch 0.5; R entry 1; R catch 1.5; R entry 3"), FREE
    )
    phase = timing.phases["right"]["entry"]
    assert phase is not None
    assert phase.share_pct == pytest.approx((50 + 25) / 2)  # not 100 x 1.0 / 3.0
    assert phase.sd_s == pytest.approx(0, abs=1e-12)


def test_four_phases_only_when_the_shoulder_is_marked() -> None:
    without, with_it = two_arms(), two_arms(shoulder=True)
    assert without.phases4 is not None
    assert all(p is None for row in without.phases4.values() for p in row.values())
    assert with_it.phases4 is not None
    row = {n: p.share_pct for n, p in with_it.phases4["both"].items() if p}
    assert row == pytest.approx({"entry_catch": 40, "pull": 17.5, "push": 17.5, "recovery": 25})


def test_symmetry_index_of_robinson_1987() -> None:
    # Robinson, Herzog and Nigg 1987, J Manipulative Physiol Ther 10:172-176.
    assert symmetry_index_pct(1.0, 1.0) == 0
    assert symmetry_index_pct(0.9, 1.1) == pytest.approx(20.0)
    assert symmetry_index_pct(1.1, 0.9) == pytest.approx(-20.0)


def test_worked_coordination_index() -> None:
    # Worked: T 1.60; right press 0.50, exit 1.10; left exit 0.30, next press 1.30 -> -12.5 %.
    # Sign and names: Chollet, Chalies and Chatard 2000, Int J Sports Med 21:54-59.
    timing = compute_timing(
        marks(
            "R entry 0; L exit 0.3; R press 0.5; L entry 0.8; R exit 1.1; L press 1.3; R entry 1.6;"
            "L exit 1.9; R press 2.1; L entry 2.4"
        ),
        FREE,
    )
    found = timing.coordination
    assert found is not None
    assert found.left_to_right_s == pytest.approx(-0.20)
    assert found.right_to_left_s == pytest.approx(-0.20)
    assert found.index_pct == pytest.approx(-12.5)
    assert found.model == "catch-up"


@pytest.mark.parametrize(
    ("index", "name"),
    [(-2.1, "catch-up"), (-2.0, "opposition"), (0, "opposition"), (2.0, "opposition"),
     (2.1, "superposition")],
)  # fmt: skip
def test_names_of_the_hand_over(index: float, name: str) -> None:
    assert model_of(index) == name


def test_index_of_steady_arms_is_half_the_pull_off_one_half() -> None:
    # Even arms half a cycle apart: exit minus press of the other is (pull share - 0.5) of T.
    for pull in (0.30, 0.50, 0.58):
        timing = two_arms(shares=(0.7 - pull, 0.1, pull, 0.2))
        assert timing.coordination is not None
        assert timing.coordination.index_pct == pytest.approx(100 * (pull - 0.5))


def test_one_direction_alone_gives_no_index() -> None:
    timing = compute_timing(marks("R entry 0; L exit 0.3; R press 0.5; R entry 1.6"), FREE)
    assert timing.coordination is not None
    assert timing.coordination.left_to_right_s == pytest.approx(-0.2)
    assert timing.coordination.index_pct is None
    assert "coordination.index_pct" in timing.reasons


def test_hand_to_hand_rhythm() -> None:
    timing = compute_timing(
        marks("L entry 0; R entry 0.9; L entry 1.6; R entry 2.5; L entry 3.2"), FREE
    )
    assert timing.rhythm_pct == pytest.approx(100 * (0.9 - 0.7) / 1.6)


def test_rhythm_leaves_out_steps_over_a_missing_entry() -> None:
    left = [0.0, 2.0, 4.0, 8.0, 10.0]
    right = [1.0, 3.0, 5.0, 7.2, 9.0]
    text = ";".join([f"L entry {t}" for t in left] + [f"R entry {t}" for t in right])
    # The step 7.2 -> 8.0 lies in the left arm's gap: without it a = b = 1.
    assert compute_timing(marks(text), FREE).rhythm_pct == pytest.approx(0)


def test_front_quadrant() -> None:
    timing = compute_timing(
        marks(
            "R entry 0; R shoulder 1.0; R exit 1.3; L entry 0.8; R entry 1.6; L shoulder 1.5;"
            "L exit 2.0; R shoulder 2.6; R exit 2.9; L entry 2.4; R entry 3.2"
        ),
        FREE,
    )
    # L 0.8: right S 1.0 (+0.2). R 1.6: left S 1.5 (-0.1). L 2.4: right S 2.6 (+0.2).
    # R 3.2: the left cycle has no S.
    assert timing.front_quadrant is not None
    assert timing.front_quadrant.share_pct == pytest.approx(200 / 3)
    assert timing.front_quadrant.lead_pct == pytest.approx(100 * 0.1 / 1.6)


def breathing(text: str, cycles: int = 5) -> Timing:
    arms = steady_arm("right", 0, 2.0, cycles) + steady_arm("left", 1.0, 2.0, cycles)
    return compute_timing(arms + marks(text), FREE, 1 / 60)


@pytest.mark.parametrize(
    ("airs", "pattern", "regular"),
    [
        ("R air 1.5; R air 3.5; R air 5.5", [2, 2], True),
        ("R air 1.5; L air 4.5; R air 7.5", [3, 3], True),
        ("R air 1.5; R air 3.5; L air 6.5", [2, 3], False),
        ("R air 1.5; R air 3.5", [2], None),
        ("R air 1.5", [], None),
        ("R air 2.0; R air 4.0; R air 6.0", [2, 2], True),  # up to and including the air
    ],
)
def test_breathing_pattern(airs: str, pattern: list[int], regular: bool | None) -> None:
    found = breathing(airs).breathing
    assert (found.pattern, found.regular) == (pattern, regular)


def test_pattern_needs_both_arms_over_the_whole_interval() -> None:
    right_only = compute_timing(
        steady_arm("right", 0, 2.0, 5) + marks("R air 1.5; R air 3.5"), FREE
    )
    assert right_only.breathing.pattern == []
    assert "breathing.pattern" in right_only.reasons
    # An air more than one mean cycle beyond the last entry of an arm.
    assert breathing("R air 9.5; R air 13.1").breathing.pattern == []
    assert breathing("R air 9.5; R air 11.5").breathing.pattern == [2]


def test_breath_times() -> None:
    # Right press at 0.8 + 2n, right entry at 2n.
    found = breathing(
        "R turn 0.7; R air 1.3; R down 1.9; bubbles-on 2.1; bubbles-off 3.1;"
        "R turn 2.6; R air 3.3; R down 4.1"
    ).breathing
    assert found.sides == {"left": 0, "right": 2, "front": 0}
    assert found.duration_s == pytest.approx((0.6 + 0.8) / 2)
    assert found.share_of_cycle_pct == pytest.approx(35)
    assert found.head_lead_s == pytest.approx((0.1 + 0.2) / 2)
    assert found.return_s == pytest.approx((0.1 - 0.1) / 2, abs=1e-12)
    assert found.exhale_share_pct == pytest.approx(100 * 1.0 / 1.4)


def test_side_comes_from_air_else_turn_else_front() -> None:
    found = breathing("L turn 1.2; air 1.5; R turn 3; L air 3.5; air 5.5").breathing
    assert found.sides == {"left": 2, "right": 0, "front": 1}


def test_without_any_breath_every_value_is_missing() -> None:
    timing = breathing("")
    for name in type(timing.breathing).__slots__:
        assert getattr(timing.breathing, name) is None
        assert f"breathing.{name}" in timing.reasons


def test_kick() -> None:
    arms = steady_arm("right", 0, 1.5, 4) + steady_arm("left", 0.75, 1.5, 4)
    beats = [f"{'L' if n % 2 else 'R'} beat {0.125 + 0.25 * n}" for n in range(24)]
    timing = compute_timing(arms + marks(";".join(beats)), FREE)
    assert timing.kick is not None
    assert timing.kick.beats_per_cycle == pytest.approx(6)
    assert timing.kick.beats_per_pull == pytest.approx(3)
    assert timing.kick.beats_per_min == pytest.approx(240)
    assert timing.kick.longest_gap_s == pytest.approx(0.25)
    assert timing.kick.pause_on_breath is None


def test_kick_pauses_on_the_breath() -> None:
    text = "R beat 0;L beat 0.3;R beat 0.6;L beat 1.2;R beat 1.5;L beat 1.8;R beat 2.1;L beat 2.4"
    paused = compute_timing(marks(text + "; R air 0.8; R down 1.1"), FREE)
    held = compute_timing(marks(text + "; R air 1.6; R down 1.7"), FREE)
    assert paused.kick is not None
    assert held.kick is not None
    assert paused.kick.pause_on_breath is True
    assert held.kick.pause_on_breath is False


def test_a_turn_with_everything_marked() -> None:
    timing = compute_timing(
        marks(
            "pass 20m 6.5; R entry 8.0; touch 9.0; push 9.6; R beat 10; L beat 10.4; breakout 13.0;"
            "pass 5m 12.0; pass 15m 17.0; R exit 13.5; L exit 14.2; R air 15.0; R entry 13.8"
        ),
        FREE,
        1 / 60,
        pool_m=25,
    )
    (wall,) = timing.walls
    assert (wall.touch_s, wall.push_s, wall.breakout_s) == (9.0, 9.6, 13.0)
    assert wall.turn_s == pytest.approx(0.6)
    assert wall.under_water_s == pytest.approx(3.4)
    assert wall.beats == 2
    assert wall.strokes_before_breath == 2
    assert wall.breakout_m == pytest.approx(7.0)  # between 5 m at 12 s and 15 m at 17 s
    assert wall.glide_in_s == pytest.approx(1.0)
    assert wall.five_m_in_out_s == pytest.approx(12.0 - 6.5)


def test_a_finish_is_a_wall_without_push() -> None:
    timing = compute_timing(marks("R entry 8; touch 9"), FREE)
    (wall,) = timing.walls
    assert wall.push_s is None
    assert wall.glide_in_s == pytest.approx(1.0)
    assert "walls.0.push_s" in timing.reasons


def test_speed_distance_and_stroke_index() -> None:
    # v = rate x distance per cycle: Craig and Pendergast 1979, Med Sci Sports 11:278-283. Stroke
    # index: Costill et al. 1985, Int J Sports Med 6:266-270. Worked: 1.50 m/s at 30 cycles/min.
    arm = steady_arm("right", 0, 2.0, 5)
    timing = compute_timing(arm + marks("pass 5m 0; pass 15m 6.666666666666667"), FREE)
    speed = timing.speed
    assert speed.m_per_s == pytest.approx(1.5)
    assert speed.distance_per_cycle_m == pytest.approx(3.0)
    assert speed.stroke_index == pytest.approx(4.5)
    assert speed.m_per_s == pytest.approx(
        timing.rate.cycles_per_min / 60 * speed.distance_per_cycle_m  # type: ignore[operator]
    )
    assert timing.hold_distance_m == pytest.approx(1.5 * 0.8)


def test_speed_sums_over_lengths() -> None:
    timing = compute_timing(
        marks("pass 5m 0; pass 15m 5; touch 12; push 12.5; pass 5m 15; pass 10m 18"), FREE
    )
    assert timing.speed.m_per_s == pytest.approx(15 / 8)


def test_breaststroke_has_its_own_phases_legs_and_gaps() -> None:
    cycle = "out {0}; in {0}.4; shoot {0}.8; heels {0}.7; long {1}.2; set {1}.0; close {1}.4;"
    text = "".join(cycle.format(2 * n, 2 * n + 1) for n in range(4)) + "out 8"
    timing = compute_timing(marks(text), "breaststroke", 0.02)
    shares = {n: p.share_pct for n, p in timing.phases["both"].items() if p}
    assert shares == pytest.approx({"catch": 20, "pull": 20, "recovery": 20, "entry": 40})
    assert timing.legs is not None
    legs = {n: p.mean_s for n, p in timing.legs.items() if p}
    assert legs == pytest.approx({"heels": 0.3, "kick": 0.4, "glide": 1.3})
    assert timing.gaps is not None
    assert timing.gaps.t1_s == pytest.approx(0.6)
    assert timing.gaps.t2_s == pytest.approx(-0.1)
    assert timing.gaps.t3_s == pytest.approx(-0.2)
    assert timing.gaps.t1_pct == pytest.approx(30)
    assert timing.kick is None
    assert timing.coordination is None


def test_butterfly_breath_in_the_push() -> None:
    cycles = "".join(
        f"entry {1.5 * n}; press {1.5 * n + 0.5}; exit {1.5 * n + 1.1};" for n in range(4)
    )
    timing = compute_timing(marks(cycles + "entry 6; air 0.9; air 2.2; air 4.4"), "butterfly")
    # Middle of press to exit 0.8: 0.9 is in; 2.2 - 1.5 = 0.7 too early; 4.4 - 3 = 1.4 too late.
    assert timing.breathing.in_push_share_pct == pytest.approx(100 / 3)
    assert timing.breathing.breaths_per_cycle == pytest.approx(3 / 4)


def test_swapping_sides_mirrors_the_numbers() -> None:
    text = "L entry 0; R entry 0.9; L entry 1.6; R entry 2.5;"
    text += "L exit 1.2; R press 1.3; R exit 2; L press 2.2"
    swapped = text.replace("L ", "X ").replace("R ", "L ").replace("X ", "R ")
    a, b = (compute_timing(marks(t), FREE) for t in (text, swapped))
    assert b.rhythm_pct == pytest.approx(-a.rhythm_pct)  # type: ignore[operator]
    assert a.coordination is not None
    assert b.coordination is not None
    assert b.coordination.left_to_right_s == pytest.approx(a.coordination.right_to_left_s)
    assert b.coordination.index_pct == pytest.approx(a.coordination.index_pct)
