"""Freestyle drills: how each is done, by its id in the catalogue."""

from __future__ import annotations

from norvik.core.strokes.names import Side
from norvik.model.drills.motion import At, Bent, Kick, Motion, Turn
from norvik.model.drills.patterns import hold, path, stroke, strokes, to_and_fro

_ON_SIDE = 78.0
_STILL = Kick(2, size=0.0)
#: Legs that a buoy carries.
_FLOATING = Kick(2, size=0.0, rest=3.0)


def _whole(cycle_s: float = 2.0, count: int = 1, **more: object) -> Motion:
    """The whole stroke, swum slowly, with a change."""
    seconds = cycle_s * count
    settings: dict[str, object] = {
        "right": strokes(0.0, cycle_s, count),
        "left": strokes(0.5 * cycle_s, cycle_s, count),
        "legs": Kick(6 * count),
        **more,
    }
    return Motion(seconds, **settings)  # type: ignore[arg-type]


def _breath(cycle_s: float = 2.0, at: float = 0.0) -> tuple[float, float, str]:
    """A breath to the right with the stroke that begins at `at`."""
    return (at + 0.30 * cycle_s, at + 0.86 * cycle_s, "right")


def _change_sides(kicks: int, swung_s: float, press_s: float = 0.8) -> dict[str, object]:
    """On one side, one stroke, on the other: one arm ahead, the other on the thigh."""
    half = kicks * 0.25 + swung_s
    right_leaves = half - swung_s
    return {
        "right": [Turn(0.0, half - 0.55, half - 0.55 + press_s, 2 * half, 2 * half - swung_s)],
        "left": [Turn(half, 2 * half - 0.55, 2 * half - 0.55 + press_s, 3 * half,
                      3 * half - swung_s)],
        "seconds": 2 * half,
        "legs": Kick(2 * kicks + 4),
        "roll_most": _ON_SIDE,
        "breaths": [(right_leaves, half + 0.45, "right")],
    }  # fmt: skip


def _lain(*, side: Side = "right", seconds: float = 3.0, **more: object) -> Motion:
    """On the side, kicking: the lower arm ahead, the other along the body."""
    lower, upper = ("right", "left") if side == "right" else ("left", "right")
    settings: dict[str, object] = {
        lower: hold("ahead", 0.0, seconds),
        upper: hold("side", 0.0, seconds),
        "roll": _ON_SIDE if side == "right" else -_ON_SIDE,
        "legs": Kick(round(seconds / 0.25)),
        **more,
    }
    return Motion(seconds, **settings)  # type: ignore[arg-type]


def _ahead(seconds: float) -> list[At]:
    return hold("ahead", 0.0, seconds)


#: A pull at a cord on a bench, and back close under the body.
_CORD = path(
    (0.0, "ahead"),
    (0.5, "ahead-deep"),
    (0.9, "catch"),
    (1.4, "under-shoulder"),
    (1.9, "finish-back"),
    (2.3, "below-chest"),
    (2.8, "slide-ahead"),
    (3.2, "ahead"),
)

