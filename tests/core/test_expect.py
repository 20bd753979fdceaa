"""What the tool expects to be marked next."""

import pytest

from norvik.core.strokes import STROKES
from norvik.core.time.expect import expected_arm, expected_breath, wall_expectations
from tests.marking import marks

MARKED = marks("R entry 1; R catch 1.4; L entry 1.9; R press 1.6; R exit 2.2; R turn 1.5; R air 2")


@pytest.mark.parametrize(
    ("side", "at", "event"),
    [
        ("right", 0.5, "entry"),
        ("right", 1.0, "catch"),
        ("right", 1.5, "press"),
        ("right", 2.0, "exit"),  # the shoulder is marked only when asked for
        ("right", 3.0, "entry"),
        ("left", 1.5, "entry"),
        ("left", 2.5, "catch"),
    ],
)
def test_arm(side: str, at: float, event: str) -> None:
    assert expected_arm(MARKED, STROKES["freestyle"], side, at) == event


@pytest.mark.parametrize(("at", "event"), [(1, "turn"), (1.7, "air"), (2.5, "down")])
def test_breath(at: float, event: str) -> None:
    assert expected_breath(MARKED, at) == event


def test_two_marks_on_one_frame_count_in_the_order_of_placing() -> None:
    assert expected_arm(marks("R entry 1; R catch 1"), STROKES["freestyle"], "right", 1) == "press"


def test_breaststroke_begins_with_out() -> None:
    assert expected_arm([], STROKES["breaststroke"], "both", 0) == "out"


@pytest.mark.parametrize(
    ("text", "events"),
    [
        ("", ["push"]),
        ("push 1; breakout 3", ["push", "breakout", "touch"]),
        ("R entry 1; touch 5; push 6", ["push", "touch", "push", "breakout"]),
        ("push 1; R entry 4", ["push", "breakout"]),
    ],
)
def test_wall(text: str, events: list[str]) -> None:
    assert [event for _, event in wall_expectations(marks(text))] == events
