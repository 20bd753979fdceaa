"""Whole lengths on a film, as a coach would count them at the wall."""

from __future__ import annotations

import pytest

from norvik.core.followup.length_log import length_log
from norvik.core.followup.lengths_on_film import lengths_on_film
from norvik.core.strokes import STROKES
from norvik.core.time.resolve import resolve
from tests.marking import marks

#: Push at 2 s, up at 5 s after three beats; four strokes, one breath; touch at 13 s.
LENGTH = (
    "push 2; L beat 2.5; R beat 3; L beat 3.5; breakout 5; R entry 5.5; L entry 6.2; R entry 6.9;"
    "L entry 7.6; R turn 6.5; R air 6.6; down 7; touch 13;"
)


def lengths(text: str, stroke: str = "freestyle"):  # type: ignore[no-untyped-def]
    return lengths_on_film(resolve(marks(text), STROKES[stroke]))


def test_a_length_from_push_to_touch() -> None:
    (one,) = lengths(LENGTH)
    assert one.seconds == pytest.approx(11)
    assert one.strokes == 4
    assert one.under_s == pytest.approx(3)
    assert one.kicks == 3
    assert one.breaths == 1


def test_lengths_add_up_from_wall_to_wall() -> None:
    # The turn of 1 s belongs to the next length, as on a watch that is read at each touch.
    second = "push 14; breakout 16; R entry 16.5; L entry 17.2; touch 25"
    first, other = lengths(LENGTH + second)
    assert other.seconds == pytest.approx(12)
    assert other.strokes == 2
    assert first.seconds + other.seconds == pytest.approx(25 - 2)
    assert length_log([first, other], 25).total_s == pytest.approx(23)


def test_a_start_counts_from_the_signal() -> None:
    (one,) = lengths("signal 1; block 1.7; water 2.1; breakout 5; R entry 6; L entry 6.8; touch 14")
    assert one.seconds == pytest.approx(13)
    assert one.under_s == pytest.approx(3.3)


@pytest.mark.parametrize(
    "text",
    ["", "touch 3", "push 3", "breakout 1; touch 5", "push 3; breakout 5; R entry 6",
     "touch 1; touch 9"],
)  # fmt: skip
def test_a_part_of_a_length_is_none(text: str) -> None:
    assert lengths(text) == []


def test_strokes_are_only_counted_where_both_arms_are_marked_without_a_gap() -> None:
    (one_arm,) = lengths("push 2; R entry 5; R entry 6.4; touch 13")
    assert one_arm.strokes is None
    assert one_arm.breaths is None
    (missing,) = lengths(
        "push 2; R entry 5; L entry 5.7; R entry 6.4; L entry 7.1; R entry 7.8; L entry 8.5;"
        "R entry 12.0; L entry 12.5; touch 13"
    )
    assert missing.strokes is None
    (fly,) = lengths("push 2; entry 5; entry 6.2; entry 7.4; touch 9", "butterfly")
    assert fly.strokes == 3
