"""A fault that is dialled into the model swimmer comes out as the finding of that name.

The clicks are on the model's true joints, the marks on its true events; the model shares nothing
that computes with the core. Asked: every dial, at 0.6 and full, and at most one other finding.
"""

from __future__ import annotations

from functools import cache

import pytest

from norvik.model.dialled import dialled
from norvik.model.dials import DIALS
from tests.model.reading_truth import Truth, found_in

#: Dials of faults that a coach sees and no mark or measure of these views tells.
SEEN_ONLY = {
    "short-finish", "wide-recovery", "low-swing", "over-turn-breath", "exit-over-back",
    "breast-head-bob", "breast-knees-lead", "breast-early-look", "breast-kick-out", "fly-high",
    "fly-one-way-kick", "fly-palm-down", "wall-early-break",
}  # fmt: skip
BY_NUMBER = sorted(set(DIALS) - SEEN_ONLY)


AMOUNTS = (0.6, 1.0)


@cache
def faults(dial: str, amount: float) -> frozenset[str]:
    return frozenset(f.id for f in found_in(Truth(dial, amount=amount)) if f.kind == "fault")


@pytest.mark.parametrize("amount", AMOUNTS)
def test_dialled_faults_come_out_by_name(amount: float) -> None:
    assert len(BY_NUMBER) >= 48
    assert [d for d in BY_NUMBER if d not in faults(d, amount)] == []


@pytest.mark.parametrize("amount", AMOUNTS)
def test_few_findings_are_false(amount: float) -> None:
    false = {d: len(faults(d, amount) - {d}) for d in BY_NUMBER}
    assert sum(false.values()) / len(false) <= 0.5
    assert {d: n for d, n in false.items() if n > 1} == {}


def test_a_dial_begins_at_nothing_and_grows() -> None:
    for dial in DIALS:
        shown = [dialled({dial: a}, dial) for a in (0.0, 0.05, 0.3, 0.6, 1.0)]
        assert shown[0] == 0
        assert shown == sorted(shown)
        assert 0.8 < shown[3] / max(1.0, shown[4]) < 0.9
    assert dialled({}, "crossing") == 0


@pytest.mark.parametrize("stroke", ["freestyle", "backstroke", "breaststroke", "butterfly", "wall"])
def test_without_a_dial_nothing_is_found(stroke: str) -> None:
    found = found_in(Truth(stroke=stroke))
    assert [f.id for f in found if f.kind == "fault"] == []
    assert sum(f.kind == "strength" for f in found) >= 2
