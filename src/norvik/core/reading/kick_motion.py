"""Kicks from how much each part of the picture changes where the legs are.

A network sees feet in foam badly; but that something moves there is seen in every picture, and feet
move most. What changes n times in a cycle of the arms is a wave against their clock. Waves that go
into a cycle n and a half times come from no stroke: they say how much is chance.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.folded import shares_of
from norvik.core.reading.kick_count import BEATS, SURE, KickCount
from norvik.core.reading.kicks import instants

Series = NDArray[np.float64]

#: Rhythms that tell the count, and all that are set against them, times in a cycle.
_TELL, _WHOLE = (1, 2, 3, 4, 6, 8), range(1, 10)
_CHANCE = (1.5, 2.5, 3.5, 4.5, 5.5, 6.5, 7.5)
#: Under this share a rhythm is as good as none.
_FLOOR = 0.003
#: Least share of the frames in which the legs have to be seen, and fewest cycles.
_LEAST_SEEN, _LEAST_CYCLES = 0.3, 3
#: A rhythm is there that stands so many times over chance and is as alike as this in odd and even
#: cycles, -1 to 1. Of 88 films of the model swimmer all stand four times over it; held against the
#: clock of another swimmer, one in eight does.
_OVER_CHANCE, _ALIKE = 4.0, 0.5


@dataclass(frozen=True, slots=True)
class LegRhythms:
    """How much of each rhythm is in what changes where the legs are.

    power: of each of 1 to 9 times in a cycle, all parts together, shape (9,). waves: the same of
    what all parts have in common, complex. alike: of odd and even cycles, -1 to 1. chance: power
    that no stroke makes.
    """

    power: Series
    waves: NDArray[np.complex128]
    alike: Series
    chance: float

    @property
    def shares(self) -> Series:
        """What tells the count: shares of some rhythms in all, as logarithms."""
        total = max(float(self.power.sum()), 1e-12)
        return np.log10(np.array([self.power[n - 1] for n in _TELL]) / total + _FLOOR)

    def most_at(self, beats: int) -> float:
        """Where in the cycle, 0 to 1, the legs change most for the first time, so many times."""
        return float(-np.angle(self.waves[beats - 1]) / (2 * np.pi * beats)) % (1 / beats)


@dataclass(frozen=True, slots=True)
class KickMotion:
    """What was learnt of a stroke in a view.

    count: how many kicks, of `LegRhythms.shares`. later, off: by count, when a kick comes after the
    legs changed most, and the SD of that, as shares of the time from one kick to the next.
    """

    count: KickCount
    later: Mapping[int, float]
    off: Mapping[int, float]


@dataclass(frozen=True, slots=True)
class ToldKicks:
    """beats: kicks in a cycle. sure: how likely, 0 to 1. at: their seconds. off_s: SD of each."""

    beats: int
    sure: float
    at: tuple[float, ...]
    off_s: float


def leg_rhythms(
    times_s: Series, changed: Series, numbers: Series, openings: Series
) -> LegRhythms | None:
    """changed: how much each part of the picture changed, shape (frames, parts), nan where the
    swimmer was not found. numbers, openings: the clock of the arms, see `clock_of`. None where the
    legs are seen too little.
    """
    shares = shares_of(times_s, numbers, openings)
    seen = np.isfinite(shares) & np.isfinite(changed).all(axis=1)
    if len(numbers) <= _LEAST_CYCLES or seen.mean() < _LEAST_SEEN:
        return None
    at = shares[seen]
    values = changed[seen] - changed[seen].mean(axis=0)
    odd = np.floor(at) % 2 == 1
    if not odd.any() or odd.all():
        return None

    def waves(of: Series, turns: NDArray[np.complex128]) -> NDArray[np.complex128]:
        return np.asarray(turns @ of / len(of))

    def turned(rhythms: Series, shares: Series) -> NDArray[np.complex128]:
        return np.asarray(np.exp(-2j * np.pi * np.outer(rhythms, shares)))

    whole = np.array(_WHOLE, float)
    found = waves(values, turned(whole, at))
    chance = np.sum(np.abs(waves(values, turned(np.array(_CHANCE), at))) ** 2, axis=1)
    one = waves(values[odd], turned(whole, at[odd]))
    other = waves(values[~odd], turned(whole, at[~odd]))
    both = np.sqrt(np.sum(np.abs(one) ** 2, axis=1) * np.sum(np.abs(other) ** 2, axis=1))
    alike = np.real(np.sum(one * np.conj(other), axis=1)) / np.maximum(both, 1e-12)
    return LegRhythms(
        np.sum(np.abs(found) ** 2, axis=1), found.sum(axis=1), alike, float(np.median(chance))
    )


def told_kicks(
    rhythms: LegRhythms, learnt: KickMotion, times_s: Series, numbers: Series, openings: Series
) -> ToldKicks | str:
    """The kicks of freestyle and backstroke, or the reason why they cannot be told."""
    least = _OVER_CHANCE * rhythms.chance
    there = [n for n in BEATS if rhythms.power[n - 1] >= least and rhythms.alike[n - 1] >= _ALIKE]
    if not there:
        return "the feet show no steady kick"
    likely = learnt.count.likely(rhythms.shares)
    beats = max(likely, key=lambda n: likely[n])
    if likely[beats] < SURE or beats not in there:
        return "the number of kicks per cycle can't be seen"
    first = rhythms.most_at(beats) + learnt.later[beats] / beats
    shares = [first + n / beats for n in range(beats)]
    at = tuple(instants(shares, numbers, openings, times_s))
    cycle_s = float(np.median(np.diff(openings)))
    return ToldKicks(beats, likely[beats], at, learnt.off[beats] * cycle_s / beats)
