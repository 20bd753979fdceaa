"""The closed sets that every part speaks of: strokes, sides, lanes."""

from __future__ import annotations

from typing import Literal, TypeGuard, get_args

StrokeName = Literal["freestyle", "backstroke", "breaststroke", "butterfly"]

#: Empty where no stroke is asked for, or none can be told.
AnyStroke = StrokeName | Literal[""]

#: Of an arm, a leg or a breath; "" where there is no side, or where it is not known.
Side = Literal["", "left", "right", "both", "front"]

Lane = Literal["arm", "leg", "breath", "wall", "course"]

STROKE_NAMES: tuple[StrokeName, ...] = get_args(StrokeName)

SIDES: tuple[Side, ...] = get_args(Side)

LANES: tuple[Lane, ...] = get_args(Lane)

LEFT_AND_RIGHT: tuple[Side, Side] = ("left", "right")

#: What is seen, measured or said lies on one side of the body, or on neither.
BODY_SIDES: tuple[Side, ...] = ("", *LEFT_AND_RIGHT)

#: Both ways from one arm to the other.
DIRECTIONS: tuple[tuple[Side, Side], ...] = (("left", "right"), ("right", "left"))


def is_stroke(text: str) -> TypeGuard[StrokeName]:
    return text in STROKE_NAMES


def is_side(text: str) -> TypeGuard[Side]:
    return text in SIDES


def is_lane(text: str) -> TypeGuard[Lane]:
    return text in LANES


def side_of(text: str) -> Side:
    """The side that a word asks for; any other word asks for none."""
    return text if is_side(text) else ""


def stroke_of(text: str) -> AnyStroke:
    """The stroke that a word asks for; any other word asks for none."""
    return text if is_stroke(text) else ""
