"""Drills of walls and starts: how each is done, by its id in the catalogue."""

from __future__ import annotations

from norvik.model.drills.motion import Arm, Bent, Kick, Motion, Turn
from norvik.model.drills.patterns import hold, path


def _off_the_wall(seconds: float, **more: object) -> Motion:
    """The whole push-off to the first strokes."""
    return Motion(seconds, stroke="wall", once=True, **more)  # type: ignore[arg-type]


#: A last pull to the thigh, the hands by the ears, and out into the line.
_ROUND: tuple[tuple[float, str], ...] = (
    (0.0, "ahead"), (0.25, "catch"), (0.55, "under-shoulder"), (0.8, "side"), (1.25, "ears"),
    (1.7, "ears"), (2.0, "line"), (3.4, "line"),
)  # fmt: skip


def _over(**more: object) -> Motion:
    """Over in one move, chin to the chest and knees to the nose."""
    return Motion(
        3.4, right=path(*_ROUND), roll=0.0, once=True,
        left=[*path((0.0, "side")), *path(*_ROUND[3:])],
        lift=[(0.0, 2.0), (0.5, 0.0), (0.9, -48.0), (1.6, -36.0), (2.0, 0.0), (3.4, 0.0)],
        legs=Bent(
            hip=[(0.0, -6.0), (0.65, 16.0), (1.2, 118.0), (2.0, 108.0), (2.4, 2.0), (3.4, 0.0)],
            knee=[(0.0, 4.0), (0.65, 24.0), (1.2, 126.0), (2.0, 106.0), (2.4, 2.0), (3.4, 2.0)],
            foot=[(0.0, 6.0), (1.6, 60.0), (2.0, 84.0), (2.4, 10.0), (3.4, 4.0)],
        ),
        **more,  # type: ignore[arg-type]
    )  # fmt: skip


def _touch(both: bool) -> Motion:
    """The last stroke and the hand or hands at the wall."""
    if both:
        arms: Arm = [Turn(0.2, 0.57, 0.91, 1.30), *hold("ahead", 1.45, 2.4)]
        return Motion(
            2.4, stroke="breaststroke", left=arms, right=arms,
            neck_m=[(0.0, -0.12), (0.8, 0.06), (1.3, -0.10), (2.4, -0.06)],
            pitch=[(0.0, 0.0), (0.8, 22.0), (1.3, 2.0), (2.4, 4.0)],
            lift=[(0.0, 0.0), (0.8, 22.0), (1.3, 0.0), (2.4, 4.0)],
            ahead_m=[(0.0, -0.75), (0.9, -0.35), (1.5, 0.0), (2.4, 0.0)],
            legs=Bent(hip=[(0.0, 0.0), (0.6, 2.0), (1.0, 46.0), (1.35, 0.0), (2.4, 0.0)],
                      knee=[(0.0, 4.0), (0.6, 6.0), (1.0, 118.0), (1.35, 4.0), (2.4, 4.0)],
                      foot=[(0.0, 6.0), (0.7, 10.0), (1.0, 80.0), (1.35, 6.0), (2.4, 6.0)],
                      out=[(0.0, 0.0), (0.7, 0.0), (1.0, 55.0), (1.35, 0.0), (2.4, 0.0)],
                      apart_m=0.22),
            around=("touched",), once=True,
        )  # fmt: skip
    return Motion(
        2.6,
        right=[Turn(-0.4, 0.1, 0.6, 1.1), *hold("ahead", 1.25, 2.6)],
        left=[Turn(-1.0, -0.5, 0.0, 0.5), Turn(0.5, 1.0, 1.5, 2.6, 2.3)],
        ahead_m=[(0.0, -0.9), (1.3, 0.0), (2.6, 0.0)],
        roll=[(0.0, -30.0), (0.6, -20.0), (1.2, 62.0), (2.6, 62.0)],
        legs=Kick(14), around=("touched",), once=True,
    )  # fmt: skip


def _push_off(seconds: float) -> Motion:
    """Feet on the wall behind, into the line, and a glide."""
    return Motion(
        seconds, left=path((0.0, "ears"), (0.5, "line"), (seconds, "line")),
        right=path((0.0, "ears"), (0.5, "line"), (seconds, "line")), roll=0.0,
        ahead_m=[(0.0, -0.75), (0.35, -0.62), (0.75, 0.0), (seconds, 1.6)],
        neck_m=[(0.0, -0.50), (1.0, -0.55), (seconds, -0.30)],
        pitch=[(0.0, 6.0), (0.8, 0.0), (seconds, 6.0)],
        legs=Bent(hip=[(0.0, 112.0), (0.35, 96.0), (0.75, 2.0), (seconds, 0.0)],
                  knee=[(0.0, 116.0), (0.35, 98.0), (0.75, 2.0), (seconds, 2.0)],
                  foot=[(0.0, 86.0), (0.4, 84.0), (0.8, 10.0), (seconds, 2.0)]),
        around=("deck:-1.36:0.25",), once=True,
    )  # fmt: skip


