"""The arms of a drill: whole strokes, and places by the trunk's own axes."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from norvik.core.strokes.names import Side
from norvik.model import proportions as p
from norvik.model.body import Key, Vector
from norvik.model.drills.course import SPEED_M_S, Course, arm_cycle, raised
from norvik.model.drills.motion import At, Turn
from norvik.model.drills.places import PLACES
from norvik.model.schedule import ArmCycle
from norvik.model.strokes import backstroke, breaststroke, butterfly, freestyle

#: A hand that is held while the body turns has a key at least this often, seconds.
_HELD_S = 0.12


def arm_keys(course: Course, side: Side, sign: float) -> list[Key]:
    """The keys of an arm over all loops, in order of time. sign: 1 left, -1 right as it lies."""
    keys: list[Key] = []
    held: At | None = None
    for item in sorted(course.arms[side], key=_begins):
        if isinstance(item, Turn):
            keys += _stroked(course, item, sign)
            held = None
            continue
        if held is not None and held.place == item.place:
            steps = max(1, round((item.time_s - held.time_s) / _HELD_S))
            between = np.linspace(held.time_s, item.time_s, steps + 1)[1:-1]
            keys += [_at(course, float(s), item.place, sign) for s in between]
        keys.append(_at(course, item.time_s, item.place, sign))
        held = item
    keys.sort(key=lambda key: key.time_s)
    apart = keys[:1]
    for key in keys[1:]:
        if key.time_s - apart[-1].time_s > 0.03:
            apart.append(key)
    return apart


def _at(course: Course, time_s: float, place: str, sign: float) -> Key:
    """A place as the trunk lies at that instant; dragging fingers stay at the surface."""
    now = np.array([time_s])
    roll, pitch = (np.deg2rad(float(x[0])) for x in (
        course.roll_deg(now), course.track(course.motion.pitch, now)))  # fmt: skip

    def turned(v: Vector) -> Vector:
        aside, over = v[1] * sign, v[2]
        rolled = aside * np.cos(roll) - over * np.sin(roll)
        over = aside * np.sin(roll) + over * np.cos(roll)
        return raised((v[0], float(rolled * sign), float(over)), float(pitch))

    if place.startswith("drag"):
        (ahead, aside, _), pole, fingers, thumb = PLACES[place]
        neck = float(course.track(course.neck(), now)[0])
        depth = -neck - sign * np.sin(roll) * p.SHOULDER_HALF_WIDTH * course.build.height_m
        height = freestyle.touching(depth, fingers, course.build)
        return Key(time_s, (ahead, aside, height), pole, fingers, thumb)
    wrist, pole, fingers, thumb = (turned(v) for v in PLACES[place])
    return Key(time_s, wrist, pole, fingers, thumb)


def _stroked(course: Course, turn: Turn, sign: float) -> list[Key]:
    """The keys of one stroke; the hand may wait where it leaves the pull."""
    if course.motion.stroke == "breaststroke":
        at = {"out": turn.entry, "in": turn.press, "shoot": turn.out, "long": turn.end}
        return breaststroke.arm_keys(ArmCycle("both", at, turn.end + 0.1), course.build)
    wait = 0.0 if turn.leave is None else turn.leave - turn.out
    c = arm_cycle(replace(turn, end=turn.end - wait, leave=None), "right")
    if course.motion.stroke == "butterfly":
        keys = butterfly.arm_keys(c, course.build)
    else:
        now = np.array([turn.entry, turn.out])
        lies = np.deg2rad(course.roll_deg(now))
        neck = course.track(course.neck(), now)
        half = p.SHOULDER_HALF_WIDTH * course.build.height_m
        depths = [float(d) for d in -neck - sign * np.sin(lies) * half]
        if course.on_back:
            keys = backstroke.arm_keys(c, course.build, SPEED_M_S, depths[0], depths[1])
        else:
            keys = freestyle.arm_keys(c, course.build, SPEED_M_S, depths[0])
    if not wait:
        return keys
    left = [k for k in keys if k.time_s <= turn.out + 1e-6]
    over = [replace(k, time_s=k.time_s + wait) for k in keys if k.time_s > turn.out + 1e-6]
    return [*left, _at(course, turn.out + 0.15, "side", sign),
            _at(course, turn.out + wait - 0.1, "side", sign), *over]  # fmt: skip


def _begins(item: Turn | At) -> float:
    return item.time_s if isinstance(item, At) else item.entry
