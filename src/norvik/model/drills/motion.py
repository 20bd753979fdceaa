"""The words in which a drill's motion is written down: arms, legs, body and kit of one loop.

All seconds are of the loop, which repeats; all degrees are degrees. Sides are the swimmer's own.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

#: A value over the loop: one number, or (second, value) pairs with a smooth path between them.
Track = float | Sequence[tuple[float, float]]


@dataclass(frozen=True, slots=True)
class Turn:
    """One stroke of an arm, as the drill's stroke is swum.

    The hand goes in at `entry`, waits until it presses at `press`, leaves the pull at `out`, waits
    there until `leave` (at once where it is None) and is over the water until `end`. Breaststroke:
    hands part at `entry`, turn in at `press`, shoot at `out` and are long at `end`.
    """

    entry: float
    press: float
    out: float
    end: float
    leave: float | None = None


@dataclass(frozen=True, slots=True)
class At:
    """A hand at a place (see places.py) at an instant; two of one place hold it there."""

    time_s: float
    place: str


Arm = Sequence[Turn | At]


@dataclass(frozen=True, slots=True)
class Kick:
    """Flutter or dolphin.

    beats: a loop, all legs counted. size: against the usual. rest: degrees by which the legs point
    down behind the trunk; None where the stroke gives it. spread: degrees between the legs beyond
    the usual. knees: bend against the usual.
    """

    beats: int
    kind: str = "flutter"
    size: float = 1.0
    rest: Track | None = None
    spread: float = 0.0
    knees: float = 1.0
    together_m: float = 0.10


@dataclass(frozen=True, slots=True)
class Frog:
    """Breaststroke kicks: seconds of heels rising, feet set, and feet together, for each.

    width: against the usual.
    """

    kicks: Sequence[tuple[float, float, float]]
    width: float = 1.0


@dataclass(frozen=True, slots=True)
class Bent:
    """Legs by their joints, as on land or at a wall.

    hip: degrees by which the thigh comes forward from the line of the trunk. knee: degrees by which
    the shank goes back from the line of the thigh. foot: degrees by which the foot is pulled up
    from pointed toes. other_hip, other_knee: of the left leg where it differs. apart_m: between
    the knees. out: degrees by which the feet turn out.
    """

    hip: Track = 0.0
    knee: Track = 0.0
    foot: Track = 20.0
    other_hip: Track | None = None
    other_knee: Track | None = None
    apart_m: float = 0.16
    out: Track = 0.0


@dataclass(frozen=True, slots=True)
class Motion:
    """One loop of a drill.

    seconds: of the loop. stroke: whose arms and lie it has; backstroke lies on the back; wall is
    the whole push-off to the first strokes, with dolphins and flutters before them. left,
    right: the arms, from places and strokes. legs: how they move. roll: degrees, positive lifts the
    left side (as it lies in the water); None where it follows the arms by roll_most degrees. pitch:
    degrees by which the trunk rises from hips to neck. neck_m: height of the neck over the level of
    the pool; None where the stroke gives it. ahead_m: by how much the neck lies ahead of its place.
    lift: degrees by which the crown rises over the trunk's own line. turn: degrees by which the
    face turns to the swimmer's right. breaths: (turn, down, side) in seconds, where the head turns
    as far as the mouth needs. kit: what is held or worn (see kit of the drills). around: ground,
    wall and the like. view: from where it shows best. dials: faults turned on purpose, such as a
    wide swing that the drill asks for. fists: the hands are closed. once: the motion ends elsewhere
    than it begins, as off a wall, and then begins again.
    """

    seconds: float
    stroke: str = "freestyle"
    left: Arm = ()
    right: Arm = ()
    legs: Kick | Frog | Bent = field(default_factory=lambda: Kick(6))
    roll: Track | None = None
    roll_most: float = 48.0
    pitch: Track = 3.0
    neck_m: Track | None = None
    ahead_m: Track = 0.0
    lift: Track = 4.0
    turn: Track = 0.0
    breaths: Sequence[tuple[float, float, str]] = ()
    kit: Sequence[str] = ()
    around: Sequence[str] = ()
    view: str = "side"
    dials: Mapping[str, float] = field(default_factory=dict)
    fists: bool = False
    once: bool = False
    dolphins: int = 5
    flutters: int = 6
