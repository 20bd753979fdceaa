"""Proposals: from the rhythm of marked cycles, shifted by every mark, never beyond a wall."""

from __future__ import annotations

from dataclasses import replace

import pytest

from norvik.core.events import Mark
from norvik.core.proposals import Proposal, propose
from norvik.core.settle import settle
from norvik.core.strokes import STROKES
from norvik.model.dials import usual_swim
from norvik.model.schedule import schedule
from tests.marking import marks, steady_arm


def proposed(given: list[Mark], until_s: float = 20, stroke: str = "freestyle", least: int = 2
) -> list[Proposal]:  # fmt: skip
    return propose(settle(given, STROKES[stroke]), until_s, least)


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
