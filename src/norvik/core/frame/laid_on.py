"""One swimmer laid on another: enlarged, turned and moved so that shoulder and hip meet.

The trunk hardly bends while swimming, so that it says how large a swimmer is in the picture, where
they are and which way they swim.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal, NamedTuple

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point, distance

Way = Literal["left", "right", ""]
#: Own choice: a trunk steeper than this does not say which way its swimmer swims, in degrees.
_STEEP_DEG = 60.0


class Trunk(NamedTuple):
    """Shoulder and hip of a swimmer on one frame, in source pixels."""

    shoulder: Point
    hip: Point

    @property
    def length_px(self) -> float:
        return distance(self.shoulder, self.hip)


@dataclass(frozen=True, slots=True)
class Laid:
    """A point at x + iy goes to turn * (x + iy) + move; mirrored first where it says so.

    The length of `turn` is how much it is enlarged, its angle how far it is turned.
    """

    turn: complex
    move: complex
    mirrored: bool = False

    def point(self, p: Point) -> Point:
        at = complex(p.x, p.y)
        to = self.turn * (at.conjugate() if self.mirrored else at) + self.move
        return Point(to.real, to.imag)

    def points(self, all_of: Iterable[Point]) -> tuple[Point, ...]:
        return tuple(self.point(p) for p in all_of)

    @property
    def scale(self) -> float:
        return abs(self.turn)

    @property
    def matrix(self) -> tuple[float, float, float, float, float, float]:
        """As an SVG or CSS matrix: x' = a x + c y + e, y' = b x + d y + f."""
        t, m = self.turn, self.move
        flip = -1.0 if self.mirrored else 1.0
        return (t.real, t.imag, -flip * t.imag, flip * t.real, m.real, m.imag)


def lay(other: Trunk, on: Trunk) -> Laid:
    """How the other swimmer comes to lie on the first one.

    Mirrored where the two swim in opposite directions, so that the bellies stay below. Raises
    MeasureError for a trunk without a length.
    """
    if not other.length_px or not on.length_px:
        raise MeasureError("Shoulder and hip lie on each other. Set them again.")
    mirrored = {swims_to(other), swims_to(on)} == {"left", "right"}
    hip, shoulder = (complex(p.x, p.y) for p in (other.hip, other.shoulder))
    if mirrored:
        hip, shoulder = hip.conjugate(), shoulder.conjugate()
        # A mirror on the vertical is one on the horizontal and half a turn.
    wanted = complex(on.shoulder.x - on.hip.x, on.shoulder.y - on.hip.y)
    turn = wanted / (shoulder - hip)
    return Laid(turn, complex(on.hip.x, on.hip.y) - turn * hip, mirrored)


def swims_to(trunk: Trunk) -> Way:
    """Which way a swimmer swims in the picture: where the shoulder is, seen from the hip.

    Empty for a trunk that stands too steep to tell.
    """
    across, down = trunk.shoulder.x - trunk.hip.x, trunk.shoulder.y - trunk.hip.y
    if math.degrees(math.atan2(abs(down), abs(across))) > _STEEP_DEG:
        return ""
    return "right" if across > 0 else "left"


def mostly_to(trunks: Sequence[Trunk]) -> Way:
    """Which way most of them swim; empty where they do not agree or none can tell."""
    ways = [way for t in trunks if (way := swims_to(t))]
    right = ways.count("right")
    if not ways or 2 * right == len(ways):
        return ""
    return "right" if 2 * right > len(ways) else "left"


def in_trunks(hand: Sequence[Point], trunks: Sequence[Trunk]) -> list[Point]:
    """The way of a hand seen from the hip, in trunk lengths: x ahead of the hip, y below it.

    One trunk for each place of the hand. Every swimmer swims to the right here, and the trunk lies
    level: how the hand moves past the body, wherever the camera was.
    """
    found = []
    for at, trunk in zip(hand, trunks, strict=True):
        length = trunk.length_px
        if not length:
            raise MeasureError("Shoulder and hip lie on each other. Set them again.")
        ahead = complex(trunk.shoulder.x - trunk.hip.x, trunk.shoulder.y - trunk.hip.y)
        seen = complex(at.x - trunk.hip.x, at.y - trunk.hip.y) * cmath.exp(-1j * cmath.phase(ahead))
        # Turned by half a turn, a swimmer to the left would have the water above: mirror it back.
        flip = -1.0 if ahead.real < 0 else 1.0
        found.append(Point(seen.real / length, flip * seen.imag / length))
    return found
