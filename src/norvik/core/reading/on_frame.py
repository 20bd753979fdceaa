"""Measures on the frame as a film proposes them: points from where the joints were seen.

A network puts a joint a little beside the place that a coach clicks, and by much the same in the
same moment of the stroke. How far is learnt on films whose truth is known (see Places), and so is
what is left: it is the plus-minus of a proposal. Only measures that follow the swimmer in such
films are proposed; knees and feet under water are not seen well enough for theirs.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.limbs import SIDES, Limbs
from norvik.core.reading.phase import Template
from norvik.core.reading.places import Places
from norvik.core.reading.stroke import ReadEvent, near_side
from norvik.core.strokes.names import Side, StrokeName

Series = NDArray[np.float64]

#: Points of a measure, each by the joints in whose middle it is looked for. "own": of the arm that
#: the camera sees.
_SHOULDER, _ELBOW, _WRIST, _HIP = ("own shoulder",), ("own elbow",), ("own wrist",), ("own hip",)
_NECK = ("left shoulder", "right shoulder")
_ANKLES = (("left ankle",), ("right ankle",))
#: Fingertips are looked for from the wrist.
_FINGERTIPS = _WRIST


@dataclass(frozen=True, slots=True)
class Plan:
    """When a measure is taken, and the joints near which each of its points lies. event: of the
    arm. sided: it belongs to the arm that the camera sees, also where both move together.
    """

    event: str
    points: tuple[tuple[str, ...], ...]
    sided: bool = True


_HIGH_ELBOW = (_SHOULDER, _ELBOW, _FINGERTIPS)
_FOREARM = (_ELBOW, _FINGERTIPS)
_REACH = (_SHOULDER, _WRIST, _FINGERTIPS)
_LINE = (_NECK, *_ANKLES)
_CHEST = (_SHOULDER, _HIP)
_DIVE = (_SHOULDER, _FINGERTIPS)

#: Stroke to what is proposed of it in a film from the side under water, by the measure's id.
PLANS: Mapping[str, Mapping[str, Plan]] = {
    "freestyle": {
        "high-elbow": Plan("press", _HIGH_ELBOW),
        "forearm-vertical": Plan("press", _FOREARM),
        "reach-depth": Plan("catch", _REACH),
        "body-line": Plan("catch", _LINE, sided=False),
    },
    "backstroke": {"body-line": Plan("catch", _LINE, sided=False)},
    "breaststroke": {
        "high-elbow": Plan("in", _HIGH_ELBOW),
        "stretch-line": Plan("long", _LINE, sided=False),
        "chest-hips": Plan("long", _CHEST, sided=False),
        "arm-dive": Plan("long", _DIVE, sided=False),
    },
    "butterfly": {
        "high-elbow": Plan("press", _HIGH_ELBOW),
        "forearm-vertical": Plan("press", _FOREARM),
        "reach-depth": Plan("catch", _REACH),
        "stretch-line": Plan("catch", _LINE, sided=False),
        "chest-hips": Plan("entry", _CHEST, sided=False),
        "arm-dive": Plan("catch", _DIVE, sided=False),
    },
}
#: The view in which they are proposed.
VIEW = "side-under"


@dataclass(frozen=True, slots=True)
class ReadMeasure:
    """A measure as the film proposes it. points: pixels of the picture that was read, in the order
    of the measure's points. u: standard uncertainty in the measure's unit. time_s: real seconds of
    the picture that it was taken from, event_s of the event that it belongs to.
    """

    measure: str
    side: Side
    time_s: float
    event_s: float
    points: tuple[tuple[float, float], ...]
    u: float


#: A picture is at most so far from the event, seconds.
_NEAR_S = 0.05
#: An arm that differs more than this from how it usually is at the event (mean, trunk lengths) is
#: the other one, or seen wrongly.
WORST_ARM = 0.45
#: A point farther than this from where it usually is in this film at the event is seen wrongly,
#: trunk lengths.
_STRAY = 0.35
#: Pictures on each side of the event from which a joint is taken, by a straight line through them.
_BESIDE = 2


def read_measures(
    joints: Mapping[str, Series], times_s: Series, limbs: Limbs, stroke: StrokeName, arms: Template,
    learnt: Mapping[str, Places], events: Sequence[ReadEvent],
) -> tuple[ReadMeasure, ...]:  # fmt: skip
    """What can be proposed, in time order. joints: name to pixels (x to the right, y down), evenly
    apart at times_s, shape (frames, 2). learnt: by the measure's id; what was not is not proposed.
    """
    own = near_side(stroke, limbs.heading)
    found: list[ReadMeasure] = []
    for name, plan in PLANS.get(stroke, {}).items():
        if name not in learnt:
            continue
        at = [e.time_s for e in events
              if (e.lane, e.event) == ("arm", plan.event) and e.side in ("", own)]  # fmt: skip
        taken = [
            (time_s, n, points)
            for time_s in at
            if (points := points_at(
                joints, limbs, arms, plan, n := int(np.argmin(np.abs(times_s - time_s)))
            )) is not None and abs(times_s[n] - time_s) <= _NEAR_S
        ]  # fmt: skip
        side: Side = own if plan.sided else ""
        for time_s, n, points in _steady(taken, joints, limbs):
            placed = put_right(points, learnt[name].places, limbs)
            found.append(
                ReadMeasure(name, side, float(times_s[n]), time_s, _rounded(placed), learnt[name].u)
            )
    return tuple(sorted(found, key=lambda m: (m.time_s, m.measure)))


def points_at(
    joints: Mapping[str, Series], limbs: Limbs, arms: Template, plan: Plan, n: int
) -> Series | None:
    """Where the joints of a measure's points were seen in picture n, pixels, shape (points, 2).

    None where one of them was not, or the arm cannot be told.
    """
    side = arm_seen(limbs, arms, plan.event, n)
    if side is None:
        return None
    places = []
    for near in plan.points:
        seen = [_line(joints[_named(joint, side)], n) for joint in near]
        places.append(np.mean(seen, axis=0))
    found = np.array(places)
    return found if np.isfinite(found).all() else None


def arm_seen(limbs: Limbs, arms: Template, event: str, n: int) -> Side | None:
    """What the network calls the arm that the camera sees, in picture n at an event; it may take
    one arm for the other. None where neither looks like it.
    """
    usual = arms.near[int(arms.events[event] * arms.steps) % arms.steps]
    off = [float(np.mean(np.abs(limbs.arms[n, s] - usual))) for s in range(len(SIDES))]
    known = [(one, side) for one, side in zip(off, SIDES, strict=True) if np.isfinite(one)]
    best, side = min(known, default=(np.inf, SIDES[0]))
    return side if best <= WORST_ARM else None


def put_right(points: Series, places: Sequence[tuple[float, float]], limbs: Limbs) -> Series:
    """Points moved from where a network sees the joints to where a coach clicks."""
    moved = np.array(places) * limbs.trunk_px * np.array([limbs.heading, -1.0])
    return np.asarray(points + moved)


def places_between(seen: Series, true: Series, limbs: Limbs) -> Series:
    """The other way round: along and up from what was seen to what is true, in trunk lengths."""
    return np.asarray((true - seen) / limbs.trunk_px * np.array([limbs.heading, -1.0]))


def _named(joint: str, side: Side) -> str:
    return joint.replace("own ", f"{side} ").replace(" ", "_")


def _line(series: Series, n: int) -> Series:
    """A joint in picture n, by a straight line through what was seen around it."""
    first = max(0, n - _BESIDE)
    near = series[first : n + _BESIDE + 1]
    at = np.arange(first, first + len(near)) - n
    known = np.isfinite(near[:, 0])
    if not np.isfinite(series[n, 0]) or known.sum() < 2:
        return series[n]
    return np.asarray(np.polyfit(at[known], near[known], 1)[1])


def _steady(
    taken: Sequence[tuple[float, int, Series]], joints: Mapping[str, Series], limbs: Limbs
) -> list[tuple[float, int, Series]]:
    """Without what lies elsewhere than in the other cycles, against the hips."""
    if not taken:
        return []
    hips = 0.5 * (joints["left_hip"] + joints["right_hip"])
    against = np.array([points - hips[n] for _, n, points in taken])
    off = np.linalg.norm(against - np.median(against, axis=0), axis=2).max(axis=1)
    return [one for one, far in zip(taken, off / limbs.trunk_px, strict=True) if far <= _STRAY]


def _rounded(points: Series) -> tuple[tuple[float, float], ...]:
    return tuple((round(float(x), 1), round(float(y), 1)) for x, y in points)
