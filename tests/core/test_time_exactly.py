"""The time base and the time check to the digit and to the word."""

from __future__ import annotations

import math

import numpy as np
import pytest

from norvik.core.errors import TimeBaseError
from norvik.core.time.timebase import (
    Stretch,
    TimeBase,
    checked_stretches,
    interval_uncertainty_s,
    mark_uncertainty_s,
)
from norvik.core.time.timecheck import (
    ROUND_RATE_U,
    TimeCheck,
    check_time,
    scale_uncertainty,
)


def base(count: int = 241, rate: float = 30.0, *stretches: Stretch) -> TimeBase:
    return TimeBase(np.arange(count) / rate, stretches or (Stretch(0, 1.0),))


def refused(build) -> str:  # type: ignore[no-untyped-def]
    with pytest.raises(TimeBaseError) as found:
        build()
    return found.value.sentence


# ---- the time base ----


@pytest.mark.parametrize(
    ("times", "sentence"),
    [
        ([], "The clip has no frame times. Add it again."),
        ([[0.0, 0.1]], "The clip has no frame times. Add it again."),
        ([0.0, 0.1, 0.1],
         "The frame times of this clip do not grow from frame to frame. Add it again."),
        ([0.0, 0.2, 0.1],
         "The frame times of this clip do not grow from frame to frame. Add it again."),
        ([0.0, math.nan, 0.2],
         "The frame times of this clip do not grow from frame to frame. Add it again."),
        ([0.0, 0.1, math.inf],
         "The frame times of this clip do not grow from frame to frame. Add it again."),
    ],
)  # fmt: skip
def test_times_that_cannot_be(times: list[object], sentence: str) -> None:
    assert refused(lambda: TimeBase(np.array(times, float))) == sentence


def test_a_clip_of_one_frame_lasts_no_time() -> None:
    one = TimeBase(np.array([0.0]))
    assert (one.frames, one.frame_interval_s, one.duration_s) == (1, None, 0.0)
    assert one.time_of(0) == 0
    assert one.frame_nearest(5.0) == 0
    assert one.interval_at([0]) is None


def test_stretches_at_their_limits() -> None:
    assert checked_stretches([Stretch(0, 0.05), Stretch(5, 100.0)]) == (
        Stretch(0, 0.05), Stretch(5, 100.0),
    )  # fmt: skip
    assert checked_stretches([Stretch(7, 2.0), Stretch(0, 1.0), Stretch(9, 2.0)]) == (
        Stretch(0, 1.0), Stretch(7, 2.0),
    )  # fmt: skip
    assert refused(lambda: checked_stretches([])) == (
        "The first slow-motion factor has to begin at the first frame."
    )
    assert refused(lambda: checked_stretches([Stretch(1, 1.0)])) == (
        "The first slow-motion factor has to begin at the first frame."
    )
    for factor in (0.049, 100.1):
        assert refused(lambda f=factor: checked_stretches([Stretch(0, f)])) == (
            "The slow-motion factor must lie between 0.05 and 100."
        )
    assert refused(
        lambda: checked_stretches([Stretch(0, 1.0), Stretch(4, 2.0), Stretch(4, 8.0)])
    ) == ("Two slow-motion factors begin at frame 4. Keep one of them.")


def test_real_seconds_with_and_without_a_ramp() -> None:
    plain = TimeBase(np.array([2.0, 2.1, 2.3]), (Stretch(0, 4.0),))
    assert plain.real_s == pytest.approx([0, 0.025, 0.075])
    assert not plain.ramps
    ramp = TimeBase(np.arange(6) / 10, (Stretch(0, 1.0), Stretch(2, 4.0), Stretch(4, 2.0)))
    assert ramp.ramps
    assert list(ramp.factors) == [1, 1, 4, 4, 2, 2]
    assert ramp.real_s == pytest.approx([0, 0.1, 0.2, 0.225, 0.25, 0.3])
    assert ramp.duration_s == pytest.approx(0.35)
    assert ramp.frame_interval_s == pytest.approx(0.05)


