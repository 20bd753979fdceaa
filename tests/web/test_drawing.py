"""What the bench shows: the rope's layout, the numbers, and how values are written."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from norvik.core.strokes import STROKES
from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.core.time.timebase import TimeBase
from norvik.store.clips import Clip
from norvik.store.marks import StoredMark
from norvik.web.clip.numbers import panel
from norvik.web.clip.rope import (
    FLOAT,
    LABEL,
    LANE_HEIGHT,
    RULER_HEIGHT,
    WIDTH,
    fitting,
    lane_rows,
    lay_out,
    window_around,
)
from norvik.web.shared.filters import (
    clock,
    day,
    figure,
    megabytes,
    number,
    plus_minus,
    swim_time,
    watch_time,
)
from norvik.workflow.clip_timing import ClipTiming
from tests.marking import marks, steady_arm

FPS = 50


def clip_of(frames: int, first: int = 0) -> Clip:
    """A clip of which only the edges matter."""
    values = dict.fromkeys(Clip.__slots__)
    return Clip(**{**values, "first_frame": first, "last_frame": frames - 1})  # type: ignore[arg-type]


def timed(events: list[Mark], seconds: float = 10, stroke: str = "freestyle") -> ClipTiming:
    base = TimeBase(np.arange(round(seconds * FPS)) / FPS)
    stored = tuple(
        StoredMark(n + 1, base.frame_nearest(m.time_s), m.lane, m.side, m.event)
        for n, m in enumerate(sorted(events, key=lambda m: m.time_s))
    )
    placed = tuple(
        Mark(base.time_of(s.frame), s.lane, s.side, s.event, s.frame, key=s.id) for s in stored
    )
    timing = compute_timing(placed, stroke, base.frame_interval_s)
    return ClipTiming(clip_of(base.frames), base, stored, placed, timing, ())


def test_a_cycle_is_four_floats_end_to_end() -> None:
    rope = lay_out(timed(steady_arm("right", 1, 2, 2)), 0, 10)
    right = rope.lanes[2]
    assert [f.letter for f in right.floats] == list("ECPRECPR")
    scale = (WIDTH - LABEL) / 10
    assert right.floats[0].x == pytest.approx(LABEL + scale, abs=0.02)
    for before, after in zip(right.floats, right.floats[1:], strict=False):
        assert before.x + before.width == pytest.approx(after.x, abs=0.03)
    assert sum(f.width for f in right.floats) == pytest.approx(4 * scale, abs=0.2)
    # Floats of a phase are whole, about as long everywhere, and the catch is the landmark.
    assert all(FLOAT * 0.6 < f.width / f.pieces < FLOAT * 1.5 for f in right.floats)
    assert [f.landmark for f in right.floats[:4]] == ["opens", "catch", "", ""]
    assert [lane.id for lane in rope.lanes] == ["breath", "left", "right", "legs"]
    assert rope.height == 4 * LANE_HEIGHT + RULER_HEIGHT
    assert [lane.name for lane in rope.lanes] == ["Breath", "Left arm", "Right arm", "Legs"]


@pytest.mark.parametrize(
    ("place", "drawn"),
    [(None, 1240), (100, 320), (366, 366), (699, 699), (700, 1240), (1000, 1240), (1240, 1240),
     (1896, 1896), (9000, 2400)],
)  # fmt: skip
def test_a_drawing_fits_phones_and_big_screens(place: int | None, drawn: int) -> None:
    assert fitting(place) == drawn


def test_the_shortest_phase_is_still_drawn_forwards() -> None:
    # A catch of one frame in a window of 14 s is not two pixels long.
    arm = steady_arm("right", 0, 2, 3, (0.3, 0.005, 0.445, 0.25))
    floats = lay_out(timed(arm, seconds=14), 0, 14).lanes[2].floats
    assert min(f.width for f in floats) < 2
    assert all(0 < f.drawn <= max(0.5, f.width) for f in floats)


def test_missing_marks_and_missing_entries_show() -> None:
    without_press = [m for m in steady_arm("right", 0, 1.5, 3) if m.event != "press"]
    kinds = [f.kind for f in lay_out(timed(without_press), 0, 10).lanes[2].floats]
    assert kinds == ["entry", "recovery", "unmarked"] * 3
    entries = marks("R entry 0; R entry 1.5; R entry 3; R entry 6; R entry 7.5")
    kinds = [f.kind for f in lay_out(timed(entries), 0, 10).lanes[2].floats]
    assert kinds.count("gap") == 1


def test_what_is_left_out_stays_on_the_rope_with_its_reason() -> None:
    rope = lay_out(timed(marks("R entry 1; R entry 1.2; R entry 3")), 0, 10)
    problems = [t.problem for t in rope.lanes[2].ticks]
    assert problems[0] is None
    assert "second hand entry" in str(problems[1])
    assert problems[2] is None


def test_breaths_bubbles_and_kicks_have_their_ropes() -> None:
    text = "R turn 1; R air 1.4; R down 1.9; bubbles-on 2; bubbles-off 2.6; R beat 1; L beat 1.4"
    rope = lay_out(timed(marks(text)), 0, 10)
    assert [f.kind for f in rope.lanes[0].floats] == ["turn", "air", "bubbles"]
    assert [t.event for t in rope.lanes[3].ticks] == ["beat", "beat"]


def test_a_long_clip_is_shown_in_windows_that_follow() -> None:
    long = timed(marks("R entry 1; R entry 2.5"), seconds=60)
    assert window_around(long, 1, None) == (0.0, 14.0)
    for at_s in np.linspace(0, 59.9, 50):
        start, end = window_around(long, float(at_s), None)
        assert 0 <= start <= at_s <= end <= 60 + 1e-9
        assert end - start == pytest.approx(14)
    short = timed(marks("R entry 1"), seconds=6)
    assert window_around(short, 5, None) == (0.0, pytest.approx(6.0))
    assert window_around(short, 5, 2)[1] - window_around(short, 5, 2)[0] == pytest.approx(2)


def test_a_window_cuts_floats_at_its_edges() -> None:
    rope = lay_out(timed(steady_arm("right", 0, 2, 4)), 3, 5)
    for lane in rope.lanes:
        for f in lane.floats:
            assert f.x >= LABEL - 0.01
            assert f.x + f.width <= WIDTH + 0.01
        for t in lane.ticks:
            assert LABEL - 0.01 <= t.x <= WIDTH + 0.01
    assert rope.is_window
    # A phase that began before the window has no landmark at its edge.
    first = rope.lanes[2].floats[0]
    assert (first.x, first.landmark) == (LABEL, "")


@pytest.mark.parametrize(
    ("mark", "stroke", "lane"),
    [
        (("arm", "left", "entry"), "freestyle", 1),
        (("arm", "right", "entry"), "freestyle", 2),
        (("breath", "", "air"), "freestyle", 0),
        (("leg", "left", "beat"), "freestyle", 3),
        (("arm", "", "out"), "breaststroke", 1),
        (("leg", "", "heels"), "breaststroke", 2),
        (("wall", "", "push"), "freestyle", 4),
        (("course", "", "pass"), "butterfly", 3),
        (("arm", "", "entry"), "freestyle", None),
    ],
)
def test_lane_rows_a_mark(mark: tuple[str, str, str], stroke: str, lane: int | None) -> None:
    assert lane_rows(STROKES[stroke]).get(mark[:2]) == lane


def test_numbers_carry_unit_spread_count_and_frames() -> None:
    shown = panel(timed(steady_arm("right", 0, 1.5, 4) + steady_arm("left", 0.75, 1.5, 4)))
    strokes, cycles, cycle = shown.rate
    assert (strokes.value, strokes.unit, strokes.note) == ("80.0", "strokes/min", "8 cycles")
    assert (cycles.value, cycles.unit) == ("40.00", "cycles/min")
    # Four cycles an arm that are all alike: entries are marked to 17 ms and a frame of 17 ms.
    assert cycles.spread == "± 0.21"
    assert cycles.swimmer == "± 0.33"
    assert cycle.value == "1.500"
    assert len(strokes.frames) == 8
    assert [a.side for a in shown.arms] == ["left", "right"]
    assert sum(s.share_pct for s in shown.arms[0].shares) == pytest.approx(100, abs=3)
    over = {n.name: n for n in shown.topic("coordination")}
    assert over["Arm coordination (IdC)"].note == "catch-up"
    assert over["Left exit against right pull"].note == "gap · n 3"
    assert over["Left exit against right pull"].frames
    assert shown.problems == ()


def test_numbers_that_are_not_known_say_why() -> None:
    shown = panel(timed([]))
    assert shown.rate[0].value == "–"
    assert shown.rate[0].reason == "no whole cycle"
    assert shown.arms == ()
    assert shown.topic("breathing")[0].reason == "no breath is marked"


def test_butterfly_shows_breaths_a_cycle_and_no_hand_over() -> None:
    text = "".join(
        f"entry {1.2 * n}; press {1.2 * n + 0.4}; exit {1.2 * n + 0.9};" for n in range(5)
    )
    shown = panel(
        timed(marks(text + "F air 0.7; F down 1.0; F air 3.1; F down 3.4"), stroke="butterfly")
    )
    assert shown.topic("coordination") == ()
    assert (shown.topic("breathing")[0].name, shown.topic("breathing")[0].value) == (
        "Breaths per cycle",
        "0.50",
    )
    assert [a.side for a in shown.arms] == ["both"]


@pytest.mark.parametrize(
    ("value", "digits", "text"),
    [
        (None, 1, "–"),
        (1.25, 1, "1.2"),
        (-0.04, 1, "0.0"),
        (-1.5, 1, "−1.5"),
        (1234.5678, 3, "1234.568"),
    ],
)
def test_number(value: float | None, digits: int, text: str) -> None:
    assert number(value, digits) == text


def test_plus_minus_is_twice_u_and_never_zero() -> None:
    assert plus_minus(0.05, 2) == "± 0.10"
    assert plus_minus(0.0001, 2) == "± 0.01"
    assert plus_minus(None) == "± ?"


def test_clock_day_and_size() -> None:
    assert clock(62.3456) == "1:02.346"
    assert clock(0) == "0:00.000"
    assert [watch_time(s) for s in (22.4, 22.45, 98, 120)] == ["22.4", "22.45", "1:38.0", "2:00.0"]
    assert figure(100.47, 1, "s") == "1:40.5"
    assert figure(1.762, 2, "") == "1.76"
    assert [swim_time(s) for s in (21.4, 59.999, 340.8)] == ["21.40", "1:00.00", "5:40.80"]
    assert day("2027-03-04") == "4 March 2027"
    assert day("someday") == "someday"
    assert day(None) == ""
    assert (megabytes(1_500_000), megabytes(2_340_000_000)) == ("1.5 MB", "2.34 GB")


def test_a_part_has_a_rope_of_its_own_stretch() -> None:
    whole = timed(steady_arm("right", 0, 2, 2))
    part = replace(whole, clip=clip_of(300, first=200))
    assert (part.from_s, part.to_s) == pytest.approx((4.0, 6.0))
    assert window_around(part, 5.0, None) == pytest.approx((4.0, 6.0))
    begin, end = window_around(part, 5.9, 1.0)
    assert 4.0 <= begin < end <= 6.0 + 1e-9
    rope = lay_out(part, 4.0, 6.0)
    assert rope.whole_s == pytest.approx(2.0)
