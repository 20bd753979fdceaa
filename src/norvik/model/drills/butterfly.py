"""Butterfly drills: how each is done, by its id in the catalogue."""

from __future__ import annotations

from norvik.model.drills.motion import Arm, Kick, Motion, Turn
from norvik.model.drills.patterns import hold, path, stroke

_PRESS, _OUT = 0.32, 0.68
#: The two kicks of a stroke, as the hands go in and as they leave.
_WITH_ARMS = Kick(0, "with-arms")


def _stroke(entry: float, cycle_s: float = 1.5) -> Turn:
    return stroke(entry, cycle_s, _PRESS, _OUT)


def _both(seconds: float, arms: Arm, **more: object) -> Motion:
    settings: dict[str, object] = {
        "stroke": "butterfly", "left": arms, "right": arms, "roll": 0.0, "legs": _WITH_ARMS, **more,
    }  # fmt: skip
    return Motion(seconds, **settings)  # type: ignore[arg-type]


def _whole(cycle_s: float = 1.5, *, breathes: bool = False, **more: object) -> Motion:
    breaths = [(0.4 * cycle_s, 0.9 * cycle_s, "front")] if breathes else []
    return _both(cycle_s, [_stroke(0.0, cycle_s)], **{"breaths": breaths, **more})


def _dolphins(seconds: float, place: str, kicks: int, **more: object) -> Motion:
    """Dolphins alone, hands at a place."""
    return _both(seconds, hold(place, 0.0, seconds),
                 **{"legs": Kick(kicks, "dolphin"), "neck_m": -0.08, "pitch": 2.0, "lift": 2.0,
                    **more})  # fmt: skip


#: Three with the right arm, three with the left, three with both.
_EACH = 1.5
_RIGHT = [_stroke(n * _EACH) for n in (0, 1, 2, 6, 7, 8)]
_LEFT = [_stroke(n * _EACH) for n in (3, 4, 5, 6, 7, 8)]

MOTIONS: dict[str, Motion] = {
    "fly-333": Motion(
        9 * _EACH,
        stroke="butterfly",
        legs=_WITH_ARMS,
        roll=0.0,
        right=[*_RIGHT[:3], *hold("ahead", 3 * _EACH + 0.1, 6 * _EACH - 0.1), *_RIGHT[3:]],
        left=[*hold("ahead", 0.1, 3 * _EACH - 0.1), *_LEFT],
    ),
    "side-dolphin": Motion(
        2.0,
        right=hold("ahead", 0, 2),
        left=hold("side", 0, 2),
        roll=80.0,
        legs=Kick(4, "dolphin", rest=2.0),
        neck_m=-0.20,
        pitch=0.0,
        view="above",
    ),
    "board-dolphin": _dolphins(2.0, "ahead", 3, kit=("board",), lift=26.0, neck_m=-0.03, pitch=5.0),
    "fly-pinky": _whole(1.8),
    "fly-breath-early": _whole(1.6, breathes=True),
    "fly-two-one": _both(3.0, [_stroke(0.0), _stroke(1.5)], breaths=[(2.1, 2.85, "front")]),
    "two-kick-rhythm": Motion(
        1.7,
        stroke="butterfly",
        right=[_stroke(0.0, 1.7)],
        left=hold("ahead", 0.0, 1.7),
        legs=_WITH_ARMS,
        roll=0.0,
    ),
    "long-landing": _both(2.1, [Turn(0.0, 1.0, 1.55, 2.1)]),
    "fly-body-dolphin": _dolphins(2.4, "side", 3),
    "fly-one-arm-front": Motion(
        1.6,
        stroke="butterfly",
        right=[_stroke(0.0, 1.6)],
        left=hold("ahead", 0.0, 1.6),
        legs=_WITH_ARMS,
        roll=0.0,
        breaths=[(0.64, 1.44, "front")],
    ),
    "fly-flutter": _whole(1.6, legs=Kick(6, size=0.9)),
    "fly-under-recovery": _both(
        2.4,
        path(
            (0.0, "ahead"),
            (0.35, "scull-out"),
            (0.65, "catch"),
            (0.95, "under-shoulder"),
            (1.25, "side"),
            (1.75, "below-chest"),
            (2.1, "slide-ahead"),
            (2.39, "ahead"),
        ),
        legs=Kick(2, "dolphin"),
        neck_m=[(0.0, -0.14), (0.9, -0.03), (1.7, -0.10)],
        pitch=[(0.0, -4.0), (0.9, 8.0), (1.8, 0.0)],
        lift=[(0.0, 0.0), (0.9, 24.0), (1.7, 0.0)],
    ),
    "fly-three-kicks": _both(
        3.1,
        [*hold("ahead", 0.1, 1.1), Turn(0.05, 1.75, 2.3, 3.15)],
        legs=Kick(4, "dolphin", size=0.9),
        breaths=[(2.0, 2.9, "front")],
    ),
    "fly-press-float": _dolphins(
        3.0,
        "ahead",
        2,
        legs=Kick(1, "dolphin", size=0.25),
        neck_m=[(0.0, -0.06), (1.5, -0.20)],
        pitch=[(0.0, 4.0), (1.5, -9.0)],
    ),
    "fly-knees-band": _dolphins(2.0, "side", 3, legs=Kick(3, "dolphin", together_m=0.075)),
}
