"""The time of a cycle from how like itself a movement is some seconds later.

Nothing here needs to know which arm is which: signals that stay when left and right are mistaken
for each other tell the cycle, and the difference of both arms, which turns over half a cycle later
where arms alternate, tells a whole cycle from half of one.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from norvik.core.strokes.names import StrokeName

Series = NDArray[np.float64]

#: Seconds of a cycle that are looked at, from a sprint to slow drills, and the usual one.
LOOKED_AT = {
    "freestyle": (0.9, 3.2, 1.7), "backstroke": (0.9, 3.2, 1.6),
    "breaststroke": (0.8, 3.4, 1.7), "butterfly": (0.8, 2.6, 1.3),
}  # fmt: skip
#: Strokes in which one arm does what the other did half a cycle before.
ALTERNATING = ("freestyle", "backstroke")
#: How good a cycle has to be, -1 to 1 (own choice: films of the model swimmer from in front, whose
#: arms cannot be told from there, stay under 0.15, those from the side come out over 0.3).
LEAST = 0.25
#: Cycles that a film has to show at least.
LEAST_CYCLES = 1.8
#: A shorter cycle is taken instead of a longer one that is not much better: two cycles of
#: butterfly with a breath in one of them are more alike than one is to the next.
_NEARLY = 0.8
#: How much a cycle far from the usual has to be better for it.
_UNUSUAL = 0.12
#: A return lies within this share of a cycle of where those before put it.
_NEAR = 0.12
#: Returns lean on each other: what their spread says held in 77 of 100 films of the model swimmer,
#: twice that with a share of the cycle beside it in 97.
_WIDER, _LEAST_U95 = 2.0, 0.003
#: Steps in which cycles are tried, seconds.
_STEP_S = 0.005


@dataclass(frozen=True, slots=True)
class CycleTime:
    """seconds: of a whole cycle. u95: half width of its 95 % interval. like: how like itself the
    movement is one cycle later, up to 1. cycles: that the film shows.
    """

    seconds: float
    u95: float
    like: float
    cycles: float


def swap_proof(left: Series, right: Series) -> tuple[Series, Series]:
    """What does not care which arm is called left, shape (n, 2), and what turns over: (n,)."""
    return np.stack([0.5 * (left + right), np.abs(left - right)], axis=1), left - right


def cycle_time(
    steady: Series, turning: Series, seconds_apart: float, stroke: StrokeName
) -> CycleTime | str:
    """The time of a cycle, or the reason why it cannot be told.

    steady: series that stay when the arms are swapped, shape (n, k). turning: those that change
    their sign, shape (n, m). Both evenly apart by seconds_apart; nan where nothing was seen.
    """
    quickest, slowest, usual = LOOKED_AT[stroke]
    shown_s = len(steady) * seconds_apart
    longest = min(slowest, shown_s / LEAST_CYCLES)
    if longest <= quickest:
        return "the film is too short"
    most = int(min(len(steady) - 1 - 1.2 / seconds_apart, 3.2 * slowest / seconds_apart))
    lags = np.arange(1, max(2, most))
    stays = likeness(flattened(steady, slowest, seconds_apart), lags)
    turns = likeness(flattened(turning, slowest, seconds_apart), lags)

    def at(alike: Series, seconds: float) -> float:
        return float(np.interp(seconds / seconds_apart, lags, alike, left=0, right=np.nan))

    def good(seconds: float) -> float:
        whole = [at(stays, k * seconds) for k in (1, 2, 3)]
        if stroke in ALTERNATING:
            whole += [at(turns, k * seconds) for k in (1, 2)]
        found = float(np.nanmean(whole))
        if stroke in ALTERNATING:
            half = [-at(turns, 0.5 * seconds), -at(turns, 1.5 * seconds), at(stays, 0.5 * seconds)]
            found = 0.6 * found + 0.4 * float(np.nanmean(half))
        return found - _UNUSUAL * float(np.log(seconds / usual)) ** 2

    tried = np.arange(quickest, longest, _STEP_S)
    marks = np.array([good(float(seconds)) for seconds in tried])
    tops = np.flatnonzero((marks[1:-1] >= marks[:-2]) & (marks[1:-1] > marks[2:])) + 1
    if not tops.size or marks[tops].max() < LEAST:
        return "no regular stroke can be seen"
    best = float(marks[tops].max())
    first = float(tried[next(n for n in tops if marks[n] >= _NEARLY * best)])
    seconds, u95 = refined(stays, lags, first / seconds_apart)
    return CycleTime(
        seconds * seconds_apart, u95 * seconds_apart, best, shown_s / (seconds * seconds_apart)
    )


def flattened(series: Series, slowest_s: float, seconds_apart: float) -> Series:
    """Without what changes slower than a cycle, lightly smoothed; what moves more counts more."""
    width = max(3, round(slowest_s / seconds_apart))
    smooth = np.array([1.0, 2.0, 3.0, 2.0, 1.0]) / 9
    found = []
    for one in series.T:
        known = np.isfinite(one)
        kernel = np.ones(min(width, len(one)))
        total = np.convolve(np.where(known, one, 0.0), kernel, "same")
        count = np.convolve(known.astype(float), kernel, "same")
        flat = np.where(known, one - total / np.maximum(count, 1), 0.0)
        flat = np.where(known, np.convolve(flat, smooth, "same"), np.nan)
        found.append(flat)
    return np.stack(found, axis=1)


def likeness(series: Series, lags: NDArray[np.int64]) -> Series:
    """How like itself a series is at each lag, -1 to 1; 0 where too little is seen."""
    found = np.zeros(len(lags))
    for n, lag in enumerate(lags):
        a, b = series[:-lag], series[lag:]
        both = np.isfinite(a) & np.isfinite(b)
        if both.sum() < 0.12 * series.size:
            continue
        x, y = a[both], b[both]
        found[n] = float(np.sum(x * y) / np.sqrt(np.sum(x * x) * np.sum(y * y) + 1e-12))
    return found


def refined(alike: Series, lags: NDArray[np.int64], first: float) -> tuple[float, float]:
    """A cycle from all its returns, in lags, and its 95 % half width.

    Later returns tell more: a step of one frame is spread over more cycles.
    """
    numbers: list[float] = []
    places: list[float] = []
    each, k = first, 1
    while (k + 0.1) * each < lags[-1]:
        near = np.flatnonzero(np.abs(lags - k * each) <= _NEAR * first + 1)
        near = near[(near > 0) & (near < len(lags) - 1)]
        n = int(near[np.argmax(alike[near])]) if near.size else 0
        if n and alike[n] > 0 and alike[n] >= max(alike[n - 1], alike[n + 1]):
            a, b, c = alike[n - 1], alike[n], alike[n + 1]
            bend = a - 2 * b + c
            numbers.append(float(k))
            places.append(float(lags[n]) + (0.5 * (a - c) / bend if bend < -1e-12 else 0.0))
            each = float(np.dot(numbers, places) / np.dot(numbers, numbers))
        k += 1
    if not numbers:
        return first, first * 0.05
    k_s, at = np.array(numbers), np.array(places)
    spread = float(np.sqrt(np.sum((at - each * k_s) ** 2) / max(1, len(at) - 1)))
    # No better than half a lag: that is how fine the film was read.
    u95 = 1.96 * max(spread, 0.5) / float(np.sqrt(np.sum(k_s**2)))
    return each, float(np.hypot(_WIDER * u95, _LEAST_U95 * each))
