"""Kicks from how far the feet are apart, or how low they are, through the mean cycle.

Single frames show feet badly: foam hides them and the network takes one for the other. How far
apart both are does not care which is which, and the mean over all cycles shows its rhythm.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.folded import PARTS, smooth_cycle
from norvik.core.reading.kick_count import BEATS

Series = NDArray[np.float64]

#: How alike the rhythm has to be in odd and in even cycles, -1 to 1: chance is not.
LEAST_ALIKE = 0.7
#: Instants are told of a rhythm that stands so many times over what no kick makes, changes that are
#: faster than any. With both, of feet that move by chance one is told in 1 of 20 films.
_OVER_NOISE, _NOISE = 3.0, slice(7, 14)
#: By itself a rhythm stands out from this share of all that changes in the cycle on, and so many
#: times over the noise.
_STANDS_SHARE, _STANDS_OVER_NOISE = 0.12, 8.0
#: Against the strongest rhythm, a faster one is there from this share of its power on.
_BESIDE = 0.25
#: From this share on, and so many times over the noise, a faster rhythm may be there: then none
#: stands out. Of six kicks two are seen well in a poor film.
_MAYBE, _MAYBE_OVER_NOISE = 0.12, 3.0


@dataclass(frozen=True, slots=True)
class _Rhythms:
    """Of how far the feet are apart: waves of the mean cycle, and how alike each is in both halves
    of the cycles; both by their number in a cycle.
    """

    waves: NDArray[np.complex128]
    alike: Series

    @property
    def power(self) -> Series:
        return np.abs(self.waves) ** 2

    @property
    def noise(self) -> float:
        return float(np.mean(self.power[_NOISE]))


def _rhythms(times_s: Series, ankles: Series, numbers: Series, openings: Series) -> _Rhythms | None:
    apart = np.abs(ankles[:, 0] - ankles[:, 1])
    mean = smooth_cycle(times_s, apart, numbers, openings)
    halves = [smooth_cycle(times_s, apart, numbers, openings, n) for n in (0, 1)]
    if mean is None or halves[0] is None or halves[1] is None:
        return None
    odd, even = (np.fft.rfft(half - half.mean()) for half in halves if half is not None)
    waves = np.fft.rfft(mean - mean.mean())
    return _Rhythms(waves, np.asarray(np.cos(np.angle(odd) - np.angle(even))))


def standing_out(times_s: Series, ankles: Series, numbers: Series, openings: Series) -> int | None:
    """Kicks a cycle whose rhythm stands out by itself; None where none does, or a faster one may.

    ankles: height of both, shape (frames, 2), nan where not seen.
    """
    found = _rhythms(times_s, ankles, numbers, openings)
    if found is None:
        return None
    power, noise = found.power, found.noise
    # The body's roll moves the feet, too, twice a cycle: a faster rhythm that is there counts.
    strongest = max(float(power[n]) for n in BEATS)
    least = max(
        _STANDS_SHARE * max(float(power[1:].sum()), 1e-12), _BESIDE * strongest,
        _STANDS_OVER_NOISE * noise,
    )  # fmt: skip
    clear = [n for n in BEATS if power[n] >= least and found.alike[n] >= LEAST_ALIKE]
    if not clear:
        return None
    best = max(clear)
    maybe = max(_MAYBE * strongest, _MAYBE_OVER_NOISE * noise)
    return None if any(power[n] >= maybe for n in BEATS if n > best) else best


def flutter(
    times_s: Series, ankles: Series, numbers: Series, openings: Series, beats: int
) -> tuple[list[float], float] | None:
    """Instants of the kicks of freestyle and backstroke, and how clear their rhythm is, 0 to 1.

    ankles: see `standing_out`. beats: kicks a cycle. None where their rhythm is not there.
    """
    found = _rhythms(times_s, ankles, numbers, openings)
    if found is None:
        return None
    if found.power[beats] < _OVER_NOISE * found.noise or found.alike[beats] < LEAST_ALIKE:
        return None
    # The wave is highest where its angle is a whole turn: there the feet are farthest apart.
    first = float(-np.angle(found.waves[beats]) / (2 * np.pi * beats))
    shares = [first + n / beats for n in range(beats)]
    return instants(shares, numbers, openings, times_s), float(found.alike[beats])


def dolphin(
    times_s: Series, ankles: Series, numbers: Series, openings: Series
) -> tuple[list[float], float] | None:
    """Instants of the two kicks of a cycle of butterfly: both feet at their lowest."""
    known = np.isfinite(ankles)
    total = np.where(known, ankles, 0.0).sum(axis=1)
    both = np.where(known.any(axis=1), total / np.maximum(known.sum(axis=1), 1), np.nan)
    mean = smooth_cycle(times_s, both, numbers, openings)
    if mean is None:
        return None
    around = np.concatenate([mean[-2:], mean, mean[:2]])
    smooth = np.convolve(around, np.array([1, 2, 3, 2, 1]) / 9, "valid")
    before, after = np.roll(smooth, 1), np.roll(smooth, -1)
    lows = np.flatnonzero((smooth <= before) & (smooth < after))
    found: list[int] = []
    for n in sorted(lows, key=lambda n: float(smooth[n])):
        if all(abs((n - k + PARTS / 2) % PARTS - PARTS / 2) >= 0.2 * PARTS for k in found):
            found.append(int(n))
    if len(found) < 2:
        return None
    power = np.abs(np.fft.rfft(smooth - smooth.mean())) ** 2
    share = float(power[1:4].sum() / max(1e-12, power[1:].sum()))
    shares = sorted(n / PARTS for n in found[:2])
    return instants(shares, numbers, openings, times_s), share


def instants(
    shares: Sequence[float], numbers: Series, openings: Series, times_s: Series
) -> list[float]:
    """Seconds of these shares of every cycle that is shown."""
    wanted = sorted(n + s % 1 for n in numbers for s in shares)
    at = [float(np.interp(w, numbers, openings)) for w in wanted if w <= numbers[-1]]
    return [t for t in at if times_s[0] <= t <= times_s[-1]]
