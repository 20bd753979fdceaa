"""A drill's motion over its loop: tracks, strokes and beats, laid out by where each side lies."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise

import numpy as np

from norvik.core.strokes.names import Side
from norvik.model import body
from norvik.model.body import Build, Seconds, Vector
from norvik.model.drills.motion import At, Frog, Kick, Motion, Track, Turn
from norvik.model.schedule import ArmCycle, LegCycle
from norvik.model.strokes import backstroke, freestyle

#: Height of the neck over the level of the pool where a drill does not say it, metres.
_NECK_M = {"freestyle": -freestyle.DEPTH_M, "backstroke": -backstroke.DEPTH_M,
           "breaststroke": -0.10, "butterfly": -0.10}  # fmt: skip
#: Metres a second at which drills are swum, for the trough beside the face (own choice).
SPEED_M_S = 1.0


class Course:
    """A motion with its instants: this loop and, where it goes round, its neighbours.

    On the back the left side lies where the right one lies face down: sides are those of the lie.
    """

    def __init__(self, motion: Motion, build: Build, t: Seconds) -> None:
        self.motion, self.build, self.t = motion, build, t
        self.seconds = motion.seconds
        self.loops = (0,) if motion.once else (-1, 0, 1)
        self.on_back = motion.stroke == "backstroke"
        self.up = 1.0 if self.on_back else -1.0
        arms = {"left": motion.left, "right": motion.right}
        if self.on_back:
            arms = {"left": motion.right, "right": motion.left}
        self.arms = {side: list(self._repeated(items)) for side, items in arms.items()}
        #: Whether trunk and head go as the whole stroke moves them.
        self.waved = (
            motion.stroke in ("butterfly", "breaststroke")
            and bool(self.turns())
            and motion.neck_m is None
        )

    def _repeated(self, items: Sequence[Turn | At]) -> Iterator[Turn | At]:
        """The items of this loop and its neighbours."""
        for k in self.loops:
            by = k * self.seconds
            for item in items:
                if isinstance(item, At):
                    yield At(item.time_s + by, item.place)
                else:
                    leave = None if item.leave is None else item.leave + by
                    entry, press, out, end = (
                        s + by for s in (item.entry, item.press, item.out, item.end)
                    )
                    yield Turn(entry, press, out, end, leave)

    def turns(self) -> list[Turn]:
        """The strokes of both arms, each once where they go together."""
        found: dict[float, Turn] = {}
        for items in self.arms.values():
            for item in items:
                if isinstance(item, Turn):
                    found.setdefault(round(item.entry, 3), item)
        return [found[k] for k in sorted(found)]

    def track(self, value: Track, t: Seconds | None = None) -> Seconds:
        """A track at seconds t (those of the frames where none are given)."""
        t = self.t if t is None else t
        if isinstance(value, (int, float)):
            return np.full(t.size, float(value))
        keys = [(s + k * self.seconds, v) for k in self.loops for s, v in value]
        return body.steady(keys, t)

    def roll_deg(self, t: Seconds) -> Seconds:
        """Roll of the trunk at seconds t, degrees; positive lifts the left side as it lies."""
        motion = self.motion
        if motion.roll is not None:
            return self.track(motion.roll, t)
        if motion.stroke in ("butterfly", "breaststroke"):
            return np.zeros(t.size)
        keys: list[tuple[float, float]] = []
        for side, items in self.arms.items():
            sign = 1.0 if side == "right" else -1.0
            for item in items:
                if isinstance(item, Turn):
                    leave = item.out if item.leave is None else item.leave
                    keys += [
                        (item.entry + min(0.2, 0.5 * (item.press - item.entry)), sign),
                        (item.press, sign),
                        (0.5 * (leave + item.end), -sign),
                    ]
        if not keys:
            return np.zeros(t.size)
        keys.sort()
        apart = keys[:1]
        for time_s, value in keys[1:]:
            if time_s - apart[-1][0] > 0.15:
                apart.append((time_s, value))
        return motion.roll_most * body.steady(apart, t)

    def neck(self) -> Track:
        """Height of the neck, metres."""
        height = self.motion.neck_m
        return _NECK_M[self.motion.stroke] if height is None else height

    def beats(self) -> list[tuple[float, Side]]:
        """Instants of kicks with the leg that is lowest, or both."""
        kick = self.motion.legs
        if not isinstance(kick, Kick):
            return []
        if kick.kind == "with-arms":
            return with_arms(self.turns())
        beats: list[tuple[float, Side]] = []
        # Kicks go on beyond both ends of a loop, also of one that ends elsewhere.
        for k in (-1, 0, 1):
            for n in range(kick.beats):
                side: Side = "both" if kick.kind == "dolphin" else "left" if n % 2 else "right"
                at = self.seconds * (k + (n + 0.5) / kick.beats)
                beats.append((at, side))
        return beats

    def leg_cycles(self) -> list[LegCycle]:
        """Breaststroke kicks; none where the legs do something else."""
        frog = self.motion.legs
        if not isinstance(frog, Frog):
            return []
        kicks = [
            tuple(s + k * self.seconds for s in kick) for k in (-1, 0, 1, 2) for kick in frog.kicks
        ]
        return [LegCycle(a[0], a[1], a[2], end=b[0]) for a, b in pairwise(kicks)]


def raised(v: Vector, pitch: float) -> Vector:
    """A direction of a level trunk in one that rises by pitch, radians."""
    return (float(v[0] * np.cos(pitch) - v[2] * np.sin(pitch)), v[1],
            float(v[0] * np.sin(pitch) + v[2] * np.cos(pitch)))  # fmt: skip


def arm_cycle(turn: Turn, side: Side) -> ArmCycle:
    """A stroke of a drill as one of the schedule."""
    catch = turn.entry + 0.55 * (turn.press - turn.entry)
    if turn.press - turn.entry > 0.6:
        catch = turn.press - 0.25
    under = turn.press + 0.5 * (turn.out - turn.press)
    at = {"entry": turn.entry, "catch": catch, "press": turn.press, "shoulder": under,
          "exit": turn.out}  # fmt: skip
    return ArmCycle(side, at, turn.end)


def with_arms(turns: Sequence[Turn]) -> list[tuple[float, Side]]:
    """Butterfly's two kicks a stroke: as the hands go in and as they leave."""
    beats: list[tuple[float, Side]] = []
    for turn in turns:
        span = turn.end - turn.entry
        beats += [(turn.entry + 0.06 * span, "both"), (turn.out - 0.05 * span, "both")]
    return sorted(beats)
