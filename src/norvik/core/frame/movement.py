"""Points that were followed through frames: filled, filtered, and what their movement says.

Arrays are float64, one row a frame, NaN where a point is lost; x to the right and y downwards in
source pixels, times in real seconds.

Filter: Butterworth low pass of second order, run forwards and backwards so that nothing is shifted
in time, with the cut-off corrected for two passes (Winter, Biomechanics and Motor Control of Human
Movement; recalled, not looked up).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from norvik.core.errors import MeasureError

Values = NDArray[np.float64]

#: Own choice: longest gap that is filled, in seconds. Nothing is ever filled at the ends.
LONGEST_GAP_S = 0.1
#: Common practice for swimming movements, a setting: cut-off of the filter in Hz.
CUTOFF_HZ = 6.0
#: Own choice: places of less confidence, 0 to 1, are pointed out.
UNSURE = 0.5
#: Correction of the cut-off for two passes of a filter of second order.
TWO_PASSES = 0.802


@dataclass(frozen=True, slots=True)
class FollowedMeasure:
    """Something that several frames say together. points: that have to be followed for it."""

    id: str
    name: str
    points: tuple[str, ...]
    unit: str
    digits: int


FOLLOWED = {
    m.id: m
    for m in (
        FollowedMeasure("late-bend", "Way of the hand before the arm is bent",
                        ("shoulder", "elbow", "wrist"), "%", 0),
        FollowedMeasure("kick-travel", "Travel of the ankle, top to bottom", ("ankle",),
                        "px", 0),
        FollowedMeasure("breakout-climb", "Climb of the head to the breakout", ("head",), "°", 0),
        FollowedMeasure("hip-sway", "Sway of the hips from side to side", ("hip",),
                        "% of their width", 0),
    )
}  # fmt: skip


def filled(times_s: Values, values: Values, longest_s: float = LONGEST_GAP_S) -> Values:
    """Short gaps filled by a straight line; longer ones and both ends stay as they are.

    values: shape (n,) or (n, k). A gap is as long as the time between the frames around it.
    """
    if values.ndim == 2:
        columns = [filled(times_s, values[:, k], longest_s) for k in range(values.shape[1])]
        return np.stack(columns, axis=1)
    made = values.copy()
    known = np.flatnonzero(np.isfinite(values))
    for a, b in pairwise(known.tolist()):
        if b - a > 1 and times_s[b] - times_s[a] <= longest_s + 1e-9:
            inside = slice(a + 1, b)
            made[inside] = np.interp(times_s[inside], times_s[[a, b]], values[[a, b]])
    return made


def runs(values: Values) -> list[slice]:
    """Stretches without a gap, in order. values: shape (n,) or (n, k)."""
    known = np.isfinite(values) if values.ndim == 1 else np.isfinite(values).all(axis=1)
    edges = np.flatnonzero(np.diff(np.concatenate(([False], known, [False])).astype(np.int8)))
    return [slice(int(a), int(b)) for a, b in edges.reshape(-1, 2)]


def smooth(times_s: Values, values: Values, cutoff_hz: float = CUTOFF_HZ) -> Values:
    """Low-passed without a shift in time, each stretch without a gap by itself.

    values: shape (n,) or (n, k). Frames at uneven times are brought to even ones for the filter and
    back. A stretch too short for the filter, or one filmed too slowly for the cut-off, stays as it
    is. Raises MeasureError for a cut-off that is not above 0.
    """
    if not (math.isfinite(cutoff_hz) and cutoff_hz > 0):
        raise MeasureError("The cut-off of the filter must be above 0 Hz.")
    if values.ndim == 2:
        columns = [smooth(times_s, values[:, k], cutoff_hz) for k in range(values.shape[1])]
        return np.stack(columns, axis=1)
    made = values.copy()
    for run in runs(values):
        at, found = times_s[run], values[run]
        if len(found) < 10:
            continue
        even = np.linspace(at[0], at[-1], len(at))
        rate = (len(at) - 1) / (at[-1] - at[0])
        if cutoff_hz >= 0.4 * rate:
            continue
        low = _both_ways(np.interp(even, at, found), cutoff_hz / rate)
        made[run] = np.interp(at, even, low)
    return made


def _both_ways(values: Values, cutoff: float) -> Values:
    """cutoff: in cycles a sample, below 0.5. The ends are mirrored through their own point."""
    b, a = coefficients(cutoff)
    pad = min(len(values) - 1, max(9, round(1.5 / cutoff)))
    first, last = values[0], values[-1]
    long = np.concatenate(
        (2 * first - values[pad:0:-1], values, 2 * last - values[-2 : -pad - 2 : -1])
    )
    there = _one_way(long, b, a)
    back = _one_way(there[::-1], b, a)[::-1]
    return back[pad : pad + len(values)]


def coefficients(cutoff: float) -> tuple[Values, Values]:
    """Numerator and denominator of the filter for one of two passes."""
    w = math.tan(math.pi * cutoff) / TWO_PASSES
    k1, k2 = math.sqrt(2) * w, w * w
    b0 = k2 / (1 + k1 + k2)
    return (
        np.array([b0, 2 * b0, b0]),
        np.array([1.0, 2 * (k2 - 1) / (1 + k1 + k2), (1 - k1 + k2) / (1 + k1 + k2)]),
    )


def _one_way(values: Values, b: Values, a: Values) -> Values:
    """Direct form II transposed, begun as if the first value had always been there."""
    b0, b1, b2 = map(float, b)
    _, a1, a2 = map(float, a)
    first = float(values[0])
    z1, z2 = first * (1 - b0), first * (b2 - a2)
    made = np.empty_like(values)
    for n, x in enumerate(values.tolist()):
        y = b0 * x + z1
        z1 = b1 * x - a1 * y + z2
        z2 = b2 * x - a2 * y
        made[n] = y
    return made


def velocity(times_s: Values, values: Values) -> Values:
    """Change a second by central differences; at both ends of a stretch by one-sided ones.

    values: shape (n,) or (n, k). A stretch of one frame has none (NaN).
    """
    made = np.full_like(values, np.nan)
    for run in runs(values):
        if run.stop - run.start >= 2:
            made[run] = np.gradient(values[run], times_s[run], axis=0)
    return made


def angles(a: Values, corner: Values, b: Values) -> Values:
    """Inner angle at `corner`, degrees, 0 to 180; NaN where a point is lost. Shapes (n, 2)."""
    u, v = a - corner, b - corner
    cross = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]
    return np.degrees(np.arctan2(np.abs(cross), np.sum(u * v, axis=1)))


def turning_points(values: Values, least: float) -> tuple[list[int], list[int]]:
    """Frames of the peaks and of the troughs that stand out by at least `least`.

    A peak counts when the values fall by `least` on both sides of it before they rise above it; so
    peaks and troughs alternate. The ends never count. NaN ends a stretch.
    """
    peaks: list[int] = []
    troughs: list[int] = []
    for run in runs(values):
        rising: bool | None = None
        high = low = run.start
        for n in range(run.start, run.stop):
            if values[n] > values[high]:
                high = n
            if values[n] < values[low]:
                low = n
            if rising is not False and values[high] - values[n] >= least:
                if rising:
                    peaks.append(high)
                rising, low = False, n
                high = n
            elif rising is not True and values[n] - values[low] >= least:
                if rising is False:
                    troughs.append(low)
                rising, high = True, n
                low = n
    return peaks, troughs


#: Own choice, as for angles on one frame: a segment that appears shorter points out of the plane.
OUT_OF_PLANE = 0.85
#: From here on the arm counts as bent, degrees (common practice).
BENT_DEG = 150.0


def longest(a: Values, b: Values) -> float:
    """The length at which a segment of the body appears at its longest, pixels.

    NaN where it is never seen. Of all lengths the 95th percentile: a single slip does not count.
    """
    lengths = np.hypot(*(b - a).T)
    known = lengths[np.isfinite(lengths)]
    return float(np.percentile(known, 95)) if len(known) else math.nan


def bends(
    shoulder: Values, elbow: Values, wrist: Values, upper_px: float, fore_px: float
) -> Values:
    """Inner angle of the elbow in space, degrees, shape (n,), from the picture of one camera.

    upper_px, fore_px: true lengths of upper arm and forearm in pixels. Where one appears shorter
    than OUT_OF_PLANE of that it points out of the picture by what is missing; less is lost in the
    clicks. An elbow that points to the side does so with both: its shoulder and its wrist lie on
    one side of it.
    """
    a, b = shoulder - elbow, wrist - elbow
    flat = np.sum(a * b, axis=1)
    out_a, out_b = _out_of_picture(a, upper_px), _out_of_picture(b, fore_px)
    sizes = np.hypot(np.hypot(*a.T), out_a) * np.hypot(np.hypot(*b.T), out_b)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.degrees(np.arccos(np.clip((flat + out_a * out_b) / sizes, -1, 1)))


def _out_of_picture(segment: Values, length_px: float) -> Values:
    """Pixels by which a segment of that length points out of the picture, shape (n,)."""
    seen = np.hypot(*segment.T)
    missing = np.sqrt(np.maximum(0.0, length_px**2 - seen**2))
    return np.where(seen < OUT_OF_PLANE * length_px, missing, 0.0)


def late_bend(
    shoulder: Values,
    elbow: Values,
    wrist: Values,
    lengths_px: tuple[float, float] | None = None,
) -> float | None:
    """Share of the hand's way, in percent, that is done before the elbow is under BENT_DEG.

    lengths_px: of upper arm and forearm where they appear longest in the clip; then an elbow that
    points out of the picture is seen to bend, too (see bends).

    All shapes (n, 2), from entry to exit. The way is that of the wrist past the shoulder. What
    counts is the bend after the arm was at its longest: many arms go in bent and stretch then. 100
    where it never bends so far; None where a point is lost all along or does not move.
    """
    at = filled(np.arange(len(wrist), dtype=np.float64), wrist - shoulder, math.inf)
    # From the first frame that is known to the last one; within it way and bend go together.
    known = np.isfinite(at).all(axis=1)
    at = at[known]
    if len(at) < 3:
        return None
    steps = np.hypot(*np.diff(at, axis=0).T)
    if steps.sum() == 0:
        return None
    way = np.concatenate(([0.0], np.cumsum(steps))) / steps.sum()
    bend = (
        angles(shoulder, elbow, wrist)
        if lengths_px is None
        else bends(shoulder, elbow, wrist, *lengths_px)
    )
    bend = bend[known]
    reaching = bend[: max(1, len(bend) * 2 // 3)]
    if not np.isfinite(reaching).any():
        return None
    straightest = int(np.nanargmax(reaching))
    under = straightest + np.flatnonzero(bend[straightest:] < BENT_DEG)
    return 100 * float(way[under[0]]) if len(under) else 100.0


def climb(points: Values, horizon_deg: float = 0.0) -> float | None:
    """Degrees by which the way through points climbs above the horizontal; None without a way.

    points: shape (n, 2). The way is the straight line that fits it best.
    """
    known = points[np.isfinite(points).all(axis=1)]
    if len(known) < 3:
        return None
    away = known - known.mean(axis=0)
    _, sizes, axes = np.linalg.svd(away, full_matrices=False)
    if sizes[0] == 0:
        return None
    dx, dy = axes[0] * np.sign((away[-1] - away[0]) @ axes[0])
    return math.degrees(math.atan2(-dy, abs(dx))) - math.copysign(1, dx) * horizon_deg


def half_waves(values: Values, least: float) -> list[float]:
    """Heights from each trough to the next peak and back; empty without two turning points.

    Of every stretch by itself: what lies between two stretches nobody knows.
    """
    found: list[float] = []
    for run in runs(values):
        peaks, troughs = turning_points(values[run], least)
        turns = values[run][sorted(peaks + troughs)]
        found += [abs(float(b - a)) for a, b in pairwise(turns)]
    return found