MOTIONS: dict[str, Motion] = {
    # Arms at the sides: six kicks face down, six on one side, six on the other.
    "torpedo-kick": Motion(
        6.0,
        left=hold("side", 0, 6),
        right=hold("side", 0, 6),
        legs=Kick(24),
        roll=[
            (0.0, 0.0),
            (1.2, 0.0),
            (1.8, -_ON_SIDE),
            (2.8, -_ON_SIDE),
            (3.4, 0.0),
            (4.2, 0.0),
            (4.7, _ON_SIDE),
            (5.5, _ON_SIDE),
        ],
        turn=[
            (0.0, 0.0),
            (1.2, 0.0),
            (1.8, 105.0),
            (2.8, 105.0),
            (3.4, 0.0),
            (4.2, 0.0),
            (4.7, -105.0),
            (5.5, -105.0),
        ],
    ),
    "three-and-six": Motion(
        5.4,
        right=[Turn(0.0, 1.5, 2.2, 2.9), Turn(2.9, 3.6, 4.2, 5.4, 4.7)],
        left=[Turn(2.2, 2.9, 3.5, 4.2), Turn(4.2, 5.2, 5.9, 7.6, 6.9)],
        legs=Kick(22),
        roll_most=70.0,
        breaths=[(1.4, 2.5, "right")],
    ),
    "six-kick-switch": Motion(**_change_sides(6, 0.7)),  # type: ignore[arg-type]
    "side-kick-line": _lain(
        seconds=4.0,
        turn=[(0.0, 0.0), (1.6, 0.0), (2.2, -112.0), (3.0, -112.0), (3.6, 0.0)],
    ),
    "under-chest-scull": Motion(
        3.0,
        right=_ahead(3.0),
        left=to_and_fro("chest-out", "chest-in", 0.0, 3.0, 3),
        legs=Kick(12),
        roll=12.0,
    ),
    "hip-scull": Motion(
        2.4,
        stroke="backstroke",
        left=to_and_fro("hips-out", "hips-in", 0.0, 2.4, 3),
        right=to_and_fro("hips-out", "hips-in", 0.0, 2.4, 3),
        legs=_STILL,
        roll=0.0,
    ),
    "front-scull": Motion(
        2.4,
        left=to_and_fro("scull-out", "scull-in", 0.0, 2.4, 3),
        right=to_and_fro("scull-out", "scull-in", 0.0, 2.4, 3),
        legs=_FLOATING,
        roll=0.0,
        kit=("buoy",),
        view="above",
    ),
    "heads-up": _whole(
        1.2,
        legs=Kick(6),
        lift=46.0,
        turn=0.0,
        pitch=14.0,
        roll_most=30.0,
    ),
    "catch-up": Motion(
        3.2,
        right=[Turn(0.0, 1.7, 2.35, 3.2)],
        left=[Turn(1.6, 3.3, 3.95, 4.8)],
        legs=Kick(12),
        roll_most=36.0,
        breaths=[(1.65, 2.9, "right")],
    ),
    "fist": _whole(2.2, fists=True, breaths=[_breath(2.2)]),
    "doggy-paddle": Motion(
        2.0,
        right=path(
            (0.0, "ahead"),
            (0.35, "ahead-deep"),
            (0.6, "catch"),
            (1.0, "under-shoulder"),
            (1.35, "below-chest"),
            (1.7, "slide-ahead"),
            (2.0, "ahead"),
        ),
        left=path(
            (0.0, "under-shoulder"),
            (0.35, "below-chest"),
            (0.7, "slide-ahead"),
            (1.0, "ahead"),
            (1.35, "ahead-deep"),
            (1.6, "catch"),
            (2.0, "under-shoulder"),
        ),
        legs=Kick(8),
        roll=[(0.0, 25.0), (1.0, -25.0)],
    ),
    "single-arm": Motion(
        2.2,
        right=[stroke(0.0, 2.2)],
        left=_ahead(2.2),
        legs=Kick(6),
        roll_most=40.0,
        breaths=[_breath(2.2)],
    ),
    "fingertip-drag": Motion(
        2.4,
        right=[
            Turn(0.0, 0.8, 1.3, 1.3001),
            *path((1.62, "drag-hip"), (1.88, "drag-ribs"), (2.12, "drag-head"), (2.38, "ahead")),
        ],
        left=[
            Turn(1.2, 2.0, 2.5, 2.5001),
            *path((2.82, "drag-hip"), (3.08, "drag-ribs"), (3.32, "drag-head"), (3.58, "ahead")),
        ],
        legs=Kick(8),
        roll=[(0.4, 45.0), (0.8, 45.0), (1.6, -45.0), (2.0, -45.0)],
    ),
    "thumb-slide": Motion(
        2.8,
        right=[
            Turn(0.0, 0.9, 1.45, 1.4501),
            *path((1.62, "thigh"), (2.05, "armpit"), (2.4, "drag-head"), (2.78, "ahead")),
        ],
        left=[
            Turn(1.4, 2.3, 2.85, 2.8501),
            *path((3.02, "thigh"), (3.45, "armpit"), (3.8, "drag-head"), (4.18, "ahead")),
        ],
        legs=Kick(8),
        roll=[(0.4, 48.0), (0.9, 48.0), (1.8, -48.0), (2.3, -48.0)],
    ),
    "thigh-touch": Motion(
        2.4,
        right=[Turn(0.0, 1.0, 1.55, 2.4, 1.75)],
        left=[Turn(1.2, 2.2, 2.75, 3.6, 2.95)],
        legs=Kick(8),
        breaths=[(0.95, 2.0, "right")],
    ),
    "letterbox-entry": _whole(2.2, breaths=[_breath(2.2)]),
    "wide-aim": _whole(2.2, kit=("aim",), view="above"),
    "rail-hold": _whole(2.2, kit=("rail",)),
    "open-arm-recovery": _whole(2.0, dials={"wide-recovery": 0.07, "hand-above-elbow": 0.22}),
    "superman": Motion(**_change_sides(8, 0.8)),  # type: ignore[arg-type]
    "ankle-buoy": _whole(
        2.2,
        legs=Kick(2, size=0.0, rest=3.0, together_m=0.13),
        kit=("buoy-ankles",),
        breaths=[_breath(2.2)],
    ),
    "buoy-push": Motion(
        2.2,
        right=[stroke(0.0, 2.2)],
        left=hold("ahead-high", 0.0, 2.2),
        legs=Kick(6),
        roll_most=36.0,
        breaths=[_breath(2.2)],
        kit=("buoy-in-left-hand",),
    ),
    "breath-together": _whole(2.4, breaths=[_breath(2.4)]),
    "bubble-count": _whole(2.2, 2, breaths=[_breath(2.2)], kit=("bubbles",)),
    "goggle-line": _whole(2.2, breaths=[_breath(2.2)]),
    "measured-roll": _whole(2.4, view="front"),
    "tempo-beep": _whole(1.5, kit=("beeper",)),
    "six-beat-sets": _whole(1.8, breaths=[_breath(1.8)]),
    # On land: kneeling, sitting back on the heels.
    "ankle-sit": Motion(
        4.0,
        pitch=[(0.0, 62.0), (1.4, 88.0), (3.0, 88.0)],
        neck_m=[(0.0, 0.55), (1.4, 0.42), (3.0, 0.42)],
        left=hold("knees", 0, 4),
        right=hold("knees", 0, 4),
        roll=0.0,
        legs=Bent(
            hip=[(0.0, 50.0), (1.4, 96.0), (3.0, 96.0)],
            knee=[(0.0, 112.0), (1.4, 160.0), (3.0, 160.0)],
            foot=0.0,
        ),
        lift=0.0,
        around=("ground",),
    ),
    "wall-slide": Motion(
        4.0,
        pitch=90.0,
        neck_m=0.8,
        roll=0.0,
        lift=0.0,
        left=path((0.0, "wall-high"), (1.8, "wall-mid"), (2.2, "wall-mid"), (4.0, "wall-high")),
        right=path((0.0, "wall-high"), (1.8, "wall-mid"), (2.2, "wall-mid"), (4.0, "wall-high")),
        legs=Bent(foot=88.0),
        around=("ground", "upright:0.42"),
    ),
    "sight-low": _whole(
        2.2,
        lift=[(0.0, 20.0), (0.3, 26.0), (0.75, 1.0), (1.9, 1.0)],
        breaths=[(0.72, 1.9, "right")],
    ),
    "hip-lift": _whole(2.4, roll_most=54.0),
    "count-down-strokes": _whole(2.4, breaths=[_breath(2.4)]),
    "bench-paddle-1": Motion(
        3.2,
        neck_m=0.75,
        pitch=0.0,
        roll=0.0,
        lift=6.0,
        left=_CORD,
        right=_CORD,
        legs=Bent(hip=0.0, knee=8.0),
        kit=("cord",),
        around=("ground", "bench"),
    ),
    "bench-paddle-2": Motion(
        3.2,
        neck_m=0.75,
        pitch=0.0,
        roll=0.0,
        lift=6.0,
        left=[Turn(0.0, 1.0, 1.8, 3.2)],
        right=[Turn(0.0, 1.0, 1.8, 3.2)],
        legs=Bent(hip=0.0, knee=8.0),
        kit=("cord",),
        around=("ground", "bench"),
        dials={"wide-recovery": 0.05},
    ),
    "bench-paddle-3": _whole(2.4),
    "even-song": _whole(1.8),
    "snorkel-still-head": _whole(2.2, kit=("snorkel",)),
    "mid-scull": Motion(
        2.4,
        left=to_and_fro("shoulder-out", "shoulder-in", 0.0, 2.4, 3),
        right=to_and_fro("shoulder-out", "shoulder-in", 0.0, 2.4, 3),
        legs=_FLOATING,
        roll=0.0,
        kit=("buoy",),
        view="front",
    ),
    "finish-scull": Motion(
        2.0,
        left=to_and_fro("finish-back", "finish-front", 0.0, 2.0, 2),
        right=to_and_fro("finish-back", "finish-front", 0.0, 2.0, 2),
        legs=_FLOATING,
        roll=0.0,
        kit=("buoy",),
    ),
    # In standing depth: breathes in, face in, sinks a little, stands up.
    "sink-down": Motion(
        5.0,
        pitch=[(0.0, 86.0), (0.8, 86.0), (1.8, 40.0), (3.6, 34.0), (4.6, 86.0)],
        neck_m=[(0.0, 0.16), (0.8, 0.16), (1.8, -0.16), (3.6, -0.44), (4.6, 0.16)],
        lift=[(0.0, 0.0), (1.8, -38.0), (3.6, -36.0), (4.6, 0.0)],
        left=hold("hip-wide", 0, 5),
        right=hold("hip-wide", 0, 5),
        roll=0.0,
        legs=Bent(
            hip=[(0.0, 4.0), (1.8, 44.0), (3.6, 56.0), (4.6, 4.0)],
            knee=[(0.0, 4.0), (1.8, 50.0), (3.6, 88.0), (4.6, 4.0)],
            foot=60.0,
        ),
        kit=("bubbles",),
    ),
    "press-balance": Motion(
        4.0,
        left=hold("side", 0, 4),
        right=hold("side", 0, 4),
        legs=Kick(14, size=0.7),
        pitch=[(0.0, 3.0), (1.2, -5.0), (2.0, -5.0), (2.8, 3.0)],
        neck_m=[(0.0, -0.05), (1.2, -0.11), (2.0, -0.11), (2.8, -0.05)],
        roll=[(0.0, 0.0), (2.4, 0.0), (3.0, -60.0), (3.5, -60.0)],
        turn=[(0.0, 0.0), (2.4, 0.0), (3.0, 104.0), (3.5, 104.0)],
    ),
    "paddle-balance": _whole(2.4, kit=("paddles",)),
    "front-arm-stay": Motion(
        2.4,
        right=[stroke(0.0, 2.4)],
        left=[Turn(1.0, 2.45, 2.95, 3.4)],
        legs=Kick(8),
        breaths=[(0.75, 1.95, "right")],
    ),
    "no-stop-hip": _whole(1.7, breaths=[_breath(1.7)]),
    "kick-six-fins": _whole(2.2, kit=("fins",), breaths=[_breath(2.2)]),
    "depth-match": _whole(2.2, breaths=[_breath(2.2)], view="front"),
}
