"""What the coach is told where marks are missing: which sentence stands at which number.

`reasons_told.json` has, for four sets of marks in each stroke, every sentence with the numbers that
it stands at. A sentence at another number, or another sentence, is a change that somebody wants.
"""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from norvik.core.strokes import STROKES
from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing

TOLD = json.loads(Path(__file__).with_name("reasons_told.json").read_text("utf-8"))
CASES = {"nothing": 0, "two openings": 2, "three cycles": 4, "a breath": 4}
BREATHING = {"freestyle": "right", "backstroke": "", "breaststroke": "front", "butterfly": "front"}


def marks_of(stroke: str, case: str) -> list[Mark]:
    """Cycles of 1.5 s with every event of the arms; the second arm half a cycle later."""
    rules, count, marks = STROKES[stroke], CASES[case], []
    for nth, side in enumerate(rules.arms if rules.alternating else ("",)):
        for n in range(count):
            last = n == count - 1 or case == "two openings"
            for k, event in enumerate(rules.arm_events[:1] if last else rules.arm_events):
                at = 1 + 1.5 * n + 0.75 * nth + 1.5 * k / len(rules.arm_events)
                marks.append(Mark(at, "arm", side, event))
        if case == "two openings":
            break
    if case == "a breath":
        marks += [Mark(at, "breath", BREATHING[stroke], "air") for at in (1.3, 2.8)]
    return marks


@pytest.mark.parametrize("case", CASES)
@pytest.mark.parametrize("stroke", STROKES)
def test_every_missing_number_says_what_it_needs(stroke: str, case: str) -> None:
    said: dict[str, list[str]] = {}
    for path, why in compute_timing(marks_of(stroke, case), stroke, 1 / 60).reasons.items():
        said.setdefault(why, []).append(path)
    assert {why: " ".join(sorted(paths)) for why, paths in said.items()} == TOLD[
        f"{stroke}: {case}"
    ]
