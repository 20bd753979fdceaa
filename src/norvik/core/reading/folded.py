"""All cycles of a film laid over each other: what is in the middle at each share of a cycle."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Series = NDArray[np.float64]


def shares_of(times_s: Series, numbers: Series, openings: Series) -> Series:
    """Where each instant lies: cycle number with its share; nan outside of the clock.

    numbers, openings: number and instant of every opening, see `clock_of`.
    """
    return np.interp(times_s, openings, numbers, left=np.nan, right=np.nan)


def folded(shares: Series, values: Series, parts: int, reach: float, least: int = 2) -> Series:
    """The median of each column within `reach` of each of `parts` shares, shape (parts, columns).

    values: shape (frames, columns), nan where not seen; nan where fewer than `least` were seen.
    """
    found = np.full((parts, values.shape[1]), np.nan)
    for n in range(parts):
        near = values[np.abs((shares - n / parts + 0.5) % 1 - 0.5) <= reach]
        known = np.isfinite(near).sum(axis=0) >= least
        if known.any():
            found[n, known] = np.nanmedian(near[:, known], axis=0)
    return found


#: Parts of a smooth cycle, and half of the stretch from which each takes its middle.
PARTS, _REACH = 72, 0.025


def smooth_cycle(
    times_s: Series, values: Series, numbers: Series, openings: Series, half: int | None = None
) -> Series | None:
    """The middle of what was seen at each share of a cycle, shape (PARTS,), gaps filled.

    values: shape (frames,), nan where not seen. half: 0 or 1 for every second cycle only. None
    where too much is missing.
    """
    if len(numbers) < 4:
        return None
    shares, least = shares_of(times_s, numbers, openings), 2
    if half is not None:
        shares, least = np.where(np.floor(shares) % 2 == half, shares, np.nan), 1
    found = folded(shares, values[:, None], PARTS, _REACH, least)[:, 0]
    known = np.isfinite(found)
    if known.mean() < 0.8:
        return None
    at = np.arange(PARTS)
    return np.interp(at, at[known], found[known], period=PARTS)
