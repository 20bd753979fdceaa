"""What happens at a wall, worked by hand: times, counts, places, and why one is missing."""

from __future__ import annotations

import pytest

from norvik.core.time.compute import compute_timing
from norvik.core.time.walls import Wall, wall_marks
from tests.marking import marks

#: Into the wall: the last entry at 2.4, touch at 4.2; push at 5, breakout at 8, on a pool of 25 m.
IN = "R entry 0; R catch 0.4; R exit 1.2; L entry 0.8; L catch 1.0; L exit 2.0; R entry 2.4"
TURN = "pass 20m 1.5; touch 4.2; push 5.0; beat 5.5; beat 6.0; beat 7.0; breakout 8.0"
OUT = (
    "pass 5m 7.0; pass 10m 9.0; L entry 8.2; R entry 8.8; L exit 9.1; R exit 9.6; L entry 10.0; "
    "R turn 9.8; R air 10.4; R down 10.9; R entry 10.6; L exit 11"
)


def walls(text: str, pool_m: float | None = 25.0, stroke: str = "freestyle") -> list[Wall]:
    return list(compute_timing(marks(text), stroke, 1 / 60, pool_m).walls)


def reasons(text: str, pool_m: float | None = 25.0, stroke: str = "freestyle") -> dict[str, str]:
    found = compute_timing(marks(text), stroke, 1 / 60, pool_m).reasons
    return {path: why for path, why in found.items() if path.startswith("walls")}


def test_a_whole_turn() -> None:
    (wall,) = walls(f"{IN}; {TURN}; {OUT}")
    assert wall == Wall(
        touch_s=4.2, push_s=5.0, breakout_s=8.0, under_water_s=pytest.approx(3.0), beats=3,
        strokes_before_breath=2, breakout_m=pytest.approx(7.5),
        glide_in_s=pytest.approx(4.2 - 2.4), turn_s=pytest.approx(0.8),
        five_m_in_out_s=pytest.approx(7.0 - 1.5),
    )  # fmt: skip
    assert not reasons(f"{IN}; {TURN}; {OUT}")


def test_what_each_time_rests_on() -> None:
    timing = compute_timing(marks(f"{IN}; {TURN}; {OUT}"), "freestyle", 1 / 60, 25.0)
    (found,) = wall_marks(timing.resolved, 25.0)
    assert {name: mark.time_s for name, mark in found.instants.items()} == {
        "touch_s": 4.2, "push_s": 5.0, "breakout_s": 8.0,
    }  # fmt: skip
    assert {n: (a.time_s, b.time_s) for n, (a, b) in found.intervals.items()} == {
        "under_water_s": (5.0, 8.0), "glide_in_s": (2.4, 4.2), "turn_s": (4.2, 5.0),
        "five_m_in_out_s": (1.5, 7.0),
    }  # fmt: skip
    assert found.breakout is not None
    before, m0, after, m1, out = found.breakout
    assert (before.time_s, m0, after.time_s, m1, out.time_s) == (7.0, 5.0, 9.0, 10.0, 8.0)


def test_why_what_is_missing_is_missing() -> None:
    assert reasons("push 5") == {
        "walls.0.touch_s": "no touch is marked before this push-off",
        "walls.0.breakout_s": "no breakout is marked after the push-off",
        "walls.0.under_water_s": "needs push-off and breakout",
        "walls.0.beats": "needs push-off, breakout and kicks",
        "walls.0.strokes_before_breath": "needs breakout, hand exit and a breath",
        "walls.0.breakout_m": "needs a breakout and a pass after it",
        "walls.0.glide_in_s": "needs touch and the last hand entry before it",
        "walls.0.turn_s": "needs touch and push-off",
        "walls.0.five_m_in_out_s":
            "needs the pool's length and passes 5 m before and after the wall",
    }  # fmt: skip
    finish = reasons("R entry 0; touch 4", stroke="breaststroke")
    assert finish["walls.0.push_s"] == "no push-off follows this touch"
    assert finish["walls.0.glide_in_s"] == "needs touch and the last full extension before it"
    assert "walls.0.touch_s" not in finish


