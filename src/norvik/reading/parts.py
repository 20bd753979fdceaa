"""Parts of a film in which somebody swims, and the stroke that it looks like."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from norvik.core.reading.cycle import cycle_time
from norvik.core.reading.limbs import limbs_of
from norvik.core.reading.stretches import Stretch, clearly_best, swum_stretches
from norvik.core.reading.stroke import VIEWS, WORST_WAY, stroke_cost
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import AnyStroke, StrokeName
from norvik.reading.followed import READ_FPS, Followed, evenly, movement_of
from norvik.reading.network import JOINTS
from norvik.reading.templates import templates_of


@dataclass(frozen=True, slots=True)
class SwumPart:
    """A stretch of a film with a swimmer. first, last: frames. stroke: that fits best, with how
    clearly, 0 to 1; empty where none does.
    """

    first: int
    last: int
    stroke: AnyStroke
    clear: float


#: A stretch is looked at for so many seconds to name its stroke.
_NAMED_S = 8.0


def swum_lengths(followed: Followed) -> list[tuple[Stretch, Followed]]:
    """Each stretch in which somebody swims one way, with what was followed in it; in time order."""
    if not followed.poses:
        return []
    at = {name: n for n, name in enumerate(JOINTS)}
    times = np.array([followed.times_s[p.frame] for p in followed.poses])
    hips, shoulders = (
        np.array([
            0.5 * (p.points[at[f"left_{j}"]] + p.points[at[f"right_{j}"]]) for p in followed.poses
        ])
        for j in ("hip", "shoulder")
    )  # fmt: skip
    found = []
    for stretch in swum_stretches(times, hips, shoulders):
        poses = followed.poses[stretch.first : stretch.last + 1]
        first, last = poses[0].frame, poses[-1].frame
        near = {n: t for n, t in followed.times_s.items() if first <= n <= last}
        found.append((stretch, replace(followed, poses=poses, times_s=near)))
    return found


def swum_parts(followed: Followed, view: str) -> list[SwumPart]:
    """Stretches of a film with somebody in them, in time order."""
    found = []
    for _, length in swum_lengths(followed):
        first, last = length.poses[0].frame, length.poses[-1].frame
        end = length.times_s[first] + _NAMED_S
        near = {n: t for n, t in length.times_s.items() if t <= end}
        part = replace(
            length, poses=tuple(p for p in length.poses if p.frame in near), times_s=near
        )
        named = looks_like(part, view)
        found.append(SwumPart(first, last, named[0] if named else "", named[1] if named else 0.0))
    return found


def looks_like(followed: Followed, view: str) -> tuple[StrokeName, float] | None:
    """The stroke that the arms fit best, and how clearly, 0 to 1; None where it cannot be said."""
    if view not in VIEWS or len(followed.poses) < 2 * READ_FPS:
        return None
    movement = movement_of(followed.poses, dict(followed.times_s))
    _, joints = evenly(followed)
    limbs = limbs_of(joints)
    costs = []
    for stroke in STROKES:
        templates = templates_of(stroke, view, followed.by_points)
        cycle = cycle_time(*movement, stroke)
        if templates is not None and not isinstance(cycle, str):
            cost = stroke_cost(limbs, stroke, templates, cycle.seconds, 1 / READ_FPS)
            costs.append((stroke, cost))
    return clearly_best([c for c in costs if c[1] <= WORST_WAY])
