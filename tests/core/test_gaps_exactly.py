"""The gaps between arms and legs worked out by hand, to the digit: breaststroke and butterfly."""

from __future__ import annotations

import pytest

from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.core.time.legs import gap_pairs, gaps_of, legs_of
from norvik.core.time.timing import Timing

#: Two arm cycles of 2.0 s; the legs of each and the beginning of the next.
ARMS = {"out": (1.0, 3.0, 5.0), "in": (1.4, 3.4), "shoot": (1.7, 3.7), "long": (2.0, 4.0)}
LEGS = {"heels": (1.6, 3.6), "set": (1.95, 3.85), "close": (2.4, 4.5)}


def breast(arms: dict[str, tuple[float, ...]] = ARMS, legs: dict[str, tuple[float, ...]] = LEGS
) -> Timing:  # fmt: skip
    marks = [Mark(t, "arm", "", event) for event, times in arms.items() for t in times]
    marks += [Mark(t, "leg", "", event) for event, times in legs.items() for t in times]
    return compute_timing(marks, "breaststroke")


def test_the_gaps_of_breaststroke() -> None:
    """T1b: out minus close: 3.0 - 2.4 and 5.0 - 4.5; T2: heels minus shoot; T3: set minus long."""
    gaps = breast().gaps
    assert gaps is not None
    assert gaps.t1_s == pytest.approx((0.6 + 0.5) / 2)
    assert gaps.t2_s == pytest.approx(-0.1)
    assert gaps.t3_s == pytest.approx((-0.05 - 0.15) / 2)
    # In percent of the mean cycle of 2 s.
    assert (gaps.t1_pct, gaps.t2_pct, gaps.t3_pct) == (
        pytest.approx(27.5), pytest.approx(-5.0), pytest.approx(-5.0),
    )  # fmt: skip


def test_the_phases_of_the_legs() -> None:
    """Heels 0.35 and 0.25 s, kick 0.45 and 0.65 s; together 3.6 - 2.4 s once, then nothing."""
    legs = breast().legs
    assert legs is not None
    means = {name: phase.mean_s for name, phase in legs.items() if phase is not None}
    assert means == {
        "heels": pytest.approx(0.30), "kick": pytest.approx(0.55), "glide": pytest.approx(1.2),
    }  # fmt: skip
    shares = {name: phase.share_pct for name, phase in legs.items() if phase is not None}
    assert shares == {
        "heels": pytest.approx(15.0), "kick": pytest.approx(27.5), "glide": pytest.approx(60.0),
    }  # fmt: skip


@pytest.mark.parametrize(("heels", "paired"), [(2.69, True), (2.71, False), (0.71, True)])
def test_an_event_more_than_half_a_cycle_away_is_of_another_stroke(
    heels: float, paired: bool
) -> None:
    timing = breast({**ARMS, "shoot": (1.7,)}, {"heels": (heels,)})
    pairs = gap_pairs(timing.resolved, "t2")
    assert bool(pairs) is paired
    if paired:
        assert [(round(a.time_s, 2), round(b.time_s, 2)) for a, b in pairs] == [(1.7, heels)]


def test_the_nearest_one_is_taken() -> None:
    timing = breast({**ARMS, "shoot": (1.7, 3.7)}, {"heels": (2.65, 2.8)})
    pairs = gap_pairs(timing.resolved, "t2")
    assert [round(a.time_s, 1) for a, _ in pairs] == [1.7, 3.7]


def test_without_a_cycle_there_is_nothing_to_pair() -> None:
    timing = breast({"out": (1.0,), "shoot": (1.7,)}, {"heels": (1.6,)})
    assert gap_pairs(timing.resolved, "t2") == []
    assert timing.gaps is not None
    assert timing.gaps.t2_s is None


@pytest.mark.parametrize("stroke", ["freestyle", "backstroke", "butterfly"])
def test_other_strokes_have_none_of_it(stroke: str) -> None:
    timing = compute_timing([Mark(1.0, "arm", "", "entry")], stroke)
    assert (timing.gaps, timing.legs) == (None, None)
    assert gaps_of(timing.resolved, timing.reasons) is None  # type: ignore[arg-type]
    assert legs_of(timing.resolved, None, timing.reasons) is None  # type: ignore[arg-type]
