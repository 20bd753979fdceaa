"""Breaststroke drills: how each is done, by its id in the catalogue."""

from __future__ import annotations

from norvik.model.drills.motion import Arm, Bent, Frog, Kick, Motion, Turn
from norvik.model.drills.patterns import hold, path, to_and_fro


def _sweep(start: float, size_s: float = 1.0) -> Turn:
    """Hands part, turn in, shoot and are long; at size 1 that takes 1.1 seconds."""
    return Turn(start, start + 0.37 * size_s, start + 0.71 * size_s, start + 1.10 * size_s)


def _kick(start: float) -> tuple[float, float, float]:
    """Heels rise, feet set, feet together."""
    return start, start + 0.38, start + 0.74


def _both(seconds: float, arms: Arm, **more: object) -> Motion:
    settings: dict[str, object] = {
        "stroke": "breaststroke", "left": arms, "right": arms, "roll": 0.0, **more,
    }  # fmt: skip
    return Motion(seconds, **settings)  # type: ignore[arg-type]


def _whole(glide_s: float = 0.7, **more: object) -> Motion:
    seconds = 1.30 + glide_s
    return _both(seconds, [_sweep(0.0)], **{"legs": Frog([_kick(0.62)]), **more})


def _kicking(seconds: float, place: str, kicks: int, **more: object) -> Motion:
    """Kicks alone, hands at a place, face down."""
    step = seconds / kicks
    legs = Frog([_kick(n * step + 0.2) for n in range(kicks)])
    return _both(seconds, hold(place, 0.0, seconds),
                 **{"legs": legs, "neck_m": -0.06, "pitch": 2.0, "lift": 4.0, **more})  # fmt: skip


#: A pull-out: a dolphin kick as the hands part, a pull to the thighs, hands back close to the
#: body, a breaststroke kick into the line.
_PULL_OUT: Arm = path(
    (0.0, "line"), (1.0, "line"), (1.5, "catch"), (1.9, "under-shoulder"), (2.25, "side"),
    (3.1, "side"), (3.7, "below-chest"), (4.2, "line"), (5.0, "line"),
)  # fmt: skip


def _pull_out(**more: object) -> Motion:
    return _both(
        5.0, _PULL_OUT,
        neck_m=[(0.0, -0.75), (3.2, -0.66), (4.9, -0.35)],
        pitch=[(0.0, 0.0), (1.2, -4.0), (1.5, 3.0), (3.2, 2.0), (4.2, 7.0), (4.9, 7.0)],
        legs=Bent(
            hip=[(0.0, 0.0), (0.95, -8.0), (1.25, 16.0), (1.55, 0.0), (3.2, 0.0), (3.75, 48.0),
                 (4.15, 0.0), (5.0, 0.0)],
            knee=[(0.0, 4.0), (0.9, 40.0), (1.2, 6.0), (1.5, 2.0), (3.2, 4.0), (3.75, 118.0),
                  (4.15, 4.0), (5.0, 4.0)],
            foot=[(0.0, 6.0), (3.4, 6.0), (3.75, 80.0), (4.15, 6.0)],
            out=[(0.0, 0.0), (3.4, 0.0), (3.8, 60.0), (4.15, 0.0)], apart_m=0.20,
        ),
        once=True, **more,
    )  # fmt: skip


