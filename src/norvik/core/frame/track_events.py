"""Events that followed points suggest. They are proposals: the coach looks at each frame.

Wrist: entry and exit where it crosses the surface, catch where it comes back from its reach,
press where it has come back to three quarters of it, shoulder where it passes under the shoulder.
Ankle: beats at its lowest. Mouth: air and face down where it crosses the surface.
All thresholds are own choices, checked on the model swimmer.
"""

from __future__ import annotations

import numpy as np

from norvik.core.frame.geometry import Point
from norvik.core.frame.movement import Values, filled, smooth, turning_points
from norvik.core.frame.references import References
from norvik.core.strokes.names import Side
from norvik.core.time.proposals import Proposal

#: Shortest time between two crossings of the surface in the same direction, seconds.
_APART_S = 0.35
#: The reach is over, and the catch begins, where the hand leaves this share of its farthest.
_CATCH_REACH = 0.985
#: The hand presses backwards where it has come back to this share of its farthest reach.
_PRESS_REACH = 0.77
#: A beat stands out by this share of the ankle's whole travel.
_BEAT_SHARE = 0.35

Followed = dict[tuple[str, Side], Values]


def propose_from_tracks(
    times_s: Values, followed: Followed, references: References, alternating: bool = True
) -> list[Proposal]:
    """Proposals in time order.

    times_s: real seconds a frame, shape (n,). followed: (point, side) to source pixels, shape
    (n, 2), NaN where lost. Without a water line nothing that crosses it is proposed. alternating:
    the arms move one after the other; else their events have the side "both".
    """
    ready = {k: smooth(times_s, filled(times_s, v)) for k, v in followed.items()}
    found: list[Proposal] = []
    for (point, side), at in ready.items():
        arm: Side = side if alternating else "both"
        if references.water and (
            point == "wrist" or (point == "fingertips" and ("wrist", side) not in ready)
        ):
            shoulder = ready.get(("shoulder", side))
            found += _arm(times_s, at, shoulder, references, arm)
        elif point == "ankle":
            found += _beats(times_s, at, references, side if alternating else "")
        elif point == "mouth" and references.water:
            down, up = _crossings(times_s, _depth(at, references))
            found += [Proposal(t, side, "air", "breath") for t in up]
            found += [Proposal(t, "", "down", "breath") for t in down]
    return sorted(found, key=lambda p: p.time_s)


def _depth(at: Values, references: References) -> Values:
    """Pixels below the surface a frame."""
    return np.array(
        [
            references.below_water(Point(float(x), float(y))) if np.isfinite(x) else np.nan
            for x, y in at
        ]
    )


def _crossings(times_s: Values, depth: Values) -> tuple[list[float], list[float]]:
    """Instants at which a depth goes below the surface, and above it, between two frames."""
    down: list[float] = []
    up: list[float] = []
    for n in range(1, len(depth)):
        a, b = depth[n - 1], depth[n]
        if not (np.isfinite(a) and np.isfinite(b)) or (a >= 0) == (b >= 0):
            continue
        at = float(times_s[n - 1] + (times_s[n] - times_s[n - 1]) * a / (a - b))
        kept = down if b >= 0 else up
        if not kept or at - kept[-1] > _APART_S:
            kept.append(at)
    return down, up


def _arm(
    times_s: Values, wrist: Values, shoulder: Values | None, references: References, side: Side
) -> list[Proposal]:
    entries, exits = _crossings(times_s, _depth(wrist, references))
    found = [Proposal(t, side, "entry") for t in entries]
    found += [Proposal(t, side, "exit") for t in exits]
    if shoulder is None:
        return found
    past = wrist - shoulder
    for begin in entries:
        end = next((t for t in exits if t > begin), None)
        if end is None:
            continue
        pull = np.flatnonzero((times_s >= begin) & (times_s <= end))
        if len(pull) < 5 or not np.isfinite(past[pull]).all():
            continue
        # Forward is where the hand went in, seen from its shoulder.
        forward = np.sign(past[pull[0], 0])
        reach = forward * past[pull, 0]
        farthest = int(np.argmax(reach))
        left = np.flatnonzero(reach[farthest:] < _CATCH_REACH * reach[farthest])
        if len(left):
            found.append(Proposal(float(times_s[pull[farthest + left[0]]]), side, "catch"))
        back = np.flatnonzero(reach[farthest:] < _PRESS_REACH * reach[farthest])
        if len(back):
            found.append(Proposal(float(times_s[pull[farthest + back[0]]]), side, "press"))
        under = np.flatnonzero(np.diff(np.sign(forward * past[pull, 0])) < 0)
        if len(under):
            found.append(Proposal(float(times_s[pull[under[0]]]), side, "shoulder"))
    return found


def _beats(times_s: Values, ankle: Values, references: References, side: Side) -> list[Proposal]:
    low = np.array(
        [-references.height(Point(float(x), float(y)), Point(0.0, 0.0)) for x, y in ankle]
    )
    known = low[np.isfinite(low)]
    if len(known) < 5:
        return []
    lowest, _ = turning_points(low, _BEAT_SHARE * float(np.ptp(known)))
    return [Proposal(float(times_s[n]), side, "beat", "leg") for n in lowest]
