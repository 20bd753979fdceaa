"""The time base: ramps, the time check, and when a clip's times are in doubt."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from norvik.core.errors import TimeBaseError
from norvik.core.time.timebase import Stretch, TimeBase, checked_stretches
from norvik.core.time.timecheck import check_time
from norvik.core.time.timetrust import doubts

#: Ten seconds stored at 30 frames/s.
MEDIA_S = np.arange(300) / 30
#: Normal, slow (recorded at 240 frames/s), normal.
RAMPS = (Stretch(0, 1.0), Stretch(60, 8.0), Stretch(220, 1.0))


def test_a_ramp_is_timed_segment_by_segment() -> None:
    base = TimeBase(MEDIA_S, RAMPS)
    assert base.ramps
    # 60 steps of 1/30 s, 160 of 1/240 s, 79 of 1/30 s.
    assert base.time_of(60) == pytest.approx(2.0)
    assert base.time_of(220) == pytest.approx(2.0 + 160 / 240)
    assert base.time_of(299) == pytest.approx(2.0 + 160 / 240 + 79 / 30)
    # A plus-minus across the edge is that of the coarser side.
    assert base.interval_at([100, 120]) == pytest.approx(1 / 240)
    assert base.interval_at([30, 100]) == pytest.approx(1 / 30)
    assert TimeBase(MEDIA_S, (Stretch(0, 8.0),)).interval_at([30]) == pytest.approx(1 / 240)


@given(
    steps=st.lists(st.floats(0.001, 0.5), min_size=5, max_size=60),
    factors=st.lists(st.floats(0.05, 100), min_size=1, max_size=4),
    data=st.data(),
)
def test_time_grows_and_each_step_has_its_own_factor(
    steps: list[float], factors: list[float], data: st.DataObject
) -> None:
    media = np.concatenate(([0.0], np.cumsum(steps)))
    begins = [0, *sorted(data.draw(st.sets(st.integers(1, len(steps)), max_size=3)))]
    stretches = [Stretch(b, f) for b, f in zip(begins, factors, strict=False)]
    base = TimeBase(media, checked_stretches(stretches))
    assert np.all(np.diff(base.real_s) > 0)
    for frame, step in enumerate(steps):
        factor = [s.factor for s in stretches if s.from_frame <= frame][-1]
        assert base.real_s[frame + 1] - base.real_s[frame] == pytest.approx(step / factor)
        assert base.frame_nearest(base.time_of(frame)) == frame


@pytest.mark.parametrize(
    ("stretches", "sentence"),
    [
        ([], "begin at the first frame"),
        ([Stretch(5, 1.0)], "begin at the first frame"),
        ([Stretch(0, 0.0)], "between 0.05 and 100"),
        ([Stretch(0, math.nan)], "between 0.05 and 100"),
        ([Stretch(0, 1.0), Stretch(9, 2.0), Stretch(9, 4.0)], "begin at frame 9"),
    ],
)
def test_stretches_that_cannot_be(stretches: list[Stretch], sentence: str) -> None:
    with pytest.raises(TimeBaseError, match=sentence):
        checked_stretches(stretches)


def test_neighbours_of_one_factor_are_one_stretch() -> None:
    assert checked_stretches([Stretch(9, 2.0), Stretch(0, 2.0)]) == (Stretch(0, 2.0),)


def test_a_time_check_finds_the_true_factor() -> None:
    # Worked by hand: 240 frames stored at 30 last 8 s in the file; a clock in the picture says 1 s.
    found = check_time(TimeBase(MEDIA_S), 240, 0, 1.0)
    assert (found.first, found.last, found.factor, found.suggested) == (0, 240, 8.0, 8.0)
    assert found.off_pct == pytest.approx(700)
    assert not found.agrees
    # Two frames of 1/240 s real interval: u = 8 * (1/240) / sqrt(6) / 1 s.
    assert found.u_factor == pytest.approx(8 / 240 / math.sqrt(6))
    right = check_time(TimeBase(MEDIA_S, (Stretch(0, 8.0),)), 0, 240, 1.0)
    assert right.agrees
    assert right.off_pct == pytest.approx(0)


def test_a_time_check_is_not_stricter_than_its_frames() -> None:
    # Three frames can't tell 2 %: one frame more or less is a third.
    assert check_time(TimeBase(MEDIA_S), 0, 3, 0.11).agrees
    assert not check_time(TimeBase(MEDIA_S), 0, 290, 0.11 * 290 / 3).agrees


def test_an_odd_factor_is_suggested_as_it_was_found() -> None:
    found = check_time(TimeBase(MEDIA_S), 0, 240, 8 / 6.25)
    assert found.suggested == pytest.approx(6.25)
    assert check_time(TimeBase(MEDIA_S, RAMPS), 0, 240, 2.0).spans_ramp


@pytest.mark.parametrize("true_s", [0, -1, math.nan, math.inf, 1e-4, 1e4])
def test_time_checks_that_cannot_be(true_s: float) -> None:
    with pytest.raises(TimeBaseError):
        check_time(TimeBase(MEDIA_S), 0, 240, true_s)
    with pytest.raises(TimeBaseError, match="two different"):
        check_time(TimeBase(MEDIA_S), 7, 7, 1.0)


def doubted(**known: object) -> tuple[str, ...]:
    usual = {"told_rate_fps": None, "stored_rate_fps": 30.0, "factors": [1.0], "check": None,
             "times_estimated": False, "stroke": "freestyle", "mean_cycle_s": None}  # fmt: skip
    return doubts(**{**usual, **known})  # type: ignore[arg-type]


def test_what_makes_a_time_base_unsure() -> None:
    assert doubted() == ()
    assert doubted(told_rate_fps=30.0, mean_cycle_s=1.4) == ()
    assert "240 frames/s" in doubted(told_rate_fps=240.0)[0]
    assert doubted(told_rate_fps=240.0, factors=[8.0]) == ()
    # Slow motion that was taken for real time: a cycle of 11 s.
    assert "11.2 s" in doubted(mean_cycle_s=11.2)[0]
    assert doubted(mean_cycle_s=4.2, stroke="breaststroke") == ()
    assert "estimated" in doubted(times_estimated=True)[0]


def test_a_time_check_settles_everything_but_missing_times() -> None:
    slow = TimeBase(MEDIA_S, (Stretch(0, 8.0),))
    good, bad = check_time(slow, 0, 240, 1.0), check_time(TimeBase(MEDIA_S), 0, 240, 1.0)
    assert doubted(told_rate_fps=30.0, factors=[8.0], check=good, mean_cycle_s=9.0) == ()
    assert len(doubted(check=good, times_estimated=True)) == 1
    assert "700 %" in doubted(check=bad)[0]


def test_doubts_are_whole_sentences() -> None:
    """What the coach reads, word for word."""
    assert doubted(times_estimated=True, told_rate_fps=240.0, mean_cycle_s=0.6) == (
        "Some frames carry no time of their own; theirs is estimated.",
        "The camera says that it recorded 240 frames/s, which would be × 8; the setting is × 1.",
        "A cycle would last 0.6 s, which nobody swims: the slow-motion factor is probably wrong.",
    )
    bad = check_time(TimeBase(MEDIA_S), 0, 240, 1.0)
    assert doubted(check=bad) == (
        f"The time check says × {bad.factor:.2f}, which is 700 % off the setting.",
    )


def test_where_doubt_begins() -> None:
    """A tenth beside the camera's rate is still its rate; a cycle of 0.7 to 3.5 s is swum."""
    assert doubted(told_rate_fps=32.9) == ()
    assert len(doubted(told_rate_fps=33.1)) == 1
    assert doubted(told_rate_fps=27.1) == ()
    assert len(doubted(told_rate_fps=26.9)) == 1
    # Several stretches, or a rate that is not known, say nothing of the camera's.
    assert doubted(told_rate_fps=240.0, factors=[1.0, 8.0]) == ()
    assert doubted(told_rate_fps=240.0, stored_rate_fps=None) == ()
    for cycle_s, count in ((0.69, 1), (0.7, 0), (3.5, 0), (3.51, 1)):
        assert len(doubted(mean_cycle_s=cycle_s)) == count
    assert len(doubted(mean_cycle_s=4.51, stroke="breaststroke")) == 1
