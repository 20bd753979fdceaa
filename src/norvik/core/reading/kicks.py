"""Kicks from how far the feet are apart, or how low they are, through the mean cycle.

Single frames show feet badly: foam hides them and the network takes one for the other. How far
apart both are does not care which is which, and the mean over all cycles shows its rhythm.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.folded import folded, shares_of

Series = NDArray[np.float64]

#: Kicks of both feet in one cycle of the arms.
BEATS = (2, 4, 6)
_PARTS = 72
_REACH = 0.025
#: Share of all that changes in the cycle that a rhythm has to explain.
LEAST_SHARE = 0.12
#: How alike the rhythm has to be in odd and in even cycles, -1 to 1: chance is not.
LEAST_ALIKE = 0.7
#: It stands so many times over what no kick makes, changes that are faster than any: of feet that
#: move by chance a rhythm is told in 1 of 20 films.
_OVER_NOISE, _NOISE = 8.0, slice(7, 14)
#: Against the strongest rhythm, a faster one is there from this share of its power on.
_BESIDE = 0.25
#: From this share on, and so many times over the noise, a faster rhythm may be there: then nobody
#: can tell. Of six kicks two are seen well in a poor film, and two kicks would be a fault.
_MAYBE, _MAYBE_OVER_NOISE = 0.12, 3.0


def flutter(
    times_s: Series, ankles: Series, numbers: Series, openings: Series
) -> tuple[list[float], float] | None:
    """Instants of the kicks of freestyle and backstroke, and how clear their rhythm is, 0 to 1.

    ankles: height of both, shape (frames, 2), nan where not seen. None where none stands out.
    """
    apart = np.abs(ankles[:, 0] - ankles[:, 1])
    mean = _mean(times_s, apart, numbers, openings)
    halves = [_mean(times_s, apart, numbers, openings, n) for n in (0, 1)]
    if mean is None or halves[0] is None or halves[1] is None:
        return None
    waves = np.fft.rfft(mean - mean.mean())
    odd, even = (np.fft.rfft(half - half.mean()) for half in halves if half is not None)
    power = np.abs(waves) ** 2
    total = max(float(power[1:].sum()), 1e-12)
    alike = np.cos(np.angle(odd) - np.angle(even))
    # The body's roll moves the feet, too, twice a cycle: a faster rhythm that is there counts.
    strongest = max(float(power[n]) for n in BEATS)
    least = max(LEAST_SHARE * total, _BESIDE * strongest)
    noise = float(np.mean(power[_NOISE]))
    least = max(least, _OVER_NOISE * noise)
    clear = [n for n in BEATS if power[n] >= least and alike[n] >= LEAST_ALIKE]
    if not clear:
        return None
    best = max(clear)
    maybe = max(_MAYBE * strongest, _MAYBE_OVER_NOISE * noise)
    if any(power[n] >= maybe for n in BEATS if n > best):
        return None
    # The wave is highest where its angle is a whole turn: there the feet are farthest apart.
    first = float(-np.angle(waves[best]) / (2 * np.pi * best))
    return _instants([first + n / best for n in range(best)], numbers, openings, times_s), float(
        alike[best]
    )


def dolphin(
    times_s: Series, ankles: Series, numbers: Series, openings: Series
) -> tuple[list[float], float] | None:
    """Instants of the two kicks of a cycle of butterfly: both feet at their lowest."""
    known = np.isfinite(ankles)
    total = np.where(known, ankles, 0.0).sum(axis=1)
    both = np.where(known.any(axis=1), total / np.maximum(known.sum(axis=1), 1), np.nan)
    mean = _mean(times_s, both, numbers, openings)
    if mean is None:
        return None
    around = np.concatenate([mean[-2:], mean, mean[:2]])
    smooth = np.convolve(around, np.array([1, 2, 3, 2, 1]) / 9, "valid")
    before, after = np.roll(smooth, 1), np.roll(smooth, -1)
    lows = np.flatnonzero((smooth <= before) & (smooth < after))
    found: list[int] = []
    for n in sorted(lows, key=lambda n: float(smooth[n])):
        if all(abs((n - k + _PARTS / 2) % _PARTS - _PARTS / 2) >= 0.2 * _PARTS for k in found):
            found.append(int(n))
    if len(found) < 2:
        return None
    power = np.abs(np.fft.rfft(smooth - smooth.mean())) ** 2
    share = float(power[1:4].sum() / max(1e-12, power[1:].sum()))
    shares = sorted(n / _PARTS for n in found[:2])
    return _instants(shares, numbers, openings, times_s), share


def _mean(
    times_s: Series, values: Series, numbers: Series, openings: Series, half: int | None = None
) -> Series | None:
    """The middle of what was seen at each share of a cycle; None where too much is missing.

    half: 0 or 1 for every second cycle only.
    """
    if len(numbers) < 4:
        return None
    shares, least = shares_of(times_s, numbers, openings), 2
    if half is not None:
        shares, least = np.where(np.floor(shares) % 2 == half, shares, np.nan), 1
    found = folded(shares, values[:, None], _PARTS, _REACH, least)[:, 0]
    known = np.isfinite(found)
    if known.mean() < 0.8:
        return None
    at = np.arange(_PARTS)
    return np.interp(at, at[known], found[known], period=_PARTS)


def _instants(
    shares: Sequence[float], numbers: Series, openings: Series, times_s: Series
) -> list[float]:
    wanted = sorted(n + s % 1 for n in numbers for s in shares)
    at = [float(np.interp(w, numbers, openings)) for w in wanted if w <= numbers[-1]]
    return [t for t in at if times_s[0] <= t <= times_s[-1]]