def test_touches_and_pushes_are_paired_in_their_order() -> None:
    found = walls("push 1; touch 10; push 11; touch 20; push 21; touch 30")
    assert [(w.touch_s, w.push_s) for w in found] == [
        (None, 1.0), (10.0, 11.0), (20.0, 21.0), (30.0, None),
    ]  # fmt: skip
    assert [w.turn_s for w in found] == [None, 1.0, 1.0, None]
    # The second wall's reasons are told of the second wall.
    assert "walls.1.touch_s" not in reasons("push 1; touch 10; push 11")
    assert "walls.0.touch_s" in reasons("push 1; touch 10; push 11")


def test_a_breakout_belongs_to_the_length_of_its_push() -> None:
    first, second = walls("push 1; touch 10; push 11; breakout 14")
    assert (first.breakout_s, first.under_water_s) == (None, None)
    assert (second.breakout_s, second.under_water_s) == (14.0, 3.0)


def test_beats_between_push_and_breakout_alone() -> None:
    text = "beat 4.9; push 5; {}breakout 8; beat 8.1"
    (with_some,) = walls(text.format("beat 5.1; beat 7.9; "))
    assert with_some.beats == 2
    (none_there,) = walls(text.format(""))
    assert none_there.beats == 0
    (no_beats,) = walls("push 5; breakout 8")
    assert no_beats.beats is None


@pytest.mark.parametrize(
    ("passes", "metres"),
    [
        ("pass 5m 7; pass 10m 9", 7.5), ("pass 10m 9", 7.5), ("pass 5m 8; pass 10m 9", 5.0),
        ("pass 5m 6; pass 15m 10", 10.0), ("pass 5m 7", None), ("", None),
    ],
)  # fmt: skip
def test_where_the_breakout_lies(passes: str, metres: float | None) -> None:
    """Between two known places in a straight line; the push is at 0 m."""
    (wall,) = walls(f"push 5; breakout 8; {passes}" if passes else "push 5; breakout 8")
    assert wall.breakout_m == (None if metres is None else pytest.approx(metres))


@pytest.mark.parametrize(
    ("text", "pool_m", "seconds"),
    [
        ("pass 20m 1.5; touch 4; push 5; pass 5m 7", 25.0, 5.5),
        ("pass 45m 1.5; touch 4; push 5; pass 5m 7", 50.0, 5.5),
        ("pass 20m 1.5; touch 4; push 5; pass 5m 7", 50.0, None),
        ("pass 20m 1.5; touch 4; push 5; pass 5m 7", None, None),
        ("pass 20m 1.5; touch 4; push 5; pass 6m 7", 25.0, None),
        ("pass 19m 1.5; touch 4; push 5; pass 5m 7", 25.0, None),
        ("touch 4; push 5; pass 5m 7; pass 20m 9", 25.0, None),
    ],
)
def test_five_metres_in_and_out(text: str, pool_m: float | None, seconds: float | None) -> None:
    (wall,) = walls(text, pool_m)
    assert wall.five_m_in_out_s == seconds


def test_the_glide_begins_at_the_last_reach_of_either_arm_in_that_length() -> None:
    (wall,) = walls("R entry 0; R catch 0.5; L entry 1; L catch 1.5; touch 3; push 4; R entry 6; "
                    "R catch 6.5")  # fmt: skip
    assert wall.glide_in_s == 2.0
    (none_before,) = walls("touch 3; push 4; R entry 6; R catch 6.5")
    assert none_before.glide_in_s is None
    (breast,) = walls("out 0; in 0.4; shoot 0.8; long 1.2; out 2; touch 3", stroke="breaststroke")
    assert breast.glide_in_s == pytest.approx(1.8)


def test_strokes_before_the_first_breath() -> None:
    after = (
        "push 1; breakout 2; L entry 2.1; L exit 3; R entry 2.6; R exit 3.5; L entry 4; L exit 5"
    )
    (wall,) = walls(f"{after}; R turn 3.2; R air 3.8; R down 4.4")
    assert wall.strokes_before_breath == 2
    (at_once,) = walls(f"{after}; R turn 2.2; R air 2.5; R down 2.9")
    assert at_once.strokes_before_breath == 0
    (without,) = walls(after)
    assert without.strokes_before_breath is None
    (before,) = walls(f"R turn 1.2; R air 1.5; R down 1.8; {after}")
    assert before.strokes_before_breath is None
