"""The model swimmer as a drawing, at a phase of the stroke, for pages and print."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from norvik.core.strokes.names import Side
from norvik.model.body import Build
from norvik.model.dials import DIALS, usual_swim, with_faults
from norvik.model.film import Take
from norvik.model.outline import PX_PER_M, Bone, Eye, Shape, axes, bones, shapes
from norvik.model.pose import Pose, pose
from norvik.model.schedule import PUSH_S, schedule

#: Degrees that the eye goes round the swimmer and over it for each view of a stance: 0, 0 looks
#: across the swimmer from the right, the head to the right of the picture.
EYES: dict[str, tuple[int, int]] = {
    "side": (0, 0), "front": (90, 0), "above": (0, 90), "below": (0, -90),
}  # fmt: skip
VIEWS = tuple(EYES)
_SWIM = {"wall": "off the wall"}
_FROM = {
    "side": "from the side", "front": "from in front", "above": "from above",
    "below": "from below",
}  # fmt: skip
#: Stance view that shows what a camera's view shows.
VIEW_OF = {"side-under": "side", "side-above": "side", "front-under": "front", "overhead": "above"}
#: Left, top, width and height of the drawing for each view; off the wall the body lies deeper.
_BOXES = {
    "side": (-255.0, -125.0, 400.0, 260.0),
    "front": (-150.0, -170.0, 300.0, 320.0),
    "above": (-255.0, -150.0, 400.0, 300.0),
    "below": (-255.0, -150.0, 400.0, 300.0),
}
_WALL_BOXES = {
    "side": (-255.0, -110.0, 400.0, 300.0),
    "front": (-150.0, -130.0, 300.0, 330.0),
    "above": _BOXES["above"],
    "below": _BOXES["below"],
}
#: Width and height of the drawing from any other place: room for the whole body each way.
_ROUND_BOX = (440.0, 300.0)
#: Middle of the body, metres from under the neck: what an eye that goes round it looks at.
_MIDDLE = (-0.35, 0.0, -0.05)
#: Over or under this many degrees the water's surface is no line any more.
_LEVEL_DEG = 4
#: Steps of a cycle at which stances are worked out.
STEPS = 48


@dataclass(frozen=True, slots=True)
class Stance:
    """The figure drawn.

    shapes: far ones first. bones: the same as a skeleton. box: left, top, width, height.
    surface_y: the water line or None. words: the description for those who cannot see it. after:
    the last event before it, or empty. fault: the one that it shows, or empty.
    """

    shapes: tuple[Shape, ...]
    bones: tuple[Bone, ...]
    box: tuple[float, float, float, float]
    surface_y: float | None
    words: str
    after: str = ""
    fault: str = ""


@lru_cache(maxsize=64)
def _cycle(stroke: str, fault: str, amount: float) -> tuple[Pose, float, dict[str, float]]:
    """Joints over one cycle in STEPS steps, its seconds, and its events as shares of the cycle."""
    take = Take(replace(usual_swim(stroke), variation=0.0), Build())
    if fault:
        take = with_faults(take, {fault: amount})
    plan = schedule(take.swim, 12)
    if stroke == "wall":
        start, end = PUSH_S, plan.wall("breakout") + 1.2
        events = {e: (t - start) / (end - start) for t, e in plan.walls}
    else:
        side: Side = "both" if "both" in plan.arms else "right"
        cycle = next(c for c in plan.arms[side] if next(iter(c.at.values())) > 1.0)
        start, end = next(iter(cycle.at.values())), cycle.end
        events = {e: (t - start) / (end - start) for e, t in cycle.at.items()}
    times = start + (end - start) * np.arange(STEPS) / STEPS
    return pose(plan, take.build, times, stroke), end - start, events


def events_of(stroke: str) -> dict[str, float]:
    """The arm's (at the wall: the wall's) events as shares of the cycle, 0 to 1."""
    return _cycle(stroke, "", 0.0)[2]


def cycle_seconds(stroke: str) -> float:
    """How long the figure's cycle takes at its usual rate."""
    return _cycle(stroke, "", 0.0)[1]


@lru_cache(maxsize=512)
def stance(stroke: str, phase: float, view: str, fault: str = "", amount: float = 1.0) -> Stance:
    """The figure at a share of the cycle (0..1), seen from a view of VIEWS.

    fault: a dial turned to `amount`. KeyError for an unknown stroke, view or fault.
    """
    box = (_WALL_BOXES if stroke == "wall" else _BOXES)[view]
    return _seen(stroke, phase, EYES[view], box, _FROM[view], fault, amount)


