"""Cycles, rate and breathing of a few strokes worked out by hand, to the digit."""

from __future__ import annotations

import math

import pytest

from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import GRID_ALONE
from norvik.core.time.timing import Timing

#: Entries of each hand: cycles of 2.0 and 2.2 s on the right, 2.1 and 2.0 s on the left.
RIGHT, LEFT = (1.0, 3.0, 5.2), (2.0, 4.1, 6.1)
CYCLES = (2.0, 2.2, 2.1, 2.0)


def timed(*more: Mark, frame_s: float | None = None) -> Timing:
    entries = [Mark(t, "arm", "right", "entry") for t in RIGHT]
    entries += [Mark(t, "arm", "left", "entry") for t in LEFT]
    return compute_timing([*entries, *more], "freestyle", frame_s, None, GRID_ALONE)


def breath(air: float, down: float | None = None, turn: float | None = None, side: str = "right"
) -> list[Mark]:  # fmt: skip
    found = [Mark(air, "breath", side, "air")]
    if down is not None:
        found.append(Mark(down, "breath", "", "down"))
    if turn is not None:
        found.append(Mark(turn, "breath", side, "turn"))
    return found


def test_cycles_and_rate() -> None:
    timing = timed()
    mean = math.fsum(CYCLES) / 4
    variance = math.fsum((c - mean) ** 2 for c in CYCLES) / 3
    times = timing.cycles.time_s
    assert timing.cycles.count == 4
    assert timing.cycles.by_side == {
        "right": pytest.approx([2.0, 2.2]), "left": pytest.approx([2.1, 2.0]), "both": [],
    }  # fmt: skip
    assert times.mean == pytest.approx(2.075)
    assert times.sd == pytest.approx(math.sqrt(variance))
    assert times.cv_pct == pytest.approx(100 * math.sqrt(variance) / mean)
    # Without a frame interval nobody knows what marking adds.
    assert (times.own_sd, times.own_cv_pct) == (None, None)
    assert timing.rate.cycles_per_min == pytest.approx(60 / 2.075)
    assert timing.rate.strokes_per_min == pytest.approx(120 / 2.075)


def test_the_swimmers_own_spread_is_what_marking_does_not_explain() -> None:
    """Marks on frames: variance D^2/12 each. Cycles of one arm share a mark.

    Of four cycles, two and two in a row: the sum of squared deviations grows by the trace of
    C A A' C, which is 8 - (2 + 2) / 4 = 7 marks' variances; over 3.
    """
    frame_s = 1 / 10
    timing = timed(frame_s=frame_s)
    mean = math.fsum(CYCLES) / 4
    variance = math.fsum((c - mean) ** 2 for c in CYCLES) / 3
    noise = 7 / 3 * frame_s**2 / 12
    own = math.sqrt(variance - noise)
    assert timing.cycles.time_s.own_sd == pytest.approx(own)
    assert timing.cycles.time_s.own_cv_pct == pytest.approx(100 * own / mean)


def test_breaths_by_hand() -> None:
    """Two breaths to the right, 2.1 s apart, each of 0.4 s, with two entries between them."""
    press = [Mark(t, "arm", "right", "press") for t in (2.3, 4.4)]
    timing = timed(*press, *breath(2.5, 2.9, 2.2), *breath(4.6, 5.0, 4.2))
    found = timing.breathing
    assert found.pattern == [2]
    assert found.regular is None
    assert found.sides == {"left": 0, "right": 2, "front": 0}
    assert found.duration_s == pytest.approx(0.4)
    assert found.share_of_cycle_pct == pytest.approx(40 / 2.075)
    # 0.1 and 0.2 s from the turn to the pull; as much from face in to the next right entry.
    assert found.head_lead_s == pytest.approx(0.15)
    assert found.return_s == pytest.approx(0.15)
    assert found.breaths_per_cycle is None
    assert found.in_push_share_pct is None


def test_a_regular_pattern_and_one_that_changes() -> None:
    regular = timed(*breath(2.5), *breath(4.6), *breath(6.5)).breathing
    assert (regular.pattern, regular.regular) == ([2, 2], True)
    changing = timed(*breath(2.5), *breath(3.5), *breath(6.5)).breathing
    assert (changing.pattern, changing.regular) == ([1, 3], False)
    # An entry at the very instant of the air belongs to what was before.
    edge = timed(*breath(3.0), *breath(5.2)).breathing
    assert edge.pattern == [2]


@pytest.mark.parametrize(("turn", "lead"), [(1.2625, 1.0375), (1.2624, None), (3.3375, -1.0375)])
def test_a_pull_more_than_half_a_cycle_away_is_of_another_stroke(
    turn: float, lead: float | None
) -> None:
    press = Mark(2.3, "arm", "right", "press")
    found = timed(press, *breath(3.4, None, turn)).breathing.head_lead_s
    assert found == (None if lead is None else pytest.approx(lead))


def fly(*more: Mark) -> Timing:
    marks = []
    for start in (1.0, 2.5):
        for event, into in (("entry", 0.0), ("press", 0.5), ("exit", 1.1)):
            marks.append(Mark(start + into, "arm", "", event))
    return compute_timing([*marks, Mark(4.0, "arm", "", "entry"), *more], "butterfly")


@pytest.mark.parametrize(("air", "share"), [(1.79, 0.0), (1.80, 100.0), (2.1, 100.0), (2.11, 0.0)])
def test_the_push_of_butterfly_is_the_second_half_of_the_pull(air: float, share: float) -> None:
    """From half-way between pull (1.5) and exit (2.1) to the exit, both ends in it."""
    found = fly(Mark(air, "breath", "front", "air")).breathing
    assert found.in_push_share_pct == pytest.approx(share)
    assert found.breaths_per_cycle == pytest.approx(0.5)


def test_where_the_hands_pass_the_shoulders_the_push_begins_there() -> None:
    under = Mark(1.9, "arm", "", "shoulder")
    for air, share in ((1.85, 0.0), (1.9, 100.0)):
        found = fly(under, Mark(air, "breath", "front", "air")).breathing
        assert found.in_push_share_pct == pytest.approx(share)
    # One breath in each cycle: one in the push, one after it.
    both = fly(*(Mark(t, "breath", "front", "air") for t in (1.9, 3.7))).breathing
    assert both.in_push_share_pct == pytest.approx(50)
    assert both.breaths_per_cycle == pytest.approx(1.0)


def test_exhaling_is_a_share_of_the_time_face_down() -> None:
    bubbles = [Mark(3.4, "breath", "", "bubbles-on"), Mark(4.4, "breath", "", "bubbles-off")]
    found = timed(*breath(2.5, 2.9), *bubbles, *breath(4.9, 5.3)).breathing
    # From 2.9 to 4.9 the face is down; bubbles for half of it.
    assert found.exhale_share_pct == pytest.approx(50)
