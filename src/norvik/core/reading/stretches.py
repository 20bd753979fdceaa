"""Where somebody swims in a long film: stretches that may be parts of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from norvik.core.strokes.names import StrokeName

Series = NDArray[np.float64]

#: Out of sight for longer than this, seconds: the next one may be somebody else.
_GAP_S = 1.0
#: A shorter stretch shows too little to be cut out, seconds.
_SHORTEST_S = 2.5
#: Nobody moves farther than this from one frame to the next, in trunk lengths a second.
_FASTEST = 9.0
#: How clear something is that stands alone.
_ALONE = 0.2
#: Going one way and then the other for so long is another length, or another swimmer; seconds.
_TURNED_S = 0.7


@dataclass(frozen=True, slots=True)
class Stretch:
    """First and last row of what was found, both included. heading: 1 to the right, -1 left."""

    first: int
    last: int
    heading: int


def swum_stretches(times_s: Series, hips: Series, shoulders: Series) -> list[Stretch]:
    """times_s: real seconds of the frames in which a swimmer was found, growing. hips, shoulders:
    their middles in pixels, shape (frames, 2).
    """
    if len(times_s) == 0:
        return []
    trunk = shoulders - hips
    length = float(np.median(np.hypot(trunk[:, 0], trunk[:, 1])))
    heading = _headings(times_s, np.sign(trunk[:, 0]))
    steps = np.diff(times_s)
    moved = np.hypot(*np.diff(hips, axis=0).T) / max(length, 1e-6)
    cut = (steps > _GAP_S) | (moved > _FASTEST * steps + 1.0) | (np.diff(heading) != 0)
    edges = [0, *(int(n) + 1 for n in np.flatnonzero(cut)), len(times_s)]
    return [
        Stretch(a, b - 1, int(heading[a]))
        for a, b in pairwise(edges)
        if times_s[b - 1] - times_s[a] >= _SHORTEST_S
    ]


def _headings(times_s: Series, signs: Series) -> Series:
    """The direction of each frame, as most of those around it have it."""
    found = np.empty(len(signs))
    for n, now in enumerate(times_s):
        near = signs[np.abs(times_s - now) <= _TURNED_S]
        found[n] = 1.0 if near.sum() >= 0 else -1.0
    return found


def clearly_best(
    costs: Sequence[tuple[StrokeName, float]],
) -> tuple[StrokeName, float] | None:
    """The name of least cost and how clear it is, 0 to 1; None without any.

    How clear: 0 where the next one costs the same, 1 where it costs twice as much; little where
    there is no other to hold it against.
    """
    ordered = sorted(costs, key=lambda c: c[1])
    if not ordered:
        return None
    if len(ordered) == 1:
        return ordered[0][0], _ALONE
    (name, least), (_, following) = ordered[:2]
    return name, float(np.clip(following / max(least, 1e-6) - 1, 0, 1))
