"""What each measure computes from its clicks and the clip's references.

Every function takes points in source pixels, in the order of its measure's points. Each raises
MeasureError where two points that give a direction or a length lie on each other.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import (
    Point,
    best_line_spread,
    between_lines,
    distance,
    inner_angle,
    off_line,
    rise,
    steepness,
)
from norvik.core.frame.references import References

Points = Sequence[Point]


def angle(p: Points, _to: References) -> float:
    """Inner angle at the second point, degrees, 0 to 180."""
    return inner_angle(p[0], p[1], p[2])


def to_horizontal(p: Points, to: References) -> float:
    """Degrees of a line from the horizontal, 0 to 90."""
    return steepness(p[0], p[1], to.horizon_deg)


def to_vertical(p: Points, to: References) -> float:
    """Degrees of a line from the vertical, 0 to 90."""
    return 90 - steepness(p[0], p[1], to.horizon_deg)


def belly_angle(p: Points, _to: References) -> float:
    """Shoulder, hip, knee on the belly side of a swimmer face down: above 180 the back arches."""
    inner = inner_angle(p[0], p[1], p[2])
    return 360 - inner if off_line(p[1], p[0], p[2]) < 0 else inner


def belly_angle_face_up(p: Points, to: References) -> float:
    """The same for a swimmer on the back, whose belly is above."""
    return 360 - belly_angle(p, to)


def high_elbow(p: Points, _to: References) -> float:
    """Elbow above the line from shoulder to fingertips, in percent of that line."""
    shoulder, elbow, fingertips = p
    return 100 * off_line(elbow, shoulder, fingertips) / distance(shoulder, fingertips)


def below_horizontal(p: Points, to: References) -> float:
    """Degrees by which a line from its first point on sinks below the horizontal, -90 to 90.

    Whichever way the swimmer swims.
    """
    sinks = steepness(p[0], p[1], to.horizon_deg)
    return sinks if rise(p[0], p[1], to.horizon_deg) <= 0 else -sinks


def reach_order(p: Points, to: References) -> float:
    """The highest step upwards from elbow to wrist or wrist to fingertips, in percent of the arm.

    Negative when every joint lies lower than the one before it, as it should.
    """
    shoulder, elbow, wrist, fingertips = p
    arm = _length(shoulder, elbow) + _length(elbow, wrist)
    return 100 * max(to.height(wrist, elbow), to.height(fingertips, wrist)) / arm


def reach_depth(p: Points, to: References) -> float:
    """Fingertips below the shoulder, in lengths of the stretched arm (shoulder to wrist)."""
    shoulder, wrist, fingertips = p
    return to.height(shoulder, fingertips) / _length(shoulder, wrist)


def streamline(p: Points, _to: References) -> float:
    """Farthest point from the line that fits them best, in percent of the whole length."""
    return 100 * best_line_spread(p) / _length(p[0], p[-1])


def amplitude(p: Points, to: References) -> float:
    """Height between two ankles, in depths of the trunk."""
    top, bottom, back, belly = p
    return abs(to.height(top, bottom)) / _length(back, belly)


def foot_depth(p: Points, to: References) -> float:
    """Toes below the water line, in lengths of the shank; negative above it."""
    toes, knee, ankle = p
    return to.below_water(toes) / _length(knee, ankle)


def from_midline(p: Points, _to: References) -> float:
    """A hand's place across the swimmer, in half widths of the shoulders from their middle.

    Positive on the side of its own shoulder, the first point. A swimmer who rolls takes the
    midline along.
    """
    own, other, hand = p
    half = distance(own, other) / 2
    if half == 0:
        raise MeasureError("The two shoulders lie on each other. Move one of them.")
    mx, my = (own.x + other.x) / 2, (own.y + other.y) / 2
    return ((hand.x - mx) * (own.x - mx) + (hand.y - my) * (own.y - my)) / half**2


def beside_body(p: Points, to: References) -> float:
    """A hand outside the body's own side line, in half widths of the shoulders."""
    return from_midline(p, to) - 1


def elbow_out(p: Points, to: References) -> float:
    """How much wider the elbow is than the hand, in half widths of the shoulders."""
    own, other, elbow, hand = p
    return from_midline((own, other, elbow), to) - from_midline((own, other, hand), to)


def behind_shoulders(p: Points, _to: References) -> float:
    """Elbow behind the line of the shoulders (above it, seen from the front), in half shoulders."""
    own, other, elbow = p
    return 2 * off_line(elbow, own, other) / _length(own, other)


def widths(p: Points, _to: References) -> float:
    """The distance of the first two points in that of the last two."""
    return distance(p[0], p[1]) / _length(p[2], p[3])


def higher(p: Points, to: References) -> float:
    """How much higher the first point is than the second, in lengths of the forearm."""
    return to.height(p[0], p[1]) / _length(p[2], p[3])


def chest_to_hips(p: Points, to: References) -> float:
    """Shoulder above hip, in percent of the trunk's length."""
    return 100 * to.height(p[0], p[1]) / _length(p[0], p[1])


def body_line(p: Points, to: References) -> float:
    """Degrees of the line from shoulder to the middle of both ankles, from the horizontal."""
    shoulder, one, other = p
    middle = Point((one.x + other.x) / 2, (one.y + other.y) / 2)
    return steepness(shoulder, middle, to.horizon_deg)


def entry_ahead(p: Points, to: References) -> float:
    """Level distance from shoulder to hand as it enters, in lengths of the full reach.

    The full reach is shoulder to fingertips of the stretched arm.
    """
    shoulder, hand, stretched, fingertips = p
    level = math.sqrt(max(0.0, distance(shoulder, hand) ** 2 - to.height(shoulder, hand) ** 2))
    return level / _length(stretched, fingertips)


def entry_reach(p: Points, _to: References) -> float:
    """From head to the place of entry, in lengths of the full reach (shoulder to fingertips)."""
    head, entry, shoulder, fingertips = p
    return distance(head, entry) / _length(shoulder, fingertips)


def head_to_trunk(p: Points, _to: References) -> float:
    """Degrees by which the line from neck to crown climbs above that from hip to shoulder.

    Positive with a lifted head (face down it looks ahead, on the back the chin comes to the
    chest), negative with a lowered one (face down the chin is tucked). Whichever way the swimmer
    swims.
    """
    crown, neck, shoulder, hip = p
    climbs = between_lines(neck, crown, hip, shoulder)
    across = (shoulder.x - hip.x) * (crown.y - neck.y) - (shoulder.y - hip.y) * (crown.x - neck.x)
    return climbs if (across <= 0) == (shoulder.x >= hip.x) else -climbs


def metres(p: Points, to: References) -> float:
    """Metres between two points, in the plane that the scale was set in."""
    return to.metres(p[0], p[1])


def _length(a: Point, b: Point) -> float:
    found = distance(a, b)
    if found == 0:
        raise MeasureError("Two points that give a length lie on each other. Move one of them.")
    return found
