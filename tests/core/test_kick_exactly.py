"""The kick worked out by hand, to the digit: counts in cycles, the pause on a breath, the wall."""

from __future__ import annotations

import pytest

from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.core.time.kick import PAUSE, gaps_over, surface_beats, surface_gaps
from norvik.core.time.timing import Timing


def beat(time_s: float) -> Mark:
    return Mark(time_s, "leg", "", "beat")


def swum(beats: list[float], *more: Mark, entries: tuple[float, ...] = (1.0, 2.5, 4.0)) -> Timing:
    marks = [Mark(t, "arm", "right", "entry") for t in entries]
    return compute_timing([*marks, *map(beat, beats), *more], "freestyle")


STEADY = [1.0 + 0.25 * n for n in range(13)]


def test_six_beats_in_a_cycle() -> None:
    """From entry to entry 1.5 s, a beat every 0.25 s: the one at the next entry is the next's."""
    kick = swum(STEADY).kick
    assert kick is not None
    assert kick.beats_per_cycle == pytest.approx(6)
    assert kick.beats_per_pull == pytest.approx(3)
    assert kick.beats_per_min == pytest.approx(240)
    assert kick.longest_gap_s == pytest.approx(0.25)
    assert kick.pause_on_breath is None


@pytest.mark.parametrize(
    ("beats", "per_cycle"),
    [
        # Up to one usual gap may be missing at an end of the cycle; more, and it is not covered.
        (STEADY[1:], 5.5), (STEADY[2:], 6.0), (STEADY[:-1], 6.0), (STEADY[:-2], 6.0),
        # The second cycle is left where the beats end too soon.
        (STEADY[:10], 6.0),
    ],
)  # fmt: skip
def test_a_cycle_counts_where_the_beats_cover_it(beats: list[float], per_cycle: float) -> None:
    kick = swum(beats).kick
    assert kick is not None
    assert kick.beats_per_cycle == pytest.approx(per_cycle)


def test_beats_far_from_any_cycle_have_a_rhythm_and_no_count() -> None:
    timing = swum([10.0, 10.3, 10.6])
    assert timing.kick is not None
    assert timing.kick.beats_per_min == pytest.approx(200)
    assert (timing.kick.beats_per_cycle, timing.kick.beats_per_pull) == (None, None)
    for name in ("beats_per_cycle", "beats_per_pull"):
        assert timing.reasons[f"kick.{name}"] == "no whole cycle lies within the marked kicks"


def with_pause(gap_s: float, *breaths: float) -> bool | None:
    """Beats of 0.25 s with one gap after 2.0 s, and breaths at these instants."""
    beats = [1.0, 1.25, 1.5, 1.75, 2.0] + [2.0 + gap_s + 0.25 * n for n in range(8)]
    air = [Mark(t, "breath", "right", "air") for t in breaths]
    kick = swum(beats, *air).kick
    assert kick is not None
    return kick.pause_on_breath


def test_a_pause_on_the_breath_is_a_gap_much_longer_than_usual() -> None:
    assert with_pause(0.25 * PAUSE + 0.01, 2.1) is True
    assert with_pause(0.25 * PAUSE - 0.01, 2.1) is False
    # Half of the breaths are enough, fewer are not.
    assert with_pause(0.6, 2.1, 3.4) is True
    assert with_pause(0.6, 1.6, 2.1, 3.4) is False
    # A breath before the first beat and after the last one tells nothing.
    assert with_pause(0.6, 0.4) is None


def test_gaps_that_share_time_with_a_stretch() -> None:
    timing = swum([1.0, 1.5, 2.0, 2.5])
    gaps = surface_gaps(timing.resolved)
    starts = [(round(a.time_s, 2), round(b.time_s, 2)) for a, b in gaps]
    assert starts == [(1.0, 1.5), (1.5, 2.0), (2.0, 2.5)]

    def over(from_s: float, to_s: float) -> list[float]:
        return [round(a.time_s, 2) for a, _ in gaps_over(gaps, from_s, to_s)]

    assert over(1.6, 1.7) == [1.5]
    assert over(1.5, 1.5) == [1.0, 1.5]
    assert over(1.4, 2.1) == [1.0, 1.5, 2.0]
    assert over(0.0, 0.9) == []
    assert over(2.6, 3.0) == []


def walled(*more: Mark) -> Timing:
    """Off the wall at 1.0 s, kicks from 1.2 s on, the first entry at 3.0 s."""
    beats = [1.2, 1.6, 2.0, 2.4, 2.8, 3.2, 3.6]
    push = Mark(1.0, "wall", "", "push")
    return swum(beats, push, *more, entries=(3.0, 4.5))


def test_under_water_ends_at_the_breakout_or_at_the_first_entry() -> None:
    def left(timing: Timing) -> list[float]:
        return [round(b.time_s, 1) for b in surface_beats(timing.resolved)]

    assert left(walled(Mark(2.2, "wall", "", "breakout"))) == [2.4, 2.8, 3.2, 3.6]
    assert left(walled()) == [3.2, 3.6]
    alone = compute_timing([Mark(1.0, "wall", "", "push"), *map(beat, (1.2, 1.6))], "freestyle")
    assert surface_beats(alone.resolved) == []
    assert alone.reasons["kick.beats_per_min"] == "needs two kicks at the surface"


def test_breaststroke_has_phases_of_the_legs_and_no_kick() -> None:
    assert compute_timing([beat(1.0), beat(2.0)], "breaststroke").kick is None
