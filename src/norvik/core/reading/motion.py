"""The time of a cycle from how a picture stirs alone, where joints do not tell it.

A stroke stirs every part of the picture again and again: how much each changes from one picture to
the next is like itself one cycle later, wherever in the picture the swimmer is. Tiles that pass a
camera stir as regularly: only for films with a swimmer in which they do not.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.cycle import (
    LEAST_CYCLES,
    LOOKED_AT,
    CycleTime,
    flattened,
    likeness,
    refined,
)
from norvik.core.strokes.names import StrokeName

Series = NDArray[np.float64]

#: Returns that are looked at, how much a cycle far from the usual has to be better for it, and from
#: which share of the best a shorter cycle is taken instead (own choices).
_RETURNS, _UNUSUAL, _NEARLY = (1, 2, 3), 0.12, 0.85
#: A part that stirs less than this share of the one that stirs most counts for less.
_STILL = 0.25
#: How like itself the stir has to be one cycle later. Films of the model swimmer come out from 0.23
#: on, mostly over 0.6; an empty pool from the front under 0.17, a street with riders under 0.1, a
#: talking head at 0.2.
LEAST_STIR = 0.22


def stirred_cycle(parts: Series, seconds_apart: float, stroke: StrokeName) -> CycleTime | str:
    """The time of a cycle, or the reason why it cannot be told.

    parts: how much each part of the picture changes, evenly apart in time, shape (n, parts).
    """
    quickest, slowest, usual = LOOKED_AT[stroke]
    shown_s = len(parts) * seconds_apart
    longest = min(slowest, shown_s / LEAST_CYCLES)
    most = int(min(len(parts) - 1 - 1.2 / seconds_apart, 3.2 * slowest / seconds_apart))
    if longest <= quickest or most < 2:
        return "the film is too short"
    flat = flattened(parts, slowest, seconds_apart)
    spread = np.nanstd(flat, axis=0)
    if not float(spread.max()) > 0:
        return "nothing moves in this film"
    lags = np.arange(1, most)
    alike = likeness(flat / np.maximum(spread, _STILL * spread.max()), lags)
    tried = np.arange(quickest, longest, 0.005)
    returns = np.stack([
        np.interp(k * tried / seconds_apart, lags, alike, left=0, right=np.nan) for k in _RETURNS
    ])  # fmt: skip
    good = np.nanmean(returns, axis=0) - _UNUSUAL * np.log(tried / usual) ** 2
    tops = np.flatnonzero((good[1:-1] >= good[:-2]) & (good[1:-1] > good[2:])) + 1
    if not tops.size or good[tops].max() < LEAST_STIR:
        return "no regular stroke can be seen"
    best = float(good[tops].max())
    first = float(tried[next(n for n in tops if good[n] >= _NEARLY * best)])
    lag, u95 = refined(alike, lags, first / seconds_apart)
    seconds = lag * seconds_apart
    return CycleTime(seconds, u95 * seconds_apart, best, shown_s / seconds)
