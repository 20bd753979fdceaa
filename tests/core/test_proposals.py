"""Proposals: from the rhythm of marked cycles, shifted by every mark, never beyond a wall."""

from __future__ import annotations

from dataclasses import replace

import pytest

from norvik.core.strokes import STROKES
from norvik.core.strokes.events import Mark
from norvik.core.time.proposals import Proposal, propose
from norvik.core.time.resolve import resolve
from norvik.model.dials import usual_swim
from norvik.model.schedule import schedule
from tests.marking import marks, steady_arm


def proposed(given: list[Mark], until_s: float = 20, stroke: str = "freestyle", least: int = 2
) -> list[Proposal]:  # fmt: skip
    return propose(resolve(given, STROKES[stroke]), until_s, least)


def test_a_steady_rhythm_goes_on() -> None:
    # Entry, catch 0.5, press 0.8, exit 1.5 s into cycles of 2 s; the last entry at 4 s.
    given = steady_arm("right", 0, 2, 2)
    found = [(round(p.time_s, 6), p.event) for p in proposed(given, 8)]
    assert found == [
        (4.5, "catch"), (4.8, "press"), (5.5, "exit"), (6, "entry"), (6.5, "catch"),
        (6.8, "press"), (7.5, "exit"), (8, "entry"),
    ]  # fmt: skip


def test_each_mark_shifts_what_follows() -> None:
    given = [*steady_arm("right", 0, 2, 2), Mark(4.6, "arm", "right", "catch")]
    assert [round(p.time_s, 6) for p in proposed(given, 6.2)] == [4.9, 5.6, 6.1]


def test_one_cycle_is_copied_only_when_asked() -> None:
    given = steady_arm("left", 0, 1.5, 1)
    assert proposed(given) == []
    assert [p.event for p in proposed(given, 3.0, least=1)] == ["catch", "press", "exit", "entry"]
    assert proposed([], least=1) == []
    assert proposed(marks("R entry 1"), least=1) == []


def test_both_arms_come_in_time_order_and_no_further_than_a_wall() -> None:
    given = steady_arm("right", 0, 2, 2) + steady_arm("left", 1, 2, 2)
    found = proposed(given, 9)
    assert [p.time_s for p in found] == sorted(p.time_s for p in found)
    assert {p.side for p in found} == {"left", "right"}
    walled = proposed([*given, *marks("touch 6.1")], 9)
    assert walled
    assert max(p.time_s for p in walled) <= 6.1
    # A shoulder is proposed only where shoulders are marked.
    assert "shoulder" not in {p.event for p in found}
    assert "shoulder" in {p.event for p in proposed(steady_arm("right", 0, 2, 2, shoulder=True))}


@pytest.mark.parametrize("stroke", ["freestyle", "backstroke", "breaststroke", "butterfly"])
def test_proposals_come_near_what_the_model_swims(stroke: str) -> None:
    swim = replace(usual_swim(stroke, 34, 5), variation=0.02)
    truth = [m for m in schedule(swim, 20).marks(0, 20) if m.lane == "arm"]
    given = [m for m in truth if m.time_s < 7]
    found = proposed(given, 20, stroke)
    first = {}
    for p in found:
        first.setdefault((p.side, p.event), p.time_s)
    for m in truth:
        key = (m.side if stroke in ("freestyle", "backstroke") else "both", m.event)
        if m.time_s >= 7 and key in first:
            # The next one of each kind: within a tenth of a second.
            assert first.pop(key) == pytest.approx(m.time_s, abs=0.1), key
    assert first == {}


def of_lane(found: list[Proposal], lane: str) -> list[tuple[float, str, str]]:
    return [(round(p.time_s, 3), p.side, p.event) for p in found if p.lane == lane]


def test_a_kick_is_proposed_one_cycle_after_the_beat_in_its_place() -> None:
    # Cycles of 1.2 s; two beats near each other and a long pause, not an even pace.
    arm = steady_arm("right", 0, 1.2, 2)
    beats = marks("L beat 0.1; R beat 0.3; L beat 0.9; R beat 1.1")
    # Four beats over 1.0 s: four a cycle.
    found = of_lane(proposed([*arm, *beats], 2.6), "leg")
    assert found[:4] == [(1.3, "left", "beat"), (1.5, "right", "beat"), (2.1, "left", "beat"),
                         (2.3, "right", "beat")]  # fmt: skip


def test_too_few_beats_propose_nothing_and_alone_they_keep_their_own_pace() -> None:
    assert of_lane(proposed(marks("L beat 0.1")), "leg") == []
    assert of_lane(proposed(marks("L beat 0; R beat 0.3; L beat 0.6")), "leg") == []
    alone = of_lane(proposed(marks("L beat 0; R beat 0.3; L beat 0.6; R beat 0.9"), 1.6), "leg")
    assert alone == [(1.2, "left", "beat"), (1.5, "right", "beat")]
    # Two beats of six are no cycle yet.
    arm = steady_arm("right", 0, 1.2, 2)
    assert of_lane(proposed([*arm, *marks("L beat 0; R beat 0.2")]), "leg") == []


def test_kicks_stop_at_a_wall_and_begin_anew_after_it() -> None:
    arm = steady_arm("right", 0, 1.2, 2)
    beats = marks("L beat 0; R beat 0.6; L beat 1.2; touch 2.0")
    assert of_lane(proposed([*arm, *beats]), "leg") == [(1.8, "right", "beat")]
    assert of_lane(proposed([*arm, *beats, *marks("push 2.5; L beat 2.7")]), "leg") == []


def test_breaststroke_legs_follow_their_own_cycle() -> None:
    legs = marks("heels 0; set 0.3; close 0.7; heels 1.5")
    found = of_lane(proposed(legs, 3.2, "breaststroke"), "leg")
    assert found == [(1.8, "", "set"), (2.2, "", "close"), (3.0, "", "heels")]


def test_breaths_go_on_to_the_side_they_went_to() -> None:
    one_side = marks("R turn 1.0; R air 1.2; down 1.6; R turn 3.0; R air 3.2; down 3.6")
    assert of_lane(proposed(one_side, 6), "breath") == [
        (5.0, "right", "turn"), (5.2, "right", "air"), (5.6, "", "down"),
    ]  # fmt: skip
    both = marks("R turn 1.0; R air 1.2; down 1.6; L turn 3.0; L air 3.2; down 3.6")
    assert of_lane(proposed(both, 8), "breath")[::3] == [
        (5.0, "right", "turn"),
        (7.0, "left", "turn"),
    ]


def test_a_breath_that_is_half_marked_is_finished_first() -> None:
    two = "R turn 1.0; R air 1.2; down 1.6; R turn 3.0; R air 3.2; down 3.6;"
    turned = of_lane(proposed(marks(f"{two} R turn 5.1"), 6), "breath")
    assert turned == [(5.3, "right", "air"), (5.7, "", "down")]
    aired = of_lane(proposed(marks(f"{two} R turn 5.1; R air 5.3"), 6), "breath")
    assert aired[0] == (5.7, "", "down")
    # One breath alone tells no rhythm.
    assert of_lane(proposed(marks("R turn 1.0; R air 1.2; down 1.6")), "breath") == []