def test_intervals_within_and_at() -> None:
    ramp = TimeBase(np.arange(7) / 10, (Stretch(0, 1.0), Stretch(3, 4.0)))
    # Steps: 0.1 0.1 0.1 0.025 0.025 0.025.
    assert ramp.interval_within(0, 2) == pytest.approx(0.1)
    assert ramp.interval_within(3, 6) == pytest.approx(0.025)
    assert ramp.interval_within(2, 4) == pytest.approx((0.1 + 0.025) / 2)
    assert ramp.interval_within(3, 3) is None
    assert ramp.interval_within(3, 4) == pytest.approx(0.025)
    # With ramps the longest of those at the marks; the last frame has that before it.
    assert ramp.interval_at([4, 5]) == pytest.approx(0.025)
    assert ramp.interval_at([2, 5]) == pytest.approx(0.1)
    assert ramp.interval_at([6]) == pytest.approx(0.025)
    assert ramp.interval_at([3]) == pytest.approx(0.025)
    assert ramp.interval_at([0]) == pytest.approx(0.1)
    assert ramp.interval_at([-5]) == pytest.approx(0.1)
    assert ramp.interval_at([]) == ramp.frame_interval_s
    even = TimeBase(np.array([0.0, 0.1, 0.2, 0.9]))
    assert even.interval_at([2]) == pytest.approx(0.1)


def test_frames_and_times_of_each_other() -> None:
    some = TimeBase(np.array([0.0, 0.1, 0.3, 0.4]))
    assert some.times_of([3, 0, 2]) == pytest.approx([0.4, 0.0, 0.3])
    assert some.times_of([]) == []
    for frame in (-1, 4):
        assert refused(lambda f=frame: some.time_of(f)) == (
            f"Frame {frame} is not in this clip, which runs from 0 to 3."
        )
        assert refused(lambda f=frame: some.times_of([0, f])).startswith(f"Frame {frame}")
    assert some.time_of(3) == pytest.approx(0.4)
    for time_s, frame in ((-9, 0), (0.0, 0), (0.04, 0), (0.06, 1), (0.199, 1), (0.201, 2),
                          (0.36, 3), (0.4, 3), (99, 3)):  # fmt: skip
        assert some.frame_nearest(time_s) == frame, time_s
    # In the very middle the earlier one.
    assert TimeBase(np.array([0.0, 0.5, 1.0])).frame_nearest(0.25) == 0


def test_a_mark_is_off_by_less_than_a_frame() -> None:
    """A rectangular distribution one frame wide, JCGM 100:2008, 4.3.7."""
    assert mark_uncertainty_s(0.12) == pytest.approx(0.12 / math.sqrt(12))
    assert interval_uncertainty_s(0.12) == pytest.approx(math.sqrt(2) * mark_uncertainty_s(0.12))


# ---- the time check ----


def test_a_check_says_all_it_found() -> None:
    """Said to be real time; 2 s of the file took 0.5 s: it plays 4 times slower."""
    found = check_time(base(), 90, 30, 0.5)
    assert found == TimeCheck(
        first=30, last=90, true_s=0.5, declared_s=pytest.approx(2.0), factor=pytest.approx(4.0),
        u_factor=pytest.approx(4.0 * (1 / 120) / math.sqrt(6) / 0.5), off_pct=pytest.approx(300.0),
        spans_ramp=False, suggested=4.0,
    )  # fmt: skip
    assert not found.agrees


def test_a_check_that_agrees_within_two_per_cent_or_what_frames_can_tell() -> None:
    slow = base(2401, 30.0, Stretch(0, 8.0))
    # 300 frames are 10 s of the file and 1.25 s of the pool.
    assert check_time(slow, 0, 300, 1.25).agrees
    assert check_time(slow, 0, 300, 1.25).off_pct == pytest.approx(0, abs=1e-9)
    assert check_time(slow, 0, 2400, 10 / 1.0199).agrees
    assert not check_time(slow, 0, 2400, 10 / 1.0201).agrees
    assert check_time(slow, 0, 2400, 10 / 0.9801).agrees
    assert not check_time(slow, 0, 2400, 10 / 0.9799).agrees
    # Six frames tell a time to about 7 % each way: 2 / root 6 of a frame of six.
    short = check_time(slow, 0, 6, 6 / 240 * 1.1)
    assert short.u_factor / short.factor == pytest.approx(1 / math.sqrt(6) / 6)
    assert short.off_pct == pytest.approx(100 * (1 / 1.1 - 1))
    assert short.agrees
    assert not check_time(slow, 0, 6, 6 / 240 * 1.17).agrees


