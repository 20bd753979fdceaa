"""What counts and what is left out, rule by rule."""

from __future__ import annotations

import pytest

from norvik.core.time.compute import compute_timing
from tests.marking import marks, steady_arm

#: stroke, marks, keys of the marks that are left out, a word of the reason
CASES = {
    "double entry": ("freestyle", "R entry 0; R entry 0.39; R entry 1.5", [1], "second hand entry"),
    "entries 0.4 s apart are two": ("freestyle", "R entry 1; R entry 1.4", [], ""),
    "an arm mark without a side": ("freestyle", "entry 0; R entry 1", [0], "choose the arm"),
    "both is no arm in backstroke": ("backstroke", "B entry 0; R entry 1", [0], "choose the arm"),
    "a side in butterfly": ("butterfly", "L entry 0; entry 1", [0], "move together"),
    "a side in breaststroke": ("breaststroke", "L out 0; out 1", [0], "together"),
    "the same event twice": (
        "freestyle", "R entry 0; R catch 0.3; R catch 0.4; R exit 1; R entry 1.5", [1, 2], "2 t",
    ),
    "wrong order: both go": (
        "freestyle", "R entry 0; R press 0.3; R catch 0.4; R exit 1; R entry 1.5", [1, 2],
        "is marked",
    ),
    "one against two": (
        "freestyle", "R entry 0; R exit 0.2; R catch 0.4; R press 0.6; R entry 2", [1, 2, 3],
        "is marked",
    ),
    "missing inner events are fine": ("freestyle", "R entry 0; R exit 1; R entry 1.5", [], ""),
    "before the first and after the last entry": (
        "freestyle", "R exit -0.4; R entry 0; R entry 1.5; R catch 1.9", [], "",
    ),
    "a down without air": (
        "freestyle", "R down 0.2; R air 1; R down 1.4", [0], "without “mouth out”",
    ),
    "a second down": ("freestyle", "R air 1; R down 1.4; R down 1.6", [2], "without “mouth out”"),
    "a second air at once": (
        "freestyle", "R air 1; R air 1.39; R down 1.5", [1], "second “mouth out”",
    ),
    "bubbles off without on": ("freestyle", "bubbles-off 1; R air 2", [0], "never started"),
    "bubbles not closed": ("freestyle", "bubbles-on 1; R air 2; bubbles-off 2.5", [0, 2], ""),
    "a second push": ("freestyle", "push 1; push 2; touch 9", [1], "second push"),
    "a second touch": ("freestyle", "touch 1; touch 2; push 3", [1], "second touch"),
    "touch after push is fine": ("freestyle", "push 1; breakout 3; touch 9; push 9.5", [], ""),
    "metres must grow": ("freestyle", "pass 5m 1; pass 10m 3; pass 7m 4; pass 15m 6", [2], "grow"),
    "a new length begins anew": ("freestyle", "pass 20m 1; touch 3; push 3.5; pass 5m 5", [], ""),
    "legs twice": ("breaststroke", "heels 0; set 0.2; set 0.3; close 0.6; heels 1.4", [1, 2], "2 "),
    "an event of another stroke": ("freestyle", "out 0; R entry 1", [0], "not an event"),
}  # fmt: skip


@pytest.mark.parametrize("name", CASES)
def test_left_out(name: str) -> None:
    stroke, text, left_out, word = CASES[name]
    problems = compute_timing(marks(text), stroke).problems
    assert sorted(p.mark.key for p in problems if p.left_out) == left_out
    assert all(word in p.reason for p in problems if p.left_out) or not word


def test_an_entry_after_less_than_half_the_usual_interval_is_left_out() -> None:
    timing = compute_timing(
        marks("R entry 0; R entry 2; R entry 4; R entry 4.8; R entry 6; R entry 8"), "freestyle"
    )
    assert [p.mark.time_s for p in timing.problems] == [4.8]
    assert timing.cycles.by_side["right"] == pytest.approx([2, 2, 2, 2])


def test_a_missing_entry_is_no_cycle_and_said_on_the_later_one_which_stays() -> None:
    timing = compute_timing(
        marks("R entry 0; R entry 2; R entry 4; R catch 4.5; R catch 6.5; R entry 8; R entry 10"),
        "freestyle",
    )
    (problem,) = timing.problems  # the two catches inside the gap contradict nothing
    assert (problem.mark.time_s, problem.left_out) == (8.0, False)
    assert problem.reason == "a hand entry seems to be missing before this one"
    assert timing.cycles.by_side["right"] == pytest.approx([2, 2, 2])
    assert timing.rate.cycles_per_min == pytest.approx(30)


def test_with_two_intervals_nothing_is_called_missing() -> None:
    timing = compute_timing(marks("R entry 0; R entry 1; R entry 5"), "freestyle")
    assert timing.problems == ()
    assert timing.cycles.count == 2


def test_the_median_is_taken_for_each_arm_alone() -> None:
    slow = [m for m in steady_arm("left", 0, 3.0, 4) if m.event == "entry"]
    quick = [m for m in steady_arm("right", 0, 1.0, 12) if m.event == "entry"]
    assert compute_timing(slow + quick, "freestyle").problems == ()


def test_what_is_left_out_enters_no_number_but_the_cycle_counts() -> None:
    timing = compute_timing(
        marks("R entry 0; R press 0.3; R catch 0.4; R exit 1; R entry 1.5; R catch 2; R entry 3"),
        "freestyle",
    )
    assert timing.cycles.count == 2
    assert timing.phases["right"]["entry"].n == 1  # type: ignore[union-attr]
    assert timing.phases["right"]["catch"] is None
    assert timing.phases["right"]["recovery"].n == 1  # type: ignore[union-attr]


def test_equal_times_keep_their_order() -> None:
    right_order = compute_timing(
        marks("R entry 0; R catch 0.5; R press 0.5; R entry 2"), "freestyle"
    )
    wrong_order = compute_timing(
        marks("R entry 0; R press 0.5; R catch 0.5; R entry 2"), "freestyle"
    )
    assert right_order.problems == ()
    assert len(wrong_order.problems) == 2
