"""The closed sets hold together: names, their checks and the rules of the strokes."""

from __future__ import annotations

import pytest

from norvik.core.strokes import STROKES
from norvik.core.strokes.names import (
    LANES,
    SIDES,
    STROKE_NAMES,
    is_lane,
    is_side,
    is_stroke,
    side_of,
    stroke_of,
)


def test_each_stroke_has_its_rules_and_nothing_else_has() -> None:
    assert tuple(STROKES) == STROKE_NAMES
    assert all(STROKES[name].name == name for name in STROKE_NAMES)


@pytest.mark.parametrize("stroke", STROKE_NAMES)
def test_rules_speak_of_known_sides_and_lanes(stroke: str) -> None:
    assert is_stroke(stroke)
    rules = STROKES[stroke]
    assert set(rules.arms) <= set(SIDES)
    for lane in LANES:
        assert rules.sides_of(lane)
        assert set(rules.sides_of(lane)) <= set(SIDES)
        assert rules.events_of(lane)


@pytest.mark.parametrize("word", ["", "crawl", "Freestyle", "left ", "arms", "freestyle butterfly"])
def test_other_words_are_none_of_them(word: str) -> None:
    assert not is_stroke(word)
    assert not is_lane(word)
    assert is_side(word) == (word == "")
    assert stroke_of(word) == ""
    assert side_of(word) == ""


def test_a_known_word_stays() -> None:
    assert [side_of(side) for side in SIDES] == list(SIDES)
    assert [stroke_of(stroke) for stroke in STROKE_NAMES] == list(STROKE_NAMES)
