"""The containers of resolved marks, and passes that cannot be, to the digit and to the word."""

from __future__ import annotations

import math

import pytest

from norvik.core.strokes import STROKES
from norvik.core.strokes.events import Mark, Problem
from norvik.core.time.resolve.course import settle_course
from norvik.core.time.resolve.marks import OrderedMark, ResolvedMarks, Slot


def placed(
    order: int, time_s: float, event: str = "entry", side: str = "right", length: int = 0,
    lane: str = "arm", metres: float | None = None, key: int = -1,
) -> OrderedMark:  # fmt: skip
    mark = Mark(time_s, lane, side, event, key=key, metres=metres)
    return OrderedMark(mark, order, length, time_s)


def resolved(*slots: Slot, stroke: str = "freestyle") -> ResolvedMarks:
    return ResolvedMarks(
        STROKES[stroke], (), slots, (), (), (), (), (), (), (), ()
    )  # fmt: skip


def slot(side: str, start: OrderedMark | None, end: OrderedMark | None, kind: str = "cycle",
         **inner: OrderedMark) -> Slot:  # fmt: skip
    return Slot(side, 0, start, end, kind, dict(inner))


# ---- passes ----


def a_pass(order: int, metres: float | None, length: int = 0) -> OrderedMark:
    return placed(order, float(order), "pass", "", length, "course", metres)


def test_metres_grow_within_a_length_and_begin_anew_in_the_next() -> None:
    problems: list[Problem] = []
    course = [a_pass(0, 5.0), a_pass(1, 15.0), a_pass(2, 5.0, length=1), a_pass(3, 6.0, length=1)]
    assert settle_course(course, problems) == course
    assert problems == []


@pytest.mark.parametrize(
    ("metres", "sentence"),
    [
        (15.0, "15 m after 15 m: metres must grow"),
        (9.5, "9.5 m after 15 m: metres must grow"),
        (None, "a pass needs its metres in the note, such as 15 m"),
    ],
)
def test_a_pass_that_cannot_be_is_left_out_with_its_reason(
    metres: float | None, sentence: str
) -> None:
    problems: list[Problem] = []
    first, wrong, last = a_pass(0, 15.0), a_pass(1, metres), a_pass(2, 20.0)
    assert settle_course([first, wrong, last], problems) == [first, last]
    assert problems == [Problem(wrong.mark, sentence)]


def test_a_pass_at_the_very_wall_may_come_first() -> None:
    problems: list[Problem] = []
    first, second = a_pass(0, 0.0), a_pass(1, 0.5)
    assert settle_course([first, second], problems) == [first, second]
    assert problems == []


# ---- slots ----


def test_a_slot_knows_how_long_it_is_where_both_ends_are_there() -> None:
    whole = slot("right", placed(0, 1.0), placed(3, 2.5))
    assert (whole.seconds, whole.middle_s) == (1.5, 1.75)
    for part in (slot("right", None, placed(1, 2.0)), slot("right", placed(1, 2.0), None)):
        assert math.isnan(part.seconds)
        assert math.isnan(part.middle_s)
        assert not part.overlaps(-10, 10)


def test_a_slot_finds_its_marks_by_event() -> None:
    opens, catch = placed(0, 1.0), placed(1, 1.4, "catch")
    whole = slot("right", opens, placed(2, 2.5), catch=catch)
    assert whole.at("entry", "entry") is opens
    assert whole.at("catch", "entry") is catch
    assert whole.at("press", "entry") is None


@pytest.mark.parametrize(
    ("from_s", "to_s", "shares"),
    [(0.0, 1.0, False), (0.0, 1.01, True), (2.49, 9.0, True), (2.5, 9.0, False), (1.2, 1.3, True),
     (0.0, 9.0, True)],
)  # fmt: skip
def test_stretches_that_only_touch_share_no_time(from_s: float, to_s: float, shares: bool) -> None:
    assert slot("right", placed(0, 1.0), placed(3, 2.5)).overlaps(from_s, to_s) is shares


# ---- all of a clip ----


def test_cycles_openings_and_marks_are_in_time_order_over_both_arms() -> None:
    r = [placed(0, 1.0), placed(4, 3.0), placed(8, 5.0)]
    left = [placed(2, 2.0, side="left"), placed(6, 4.0, side="left")]
    press = placed(5, 3.5, "press")
    loose = placed(7, 4.5, "press")
    gap = Slot("right", 0, r[2], placed(11, 9.0), "gap", {}, [loose])
    clip = resolved(
        slot("right", r[1], r[2], press=press), gap, slot("right", r[0], r[1]),
        slot("left", left[0], left[1]), slot("left", left[1], None, "partial"),
    )  # fmt: skip
    assert [c.start.order for c in clip.cycles if c.start] == [0, 2, 4]
    assert clip.mean_cycle_s == pytest.approx(2.0)
    assert [p.order for p in clip.openings()] == [0, 2, 4, 6, 8]
    assert [p.order for p in clip.openings("left")] == [2, 6]
    assert [p.order for p in clip.openings("right")] == [4, 8, 0]
    assert clip.marks_of("press", "right") == [press, loose]
    assert clip.marks_of("press", "left") == []
    assert clip.gaps == (gap,)
    assert clip.gap_between(8.0, 10.0)
    assert clip.gap_between(8.0, 10.0, "right")
    assert not clip.gap_between(8.0, 10.0, "left")
    assert not clip.gap_between(9.0, 10.0)
    assert not resolved(slot("right", r[0], r[1])).gap_between(0, 10)


def test_a_clip_without_a_whole_cycle_has_no_mean() -> None:
    clip = resolved(slot("both", placed(0, 1.0, side=""), None, "partial"), stroke="butterfly")
    assert clip.cycles == ()
    assert clip.mean_cycle_s is None


def test_the_slot_of_a_mark_is_found_by_its_key() -> None:
    first = slot("right", placed(0, 1.0, key=7), placed(2, 2.0, key=9), catch=placed(1, 1.5, key=8))
    second = slot("right", placed(2, 2.0, key=9), None, "partial")
    gap = Slot("left", 0, placed(3, 3.0), placed(5, 6.0), "gap", {}, [placed(4, 4.0, key=11)])
    clip = resolved(first, second, gap)
    assert [clip.slot_of(k) for k in (7, 8, 9, 11, 12)] == [first, first, second, gap, None]
