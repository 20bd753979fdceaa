"""What each stroke is made of: lanes, sides and events, to the word."""

from __future__ import annotations

import pytest

from norvik.core.strokes import STROKES

BREATH = ("turn", "air", "down", "bubbles-on", "bubbles-off")


@pytest.mark.parametrize(
    ("stroke", "opens", "arms", "per_cycle"),
    [
        ("freestyle", "entry", ("left", "right"), 2),
        ("backstroke", "entry", ("left", "right"), 2),
        ("breaststroke", "out", ("both",), 1),
        ("butterfly", "entry", ("both",), 1),
    ],
)
def test_arms_and_what_opens_a_cycle(
    stroke: str, opens: str, arms: tuple[str, ...], per_cycle: int
) -> None:
    rules = STROKES[stroke]
    assert rules.opens == opens == rules.arm_events[0]
    assert rules.arms == arms
    assert rules.strokes_per_cycle == per_cycle
    assert rules.alternating is (per_cycle == 2)
    assert rules.sides_of("arm") == (("left", "right") if per_cycle == 2 else ("",))


@pytest.mark.parametrize("stroke", STROKES)
def test_lanes_that_every_stroke_has(stroke: str) -> None:
    rules = STROKES[stroke]
    assert rules.sides_of("breath") == ("", "left", "right", "front")
    assert rules.sides_of("leg") == ("", "left", "right")
    assert rules.sides_of("wall") == ("",)
    assert rules.sides_of("course") == ("",)
    assert rules.sides_of("tide") == ()
    assert rules.events_of("arm") == rules.arm_events
    assert rules.events_of("leg") == ("beat", "up", *rules.leg_cycle)
    assert set(BREATH) <= set(rules.events_of("breath"))
    assert {"touch", "push", "breakout"} <= set(rules.events_of("wall"))
    assert rules.events_of("course") == ("pass",)
    assert rules.events_of("tide") == ()


def test_only_breaststroke_has_a_cycle_of_the_legs() -> None:
    assert {s: r.leg_cycle for s, r in STROKES.items() if r.leg_cycle} == {
        "breaststroke": ("heels", "set", "close")
    }