def _into_the_water(
    seconds: float, neck: list[tuple[float, float]], ahead: list[tuple[float, float]],
    pitch: list[tuple[float, float]], legs: Bent, deck: str, *, from_block: bool = False,
) -> Motion:  # fmt: skip
    """From the edge through one hole and into a glide."""
    first = "block" if from_block else "line"
    leaves = 0.9 if from_block else 0.3
    arms = path((0.0, first), (0.5, first), (leaves + 0.35, "line"), (seconds, "line"))
    return Motion(
        seconds, left=arms, right=arms, roll=0.0, neck_m=neck, ahead_m=ahead, pitch=pitch,
        lift=[(0.0, -26.0 if from_block else 0.0), (0.6, -10.0), (leaves + 0.35, -4.0),
              (seconds, 0.0)],
        legs=legs, around=(deck,), once=True,
    )  # fmt: skip


MOTIONS: dict[str, Motion] = {
    "streamline-six": _off_the_wall(6.6),
    "narrow-dolphin": _off_the_wall(5.2, dolphins=7, flutters=3),
    "low-rise": _off_the_wall(5.4, dolphins=3, flutters=6),
    "turn-finish-alternate": _touch(both=False),
    "flag-judge": _touch(both=False),
    "wall-push-distance": _push_off(3.2),
    "vertical-dolphin": Motion(
        1.2,
        stroke="butterfly",
        pitch=87.0,
        lift=0.0,
        neck_m=-0.02,
        roll=0.0,
        left=hold("crossed", 0, 1.2),
        right=hold("crossed", 0, 1.2),
        legs=Kick(3, "dolphin", size=0.9, rest=4.0),
    ),
    "somersault-open": _over(
        pitch=[(0.0, 2.0), (0.7, -6.0), (1.2, -110.0), (1.8, -300.0), (2.1, -358.0), (3.4, -358.0)],
        neck_m=[(0.0, -0.06), (0.6, -0.12), (1.2, -0.52), (1.8, -0.12), (2.1, -0.06), (3.4, -0.06)],
        ahead_m=[(0.0, -0.2), (1.2, 0.1), (1.8, 0.0), (3.4, 0.1)],
    ),
    "tumble-distance": _over(
        pitch=[(0.0, 2.0), (0.7, -4.0), (1.2, -80.0), (1.65, -165.0), (2.0, -182.0), (3.4, -182.0)],
        neck_m=[
            (0.0, -0.06),
            (0.6, -0.12),
            (1.2, -0.48),
            (1.65, -0.74),
            (2.1, -0.72),
            (3.4, -0.50),
        ],
        ahead_m=[
            (0.0, -0.6),
            (0.7, 0.15),
            (1.2, 0.38),
            (1.65, 0.25),
            (2.0, 0.0),
            (2.4, -0.44),
            (3.4, -1.3),
        ],
        around=("touched",),
    ),
    # Both hands touch, knees up, one elbow back, the other hand over the water.
    "knee-tuck-turn": Motion(
        3.6,
        stroke="breaststroke",
        roll=0.0,
        pitch=[(0.0, 2.0), (0.8, 8.0), (1.3, 62.0), (1.9, 120.0), (2.4, 172.0), (3.6, 182.0)],
        neck_m=[(0.0, -0.10), (0.8, -0.06), (1.3, 0.10), (1.9, 0.0), (2.4, -0.62), (3.6, -0.50)],
        ahead_m=[
            (0.0, -0.8),
            (0.8, 0.0),
            (1.3, 0.12),
            (1.9, 0.04),
            (2.3, -0.24),
            (2.75, -0.68),
            (3.6, -1.4),
        ],
        lift=[(0.0, 2.0), (0.8, 8.0), (1.3, 10.0), (2.4, 0.0), (3.6, 0.0)],
        right=path(
            (0.0, "ahead"),
            (0.8, "ahead"),
            (1.1, "rib"),
            (1.6, "rib"),
            (2.2, "ears"),
            (2.6, "line"),
            (3.6, "line"),
        ),
        left=path(
            (0.0, "ahead"),
            (0.9, "ahead"),
            (1.4, "wall-high"),
            (1.8, "past-ear"),
            (2.3, "ears"),
            (2.6, "line"),
            (3.6, "line"),
        ),
        legs=Bent(
            hip=[(0.0, 2.0), (0.8, 14.0), (1.35, 118.0), (2.3, 110.0), (2.75, 4.0), (3.6, 0.0)],
            knee=[(0.0, 4.0), (0.8, 30.0), (1.35, 128.0), (2.3, 108.0), (2.75, 2.0), (3.6, 2.0)],
            foot=[(0.0, 6.0), (1.4, 60.0), (2.3, 84.0), (2.75, 8.0), (3.6, 4.0)],
        ),
        around=("touched",),
        once=True,
    ),
    "two-hand-touch": _touch(both=True),
    "breakout-stroke": _off_the_wall(6.0, dolphins=3, flutters=4),
    "start-sitting": _into_the_water(
        3.2,
        neck=[(0.0, 0.86), (0.6, 0.80), (1.1, 0.22), (1.5, -0.35), (2.2, -0.55), (3.2, -0.30)],
        ahead=[(0.0, 0.05), (0.6, 0.16), (1.1, 0.72), (1.5, 1.05), (2.2, 1.7), (3.2, 2.7)],
        pitch=[(0.0, 74.0), (0.6, 50.0), (1.1, -24.0), (1.5, -44.0), (2.2, -8.0), (3.2, 12.0)],
        legs=Bent(
            hip=[(0.0, 106.0), (0.6, 106.0), (1.1, 60.0), (1.6, 4.0), (3.2, 0.0)],
            knee=[(0.0, 84.0), (0.6, 96.0), (1.1, 50.0), (1.6, 2.0), (3.2, 2.0)],
            foot=[(0.0, 70.0), (0.8, 50.0), (1.3, 10.0), (3.2, 4.0)],
        ),
        deck="deck:0.06:0.26",
    ),
    "start-kneeling": _into_the_water(
        3.2,
        neck=[(0.0, 1.02), (0.6, 0.92), (1.1, 0.36), (1.5, -0.30), (2.2, -0.60), (3.2, -0.32)],
        ahead=[(0.0, 0.05), (0.6, 0.28), (1.1, 0.95), (1.5, 1.35), (2.2, 2.0), (3.2, 3.0)],
        pitch=[(0.0, 66.0), (0.6, 40.0), (1.1, -24.0), (1.5, -42.0), (2.2, -8.0), (3.2, 12.0)],
        legs=Bent(
            hip=[(0.0, 82.0), (0.6, 100.0), (1.1, 30.0), (1.5, 2.0), (3.2, 0.0)],
            knee=[(0.0, 66.0), (0.6, 74.0), (1.1, 10.0), (1.5, 2.0), (3.2, 2.0)],
            other_hip=[(0.0, -22.0), (0.6, 10.0), (1.1, 6.0), (1.5, 2.0), (3.2, 0.0)],
            other_knee=[(0.0, 78.0), (0.6, 84.0), (1.1, 10.0), (1.5, 2.0), (3.2, 2.0)],
            foot=[(0.0, 76.0), (0.7, 50.0), (1.2, 10.0), (3.2, 4.0)],
        ),
        deck="deck:0.10:0.26",
    ),
    "start-reaction": _into_the_water(
        2.6,
        neck=[(0.0, 1.06), (0.9, 1.06), (1.25, 1.00), (1.6, 0.55), (1.95, -0.20), (2.6, -0.62)],
        ahead=[(0.0, 0.18), (0.9, 0.18), (1.25, 0.75), (1.6, 1.5), (1.95, 2.15), (2.6, 3.1)],
        pitch=[(0.0, -22.0), (0.9, -22.0), (1.25, 14.0), (1.6, -22.0), (1.95, -36.0), (2.6, -6.0)],
        legs=Bent(
            hip=[(0.0, 118.0), (0.9, 118.0), (1.25, 34.0), (1.6, 8.0), (2.6, 0.0)],
            knee=[(0.0, 62.0), (0.9, 62.0), (1.25, 6.0), (1.6, 4.0), (2.6, 2.0)],
            other_hip=[(0.0, 84.0), (0.9, 84.0), (1.25, 6.0), (1.6, 4.0), (2.6, 0.0)],
            other_knee=[(0.0, 76.0), (0.9, 76.0), (1.25, 30.0), (1.6, 6.0), (2.6, 2.0)],
            foot=[(0.0, 80.0), (1.0, 70.0), (1.35, 10.0), (2.6, 2.0)],
        ),
        deck="deck:0.10:0.62",
        from_block=True,
    ),
    "start-line": _into_the_water(
        3.2,
        neck=[(0.0, 1.06), (0.9, 1.06), (1.25, 1.00), (1.6, 0.50), (1.95, -0.25), (3.2, -0.62)],
        ahead=[(0.0, 0.18), (0.9, 0.18), (1.25, 0.75), (1.6, 1.4), (1.95, 1.95), (3.2, 3.4)],
        pitch=[
            (0.0, -22.0),
            (0.9, -22.0),
            (1.25, 10.0),
            (1.6, -30.0),
            (1.95, -40.0),
            (2.5, -10.0),
            (3.2, 0.0),
        ],
        legs=Bent(
            hip=[(0.0, 118.0), (0.9, 118.0), (1.25, 34.0), (1.6, 14.0), (1.95, 0.0), (3.2, 0.0)],
            knee=[(0.0, 62.0), (0.9, 62.0), (1.25, 6.0), (1.6, 2.0), (3.2, 2.0)],
            foot=[(0.0, 80.0), (1.0, 70.0), (1.35, 10.0), (3.2, 2.0)],
        ),
        deck="deck:0.10:0.62",
        from_block=True,
    ),
}