def test_a_check_over_a_ramp_gives_the_mean_factor() -> None:
    ramp = base(61, 30.0, Stretch(0, 1.0), Stretch(30, 4.0))
    over = check_time(ramp, 0, 60, 1.25)
    assert (over.spans_ramp, over.factor) == (True, pytest.approx(1.6))
    assert over.declared_s == pytest.approx(1.25)
    assert over.agrees
    # Up to the ramp's first frame it does not reach into it.
    assert not check_time(ramp, 0, 30, 1.0).spans_ramp
    assert not check_time(ramp, 30, 60, 0.25).spans_ramp
    assert check_time(ramp, 29, 31, 0.05).spans_ramp


@pytest.mark.parametrize(
    ("true_s", "suggested"),
    [
        # 8 s of the file: usual factors where they fit within 2 %, else what was found.
        (1.0, 8.0), (1.01, 8.0), (0.985, 8.0), (1.03, 7.767), (1.6, 5.0), (16.0, 0.5),
        (8.0, 1.0), (0.8, 10.0), (0.25, 32.0), (2.6, 3.077), (6.0, 1.333),
    ],
)  # fmt: skip
def test_what_is_suggested(true_s: float, suggested: float) -> None:
    long = base(1921, 240.0)
    assert check_time(long, 0, 1920, true_s).suggested == pytest.approx(suggested)


def test_a_blurred_check_still_suggests_a_usual_factor() -> None:
    # Four frames: 10 % either way; 4.3 is taken for 4.
    assert check_time(base(), 0, 4, 4 / 30 / 4.3).suggested == 4.0


def test_checks_that_cannot_be_are_refused() -> None:
    assert refused(lambda: check_time(base(), 7, 7, 1.0)) == (
        "A time check needs two different frames."
    )
    for true_s in (0.0, -1.0, math.nan, math.inf):
        assert refused(lambda t=true_s: check_time(base(), 0, 30, t)) == (
            "The true time must be a number of seconds above 0."
        )
    assert refused(lambda: check_time(base(), 0, 30, 0.0099)) == (
        "0.0099 s between these frames would mean that the file plays 101 times slower than it "
        "happened. Look at the two frames and the seconds again."
    )
    assert refused(lambda: check_time(base(), 0, 30, 20.5)).startswith("20.5 s between")
    assert check_time(base(), 0, 30, 0.01).factor == pytest.approx(100)
    assert check_time(base(), 0, 30, 20.0).factor == pytest.approx(0.05)


def test_how_sure_the_factor_makes_every_time() -> None:
    assert scale_uncertainty([1.0, 1.0], None) == 0
    assert scale_uncertainty([8.0], None) == ROUND_RATE_U == pytest.approx(0.001 / math.sqrt(3))
    assert scale_uncertainty([1.0, 8.0], None) == ROUND_RATE_U
    slow = base(2401, 30.0, Stretch(0, 8.0))
    agrees = check_time(slow, 0, 2400, 10.0)
    assert scale_uncertainty([8.0], agrees) == ROUND_RATE_U
    # An odd factor is as sure as the check that gave it.
    blur = agrees.u_factor / agrees.factor
    assert scale_uncertainty([7.7], agrees) == pytest.approx(blur)
    assert scale_uncertainty([8.0, 7.7], agrees) == pytest.approx(blur)
    # What the check disagrees by counts, and what its frames can be off by.
    off = check_time(slow, 0, 2400, 10.1)
    assert scale_uncertainty([8.0], off) == pytest.approx(
        math.hypot(abs(off.off_pct) / 200, off.u_factor / off.factor)
    )
