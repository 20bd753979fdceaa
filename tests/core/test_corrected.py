"""A corrected mark moves its likes, and how far reading was off is counted."""

from __future__ import annotations

import numpy as np
import pytest

from norvik.core.reading.corrected import corrected, pairs_of
from norvik.core.reading.stroke import ReadEvent
from norvik.core.reading.trust import ENOUGH, Off, trust_of, trusted
from norvik.core.strokes.events import Mark


def event(time_s: float, name: str = "entry", side: str = "right", lane: str = "arm") -> ReadEvent:
    return ReadEvent(time_s, lane, side, name, 0.06, 0.9)


def mark(time_s: float, name: str = "entry", side: str = "right", lane: str = "arm") -> Mark:
    return Mark(time_s, lane, side, name)


# ---- pairs ----


def test_each_mark_goes_with_the_nearest_read_event_of_its_kind_and_arm() -> None:
    read = [event(1.0), event(1.1), event(1.0, side="left"), event(1.02, "exit")]
    pairs = pairs_of(read, [mark(1.08), mark(5.0)])
    assert [(p.event.time_s, p.mark.time_s) for p in pairs] == [(1.1, 1.08)]
    assert pairs[0].off_s == pytest.approx(-0.02)


def test_two_marks_never_share_one_read_event() -> None:
    pairs = pairs_of([event(1.0)], [mark(0.9), mark(1.05)])
    assert [p.mark.time_s for p in pairs] == [1.05]


def test_a_kick_or_a_breath_is_one_whatever_side_it_was_given() -> None:
    read = [event(1.0, "beat", "", "leg"), event(2.0, "air", "front", "breath")]
    marks = [mark(1.02, "beat", "left", "leg"), mark(2.1, "air", "right", "breath")]
    assert len(pairs_of(read, marks)) == 2


# ---- moving the others ----


def test_what_is_marked_is_not_proposed_any_more() -> None:
    left, _ = corrected([event(1.0), event(2.7)], [mark(1.0)])
    assert [e.time_s for e in left] == [pytest.approx(2.7)]


def test_one_correction_moves_the_others_of_its_kind_nearly_as_far() -> None:
    left, shifts = corrected([event(1.0), event(2.7), event(2.8, "exit")], [mark(1.06)])
    assert left[0].time_s == pytest.approx(2.7 + 0.06 / 1.25)
    assert left[1].time_s == 2.8
    assert [(s.event, s.count) for s in shifts] == [("entry", 1)]


def test_more_corrections_count_fully_and_one_slip_not() -> None:
    read = [event(1.7 * n) for n in range(1, 9)]
    marks = [mark(1.7 * n + 0.05) for n in range(1, 6)] + [mark(1.7 * 6 - 0.25)]
    left, _ = corrected(read, marks)
    assert [e.time_s for e in left] == [
        pytest.approx(1.7 * n + 0.05 * 6 / 6.25, abs=1e-9) for n in (7, 8)
    ]


def test_an_arm_without_a_correction_follows_the_other_until_it_has_its_own() -> None:
    read = [event(1.0), event(1.8, side="left"), event(3.5, side="left")]
    left, _ = corrected(read, [mark(1.1)])
    assert left[0].time_s == pytest.approx(1.8 + 0.08)
    left, _ = corrected(read, [mark(1.1), mark(1.8, side="left")])
    assert left[0].time_s == pytest.approx(3.5)


def test_corrections_bring_proposals_nearer_to_the_truth() -> None:
    """Of 200 films whose events are off by a bias of their own and by chance."""
    rng = np.random.default_rng(1)
    before, after = [], []
    for _ in range(200):
        true = 1.5 * np.arange(1, 7)
        read = true + rng.normal(0, 0.05) + rng.normal(0, 0.015, 6)
        left, _ = corrected([event(float(t)) for t in read], [mark(float(true[0]))])
        before += list(np.abs(read[1:] - true[1:]))
        after += list(np.abs(np.array([e.time_s for e in left]) - true[1:]))
    assert np.mean(after) < 0.6 * np.mean(before)


# ---- trust ----


def offs(seconds: list[float], said: float = 0.08) -> list[Off]:
    return [Off("side-under", "catch", s, said) for s in seconds]


def test_trust_counts_bias_spread_and_how_often_it_held() -> None:
    found = trust_of(offs([0.02, 0.04, 0.06, -0.10]))[("side-under", "catch")]
    assert found.count == 4
    assert found.bias == pytest.approx(0.03)
    assert found.spread == pytest.approx(np.sqrt((4 + 16 + 36 + 100) / 4) / 100)
    assert found.close == 0.75
    assert found.outside == 0.25
    assert not found.off


def test_few_corrections_change_nothing_and_many_change_the_plus_minus() -> None:
    few = trust_of(offs([0.09] * (ENOUGH - 1), 0.2))
    assert trusted("side-under", "catch", 0.04, few) == trusted("side-under", "catch", 0.04, {})
    many = trust_of(offs([0.09, -0.09] * 200, 0.2))
    worse = trusted("side-under", "catch", 0.04, many)
    assert worse is not None
    assert worse[0] == pytest.approx(1.96 * 0.09, rel=0.05)
    assert worse[1] < 0.7


def test_an_event_that_is_off_by_more_than_it_says_is_switched_off_in_its_view_only() -> None:
    wrong = trust_of(offs([0.15] * 5 + [0.01] * 5))
    assert trusted("side-under", "catch", 0.04, wrong) is None
    assert trusted("side-above", "catch", 0.04, wrong) is not None
    assert trusted("side-under", "entry", 0.04, wrong) is not None
