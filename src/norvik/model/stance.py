"""The model swimmer as a drawing in lines, at a phase of the stroke, for pages and print."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from norvik.model.body import Build
from norvik.model.dials import DIALS, usual_swim, with_faults
from norvik.model.figure import RADII
from norvik.model.film import Take
from norvik.model.hand import hand_sections
from norvik.model.pose import Pose, pose
from norvik.model.schedule import PUSH_S, schedule
from norvik.model.trunk import Section, sections

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
PX_PER_M = 150.0
#: The joints of each limb, in order.
_LIMBS = (("shoulder", "elbow", "wrist"), ("hip", "knee", "ankle", "toe"))
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
#: From this difference in depth on, metres, the trunk is looked along.
_ALONG_M = 0.3
#: Steps of a cycle at which stances are worked out.
STEPS = 48


@dataclass(frozen=True, slots=True)
class Piece:
    """A round-ended line in drawing units. tone: near, far, trunk, suit, head or cap."""

    x1: float
    y1: float
    x2: float
    y2: float
    width: float
    tone: str


@dataclass(frozen=True, slots=True)
class Stance:
    """The figure drawn.

    pieces: far ones first. box: left, top, width, height. surface_y: the water line or None. words:
    the description for those who cannot see it. after: the last event before it, or empty. fault:
    the one that it shows, or empty.
    """

    pieces: tuple[Piece, ...]
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
        side = "both" if "both" in plan.arms else "right"
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


def axes(round_deg: float, over_deg: float) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Right and down of the picture in the pool, for an eye that went round and over."""
    turn, over = np.deg2rad(round_deg), np.deg2rad(over_deg)
    right = np.array([np.cos(turn), np.sin(turn), 0.0])
    ahead = np.array([-np.sin(turn), np.cos(turn), 0.0])
    down = -np.cos(over) * np.array([0.0, 0.0, 1.0]) - np.sin(over) * ahead
    return right, down


def _seen(
    stroke: str, phase: float, eye: tuple[int, int], box: tuple[float, float, float, float],
    where: str, fault: str, amount: float,
) -> Stance:  # fmt: skip
    joints, _, events = _cycle(stroke, fault, amount)
    n = round(phase * STEPS) % STEPS
    right, down = axes(*eye)
    away = np.cross(right, down)

    def flat(name: str) -> tuple[NDArray[np.float64], float]:
        point = joints[name][n]
        return np.array([point @ right, point @ down]) * PX_PER_M, float(point @ away)

    # Away from the eye is positive; the farthest is drawn first.
    parts: list[tuple[float, list[Piece]]] = []
    neck = flat("neck")
    middle = neck[1]
    for side in ("left", "right"):
        for names in _LIMBS:
            spots = [flat(f"{side}_{name}") for name in names]
            depth = float(np.mean([s[1] for s in spots]))
            tone = "far" if depth > middle + 0.04 else "near"
            pieces = [
                piece
                for a, b, r, q in zip(spots, spots[1:], names, names[1:], strict=False)
                for piece in _tapered(a[0], b[0], RADII[r], RADII[q], tone)
            ]
            if "wrist" in names:
                tip, thumb = flat(f"{side}_fingertip")[0], flat(f"{side}_thumb")[0]
                base = spots[2][0] + 0.16 * (tip - spots[2][0])
                pieces += _tapered(base, thumb, RADII["thumb"] * 1.7, RADII["thumb"], tone)
                hand = hand_sections(joints, side, n, Build().height_m)
                pieces += [p for _, p in _lines_across(hand, right, down, {False: tone})]
            if "hip" in names:
                hem = spots[0][0] + 0.36 * (spots[1][0] - spots[0][0])
                thin = RADII["hip"] + 0.36 * (RADII["knee"] - RADII["hip"])
                pieces += _tapered(spots[0][0], hem, RADII["hip"] * 1.02, thin * 1.04, "suit")
            parts.append((depth, pieces))
    crown = flat("crown")
    throat = crown[0] + 0.5 * (neck[0] - crown[0])
    trunk = [_piece(throat, neck[0], RADII["neck"] * 1.9, "trunk")]
    parts.append((middle, [*trunk, *_body(joints, n, right, down)]))
    parts.append((crown[1] - 0.02, _head(joints, n, right, down)))
    drawn = tuple(p for _, group in sorted(parts, key=lambda k: -k[0]) for p in group)
    level = abs(eye[1]) <= _LEVEL_DEG
    passed = [e for e, share in events.items() if share <= phase + 1e-9]
    words = f"Model swimmer {_SWIM.get(stroke, f'in {stroke}')}, seen {where}"
    after = passed[-1] if passed else ""
    return Stance(drawn, box, 0.0 if level else None, words, after, fault)