MOTIONS: dict[str, Motion] = {
    "breast-flutter": _both(1.5, [_sweep(0.0)], legs=Kick(6, size=0.8)),
    "three-out-sculls": _both(
        5.2,
        [
            *path(
                (0.0, "ahead"),
                (0.5, "scull-out"),
                (1.0, "scull-in"),
                (1.5, "scull-out"),
                (2.0, "scull-in"),
                (2.4, "ahead"),
            ),
            Turn(2.7, 3.1, 3.5, 3.9),
        ],
        legs=Frog([_kick(3.35)]),
        view="above",
    ),
    "heel-snap": Motion(
        2.2,
        stroke="backstroke",
        left=hold("side", 0, 2.2),
        right=hold("side", 0, 2.2),
        roll=0.0,
        pitch=16.0,
        lift=2.0,
        legs=Bent(
            hip=[(0.0, 12.0), (0.5, 12.0), (0.95, 22.0), (1.4, 12.0)],
            knee=[(0.0, 4.0), (0.5, 4.0), (0.95, 112.0), (1.4, 4.0)],
            foot=[(0.0, 6.0), (0.6, 10.0), (0.95, 84.0), (1.4, 8.0)],
            out=[(0.0, 0.0), (0.6, 0.0), (0.95, 60.0), (1.4, 0.0)],
            apart_m=0.22,
        ),
    ),
    "narrow-knees": _kicking(
        2.2, "ahead", 1, kit=("buoy",), view="above", legs=Frog([_kick(0.2)], width=0.45)
    ),
    "shoot-flat": _whole(0.6),
    "two-kicks-one-pull": _both(3.6, [_sweep(1.5)], legs=Frog([_kick(0.2), _kick(2.12)])),
    "pullout-reps": _pull_out(),
    "breast-hands-at-hips": _kicking(2.2, "palms-up", 1),
    # Upright in deep water: the kick alone carries.
    "breast-vertical-kick": _both(
        1.3,
        hold("crossed", 0.0, 1.3),
        pitch=86.0,
        lift=0.0,
        neck_m=[(0.0, -0.10), (0.75, -0.02), (1.1, -0.05)],
        legs=Bent(
            hip=[(0.0, 8.0), (0.45, 46.0), (0.8, 4.0)],
            knee=[(0.0, 10.0), (0.45, 112.0), (0.8, 4.0)],
            foot=[(0.0, 20.0), (0.45, 85.0), (0.8, 10.0)],
            out=[(0.0, 0.0), (0.45, 60.0), (0.8, 0.0)],
            apart_m=0.26,
        ),
    ),
    "breast-dolphin": _both(1.6, [_sweep(0.0)], legs=Kick(2, "dolphin", size=0.9)),
    "breast-two-second-glide": _whole(2.2),
    "breast-pull-buoy": _both(1.7, [_sweep(0.0)], legs=Kick(2, size=0.0, rest=4.0), kit=("buoy",)),
    "eggbeater": Motion(
        1.4,
        stroke="breaststroke",
        pitch=82.0,
        lift=4.0,
        neck_m=0.06,
        roll=0.0,
        left=to_and_fro("hips-out", "hips-in", 0.0, 1.4, 1),
        right=to_and_fro("hips-out", "hips-in", 0.0, 1.4, 1),
        legs=Bent(
            hip=[(0.0, 84.0), (0.7, 70.0)],
            knee=[(0.0, 40.0), (0.35, 84.0), (0.7, 116.0), (1.05, 84.0)],
            other_hip=[(0.0, 70.0), (0.7, 84.0)],
            other_knee=[(0.0, 116.0), (0.35, 84.0), (0.7, 40.0), (1.05, 84.0)],
            foot=80.0,
            out=50.0,
            apart_m=0.44,
        ),
        view="front",
    ),
    # Sitting, hands behind, the legs long ahead.
    "breast-feet-land": Motion(
        4.0,
        stroke="breaststroke",
        pitch=72.0,
        lift=8.0,
        neck_m=0.60,
        roll=0.0,
        left=hold("prop", 0, 4),
        right=hold("prop", 0, 4),
        legs=Bent(
            hip=[(0.0, 107.0), (1.6, 142.0), (2.0, 142.0), (3.2, 107.0)],
            knee=[(0.0, 4.0), (1.6, 92.0), (2.0, 92.0), (3.2, 4.0)],
            foot=[(0.0, 24.0), (1.6, 80.0), (2.2, 80.0), (3.2, 24.0)],
            out=[(0.0, 0.0), (1.4, 20.0), (2.0, 62.0), (2.6, 62.0), (3.2, 0.0)],
            apart_m=0.24,
        ),
        around=("ground",),
    ),
    "breast-eyes-down": _whole(1.1),
    "breast-pullout-steps": _pull_out(),
}
