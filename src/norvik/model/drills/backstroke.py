"""Backstroke drills: how each is done, by its id in the catalogue."""

from __future__ import annotations

from norvik.model.drills.motion import Bent, Kick, Motion, Turn
from norvik.model.drills.patterns import hold, path, stroke, strokes

_PRESS, _OUT = 0.24, 0.66
#: On the back, turned to the side by this much.
_ON_SIDE = 62.0


def _whole(cycle_s: float = 2.0, count: int = 1, **more: object) -> Motion:
    settings: dict[str, object] = {
        "stroke": "backstroke",
        "right": strokes(0.0, cycle_s, count, _PRESS, _OUT),
        "left": strokes(0.5 * cycle_s, cycle_s, count, _PRESS, _OUT),
        "legs": Kick(6 * count),
        "lift": 1.0,
        **more,
    }
    return Motion(cycle_s * count, **settings)  # type: ignore[arg-type]


def _lying(seconds: float, place: str, **more: object) -> Motion:
    """On the back with both hands at a place, kicking."""
    settings: dict[str, object] = {
        "stroke": "backstroke",
        "left": hold(place, 0.0, seconds),
        "right": hold(place, 0.0, seconds),
        "legs": Kick(round(seconds / 0.25)),
        "roll": 0.0,
        "lift": 1.0,
        **more,
    }
    return Motion(seconds, **settings)  # type: ignore[arg-type]


def _rolled(kicks: int) -> Motion:
    """Kicks on one side, a stroke to the other."""
    half, swung = kicks * 0.25 + 0.9, 0.9
    return Motion(
        2 * half, stroke="backstroke", lift=1.0, legs=Kick(2 * kicks + 6), roll_most=_ON_SIDE,
        right=[Turn(0.0, half - 0.7, half + 0.1, 2 * half, 2 * half - swung)],
        left=[Turn(half, 2 * half - 0.7, 2 * half + 0.1, 3 * half, 3 * half - swung)],
    )  # fmt: skip


MOTIONS: dict[str, Motion] = {
    "single-arm-back": Motion(
        2.2,
        stroke="backstroke",
        lift=1.0,
        right=[stroke(0.0, 2.2, _PRESS, _OUT)],
        left=hold("side", 0.0, 2.2),
        legs=Kick(8),
        roll_most=44.0,
    ),
    "cup-on-head": _lying(2.0, "side", kit=("cup",), legs=Kick(8)),
    "surface-kick-back": _lying(1.6, "line", legs=Kick(10, size=0.8)),
    "back-fast-25": _whole(1.25),
    "little-finger-entry": _whole(2.8),
    "back-double-arm": Motion(
        2.2,
        stroke="backstroke",
        lift=1.0,
        legs=Kick(8),
        roll=0.0,
        right=[stroke(0.0, 2.2, _PRESS, _OUT)],
        left=[stroke(0.0, 2.2, _PRESS, _OUT)],
    ),
    # Half sitting, arms as quick as they go.
    "back-spin": _whole(1.0, pitch=16.0, lift=8.0, roll_most=24.0, legs=Kick(6, rest=12.0)),
    "back-six-kick": _rolled(6),
    "back-hand-lead": Motion(
        3.0,
        stroke="backstroke",
        lift=1.0,
        right=hold("ahead-deep", 0.0, 3.0),
        left=hold("side", 0.0, 3.0),
        roll=-_ON_SIDE,
        legs=Kick(12),
    ),
    "back-rope-pull": Motion(
        3.0,
        stroke="backstroke",
        lift=1.0,
        legs=Kick(10, size=0.7),
        roll=0.0,
        right=path(
            (0.0, "rope-ahead"),
            (0.9, "rope-side"),
            (1.6, "rope-hip"),
            (1.9, "side"),
            (2.45, "up"),
            (3.0, "rope-ahead"),
        ),
        left=hold("side", 0.0, 3.0),
        kit=("rope",),
        view="above",
    ),
    "back-overhead-kick": _lying(2.0, "line", legs=Kick(8)),
    "back-pause-up": Motion(
        3.2,
        stroke="backstroke",
        lift=1.0,
        legs=Kick(12),
        roll_most=36.0,
        right=path(
            (0.0, "up"),
            (0.55, "up"),
            (0.95, "ahead"),
            (1.25, "rope-ahead"),
            (1.55, "rope-side"),
            (1.9, "side"),
            (2.5, "side"),
            (3.2, "up"),
        ),
        left=path(
            (0.35, "side"),
            (0.9, "side"),
            (1.6, "up"),
            (2.15, "up"),
            (2.55, "ahead"),
            (2.85, "rope-ahead"),
            (3.15, "rope-side"),
        ),
        roll=[
            (0.0, -30.0),
            (0.55, -30.0),
            (1.0, 32.0),
            (1.3, 32.0),
            (1.7, 20.0),
            (2.15, 20.0),
            (2.6, -32.0),
            (2.9, -32.0),
        ],
    ),
    "back-finish-scull": _whole(2.4),
    # From the flags: a last stroke, over onto the front, into the tumble.
    "back-turn-steps": Motion(
        4.0,
        neck_m=[(0.0, -0.07), (2.0, -0.10), (2.5, -0.28), (2.9, -0.72), (3.3, -0.72), (4.0, -0.50)],
        pitch=[(0.0, 3.0), (1.9, 0.0), (2.5, -80.0), (2.9, -172.0), (3.3, -184.0), (4.0, -184.0)],
        ahead_m=[
            (0.0, -0.9),
            (2.0, 0.10),
            (2.5, 0.38),
            (2.9, 0.25),
            (3.2, 0.0),
            (3.55, -0.44),
            (4.0, -0.8),
        ],
        lift=[(0.0, 1.0), (1.7, 1.0), (2.3, -40.0), (2.9, -20.0), (3.4, 0.0)],
        roll=[(0.0, 180.0), (0.8, 150.0), (1.3, 0.0), (4.0, 0.0)],
        turn=[(0.0, -180.0), (0.6, -180.0), (1.3, 0.0), (3.99, 0.0)],
        right=path(
            (0.0, "side"),
            (0.5, "up"),
            (1.1, "ahead"),
            (1.5, "catch"),
            (1.9, "side"),
            (2.9, "ears"),
            (3.2, "line"),
            (4.0, "line"),
        ),
        left=path((0.0, "side"), (2.4, "side"), (2.9, "ears"), (3.2, "line"), (4.0, "line")),
        legs=Bent(
            hip=[(0.0, 2.0), (2.0, 6.0), (2.6, 105.0), (3.2, 100.0), (3.55, 4.0), (4.0, 2.0)],
            knee=[(0.0, 6.0), (2.0, 10.0), (2.6, 110.0), (3.2, 100.0), (3.55, 4.0), (4.0, 2.0)],
        ),
        around=("touched",),
        once=True,
    ),
}
