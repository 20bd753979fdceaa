"""A fault that is dialled into the model swimmer comes out as the finding of that name.

The clicks are on the model's true joints, the marks on its true events; the model shares nothing
that computes with the core. Asked: 22 of 24 dials, no more than one false finding a clip.
"""

from __future__ import annotations

from functools import cache

import pytest

from norvik.model.dials import DIALS
from tests.model.reading_truth import Truth, found_in

#: Dials of faults that a coach sees and no mark or measure of these views tells.
SEEN_ONLY = {
    "short-finish", "wide-recovery", "low-swing", "over-turn-breath", "exit-over-back",
    "breast-head-bob", "breast-knees-lead", "breast-early-look", "breast-kick-out", "fly-high",
    "fly-one-way-kick", "fly-palm-down", "wall-early-break",
}  # fmt: skip
BY_NUMBER = sorted(set(DIALS) - SEEN_ONLY)


@cache
def faults(dial: str) -> frozenset[str]:
    return frozenset(f.id for f in found_in(Truth(dial)) if f.kind == "fault")


def test_dialled_faults_come_out_by_name() -> None:
    assert len(BY_NUMBER) >= 24
    missed = [d for d in BY_NUMBER if d not in faults(d)]
    assert len(missed) <= len(BY_NUMBER) * 2 / 24, missed


def test_few_findings_are_false() -> None:
    false = {d: len(faults(d) - {d}) for d in BY_NUMBER}
    assert sum(false.values()) / len(false) <= 0.5
    assert {d: n for d, n in false.items() if n > 1} == {}


@pytest.mark.parametrize("stroke", ["freestyle", "backstroke", "breaststroke", "butterfly", "wall"])
def test_without_a_dial_nothing_is_found(stroke: str) -> None:
    found = found_in(Truth(stroke=stroke))
    assert [f.id for f in found if f.kind == "fault"] == []
    assert sum(f.kind == "strength" for f in found) >= 2