def _head(
    joints: Pose, n: int, right: NDArray[np.float64], down: NDArray[np.float64]
) -> list[Piece]:
    """A ball with its cap, on the side that the face is not."""
    crown, neck, face = (joints[name][n] for name in ("crown", "neck", "face"))
    away = np.cross(right, down)

    def flat(point: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.array([point @ right, point @ down]) * PX_PER_M

    centre = crown + 0.35 * (neck - crown)
    along = (crown - neck) / float(np.linalg.norm(crown - neck))
    # The more the face is seen, the less of the cap: it stays on the crown.
    facing = max(0.0, -float(face @ away))
    spot = centre + RADII["head"] * ((0.14 + 0.40 * facing) * along - 0.30 * face)
    size = RADII["head"] * (1.75 - 0.55 * facing)
    head = _piece(flat(centre), flat(centre), RADII["head"] * 2, "head")
    return [head, _piece(flat(spot), flat(spot), size, "cap")]


def _lines_across(
    parts: Sequence[Section], right: NDArray[np.float64], down: NDArray[np.float64],
    tones: Mapping[bool, str],
) -> list[tuple[float, Piece]]:  # fmt: skip
    """Lines across a body from section to section, each with how far away it is.

    tones: by whether the suit covers it.
    """
    away = np.cross(right, down)
    found: list[tuple[float, Piece]] = []
    for a, b in itertools.pairwise(parts):
        for share in (0.0, 0.34, 0.67):
            left = (1 - share) * a.left + share * b.left
            end = (1 - share) * a.right + share * b.right
            ends = [np.array([spot @ right, spot @ down]) * PX_PER_M for spot in (left, end)]
            thick = 2 * ((1 - share) * a.radius_m + share * b.radius_m)
            piece = _piece(ends[0], ends[1], thick, tones[a.suit])
            found.append((float((left + end) @ away) / 2, piece))
    return found


def _body(
    joints: Pose, n: int, right: NDArray[np.float64], down: NDArray[np.float64]
) -> list[Piece]:
    """The trunk as lines across it, close enough to make one shape."""
    parts = sections(joints, n, Build().height_m)
    found = _lines_across(parts, right, down, {True: "suit", False: "trunk"})
    depths = [depth for depth, _ in found]
    if max(depths) - min(depths) > _ALONG_M:
        # Looked along the body its near end hides the far one.
        return [piece for _, piece in sorted(found, key=lambda k: -k[0])]
    # Across it the suit lies over the skin.
    return [piece for _, piece in sorted(found, key=lambda k: k[1].tone == "suit")]


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


def _flat(stroke: str, phase: float, view: str, places: Sequence[Sequence[str]]) -> list[Flat]:
    """Where the middles of groups of joints lie in the drawing."""
    joints = _cycle(stroke, "", 0.0)[0]
    n = round(phase * STEPS) % STEPS
    right, down = axes(*EYES[view])
    middles = [np.mean([joints[name][n] for name in names], axis=0) for names in places]
    return [(float(m @ right) * PX_PER_M, float(m @ down) * PX_PER_M) for m in middles]


def _piece(a: NDArray[np.float64], b: NDArray[np.float64], thick_m: float, tone: str) -> Piece:
    x1, y1, x2, y2 = (round(float(v), 1) for v in (*a, *b))
    return Piece(x1, y1, x2, y2, round(thick_m * PX_PER_M, 1), tone)


def _tapered(
    a: NDArray[np.float64], b: NDArray[np.float64], from_m: float, to_m: float, tone: str
) -> list[Piece]:
    """A limb from a to b that narrows from one half thickness to another."""
    steps = 7
    found = []
    for k in range(steps):
        start, end = a + (b - a) * k / steps, a + (b - a) * (k + 1) / steps
        thick = 1.9 * (from_m + (to_m - from_m) * (k + 0.5) / steps)
        found.append(_piece(start, end, thick, tone))
    return found


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