@lru_cache(maxsize=1024)
def stance_from(
    stroke: str, phase: float, round_deg: int, over_deg: int, fault: str = "", amount: float = 1.0
) -> Stance:
    """The figure as an eye sees it that went round the swimmer and over it, in degrees.

    round_deg: 0 from its right side, 90 from in front, 180 from its left side. over_deg: 90 from
    above, -90 from below. KeyError for an unknown stroke or fault.
    """
    right, down = axes(round_deg, over_deg)
    middle = np.array(_MIDDLE) - np.array([0.0, 0.0, 0.25 if stroke == "wall" else 0.0])
    width, height = _ROUND_BOX
    box = (
        round(float(middle @ right) * PX_PER_M - width / 2, 1),
        round(float(middle @ down) * PX_PER_M - height / 2, 1), width, height,
    )  # fmt: skip
    level = (
        "level"
        if over_deg == 0
        else f"{abs(over_deg)}° from {'above' if over_deg > 0 else 'below'}"
    )
    where = f"turned {round_deg}°, {level}"
    return _seen(stroke, phase, (round_deg, over_deg), box, where, fault, amount)


def _seen(
    stroke: str, phase: float, eye: tuple[int, int], box: tuple[float, float, float, float],
    where: str, fault: str, amount: float,
) -> Stance:  # fmt: skip
    joints, _, events = _cycle(stroke, fault, amount)
    n = round(phase * STEPS) % STEPS
    seen = Eye(*axes(*eye))
    drawn = tuple(shapes(joints, n, seen, Build().height_m))
    lines = tuple(bones(joints, n, seen))
    level = abs(eye[1]) <= _LEVEL_DEG
    passed = [e for e, share in events.items() if share <= phase + 1e-9]
    words = f"Model swimmer {_SWIM.get(stroke, f'in {stroke}')}, seen {where}"
    after = passed[-1] if passed else ""
    return Stance(drawn, lines, box, 0.0 if level else None, words, after, fault)


Flat = tuple[float, float]


def spine(stroke: str, phase: float, view: str) -> tuple[Flat, Flat]:
    """Neck and pelvis of a stance, drawing units: by them the figure is laid on a picture."""
    neck, pelvis = _flat(stroke, phase, view, (("neck",), ("pelvis",)))
    return neck, pelvis


def trunk(stroke: str, phase: float, view: str) -> tuple[Flat, Flat]:
    """Shoulder and hip of a stance, drawing units: the middle between both sides."""
    both = tuple((f"left_{j}", f"right_{j}") for j in ("shoulder", "hip"))
    shoulder, hip = _flat(stroke, phase, view, both)
    return shoulder, hip


def joint(stroke: str, phase: float, view: str, name: str) -> Flat:
    """Where a joint of a stance lies, drawing units. KeyError for an unknown name."""
    return _flat(stroke, phase, view, ((name,),))[0]


def joint_path(stroke: str, view: str, name: str) -> tuple[Flat, ...]:
    """The way of a joint against the swimmer over the whole cycle, drawing units."""
    return tuple(joint(stroke, n / STEPS, view, name) for n in range(STEPS))


def _flat(stroke: str, phase: float, view: str, places: Sequence[Sequence[str]]) -> list[Flat]:
    """Where the middles of groups of joints lie in the drawing."""
    joints = _cycle(stroke, "", 0.0)[0]
    n = round(phase * STEPS) % STEPS
    right, down = axes(*EYES[view])
    middles = [np.mean([joints[name][n] for name in names], axis=0) for names in places]
    return [(float(m @ right) * PX_PER_M, float(m @ down) * PX_PER_M) for m in middles]


@lru_cache(maxsize=128)
def plainest_phase(fault: str) -> float:
    """The share of the cycle at which a fault shows most on the near side. KeyError if unknown."""
    dial = DIALS[fault]
    good, bad = _cycle(dial.stroke, "", 0.0)[0], _cycle(dial.stroke, fault, 1.0)[0]
    apart = (
        sum(
            np.linalg.norm(good[name] - bad[name], axis=1) ** 2
            for name in good
            if name != "face" and not name.startswith("left")
        )
        + (0.3 * np.linalg.norm(good["face"] - bad["face"], axis=1)) ** 2
    )
    return int(np.argmax(apart)) / STEPS
