"""Events of a limb: its mean cycle in this film, laid against the template.

A single frame tells an event badly; all cycles of a film together tell it well. So the places of a
limb are gathered by the clock of its cycles, the middle of what was seen at each share of a cycle
is taken, and that mean cycle is bent along the template until both fit. An event lies where the
template says, bent back.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.folded import folded, shares_of
from norvik.core.reading.phase import Template, likeliest, misfit

Series = NDArray[np.float64]

#: Into so many parts a mean cycle is cut.
_PARTS = 60
#: Half as wide as this is the stretch of a cycle from which each part takes its middle.
_REACH = 0.03
#: How freely the mean cycle bends: what an unlikely speed costs, and how much it varies.
_CLOCK, _HURRY = 1.0, 0.5


@dataclass(frozen=True, slots=True)
class Found:
    """An event at `time_s` (seconds as those of the frames)."""

    event: str
    time_s: float


@dataclass(frozen=True, slots=True)
class MeanCycle:
    """Places of a limb by the share of a cycle, shape (parts, 4); nan where it was never seen.

    bent: share of a cycle to place in the template, both in cycles, growing. misfit: how badly it
    fits, 0 well.
    """

    places: Series
    bent: Series
    misfit: float

    def share_of(self, at: float) -> float:
        """The share of a cycle, from its clock, at which the template is at `at` (cycles)."""
        turns = np.arange(-2, 3)
        shares = (np.arange(len(self.bent)) / len(self.bent) + turns[:, None]).ravel()
        return float(np.interp(at, (self.bent + turns[:, None]).ravel(), shares))


def clock_of(times_s: Series, phase: Series) -> tuple[Series, Series]:
    """Number and instant of every opening of a cycle, from one before the film to one after it.

    The clock is steady, each cycle still a little of its own: where a way says it in one frame,
    chance is in it.
    """
    opened = crossings(times_s, phase)
    if len(opened) < 2:
        return np.zeros(0), np.zeros(0)
    numbers = np.array(sorted(opened), float)
    at = _steady(numbers, np.array([opened[int(n)] for n in numbers]))
    first, last = at[1] - at[0], at[-1] - at[-2]
    return (
        np.concatenate([[numbers[0] - 1], numbers, [numbers[-1] + 1]]),
        np.concatenate([[at[0] - first], at, [at[-1] + last]]),
    )


def crossings(times_s: Series, phase: Series) -> dict[int, float]:
    """Cycle number to its opening, taken from all frames of the half cycles beside it."""
    found = {}
    for cycle in range(int(np.ceil(phase[0])), int(np.floor(phase[-1])) + 1):
        near = np.abs(phase - cycle) <= 0.5
        if near.sum() < 3:
            continue
        # Where a straight line through these frames passes: one frame alone is uncertain.
        slope = (times_s[near][-1] - times_s[near][0]) / max(1e-9, phase[near][-1] - phase[near][0])
        found[cycle] = float(np.median(times_s[near] - slope * (phase[near] - cycle)))
    return found


def mean_cycle(
    times_s: Series, limb: Series, numbers: Series, openings: Series, usual: Series,
    template: Template,
) -> MeanCycle:  # fmt: skip
    """limb: shape (frames, 4). numbers, openings: the clock of its cycles. usual: near or far."""
    parts = folded(shares_of(times_s, numbers, openings), limb, _PARTS, _REACH)
    emitted = misfit(parts, usual, template.spread)
    # Three rounds, of which the middle one joins its own beginning.
    way = likeliest(np.concatenate([emitted] * 3)[None], template.steps / _PARTS, _CLOCK, _HURRY)[0]
    middle = way[0][_PARTS : 2 * _PARTS] / template.steps
    middle = middle - np.round(np.median(middle - np.arange(_PARTS) / _PARTS))
    worse = float(np.mean(emitted[np.arange(_PARTS), way[0][_PARTS : 2 * _PARTS] % template.steps]))
    return MeanCycle(parts, middle + np.arange(_PARTS) * 1e-9, worse)


def events_of(
    mean: MeanCycle, numbers: Series, openings: Series, events: Mapping[str, float],
    from_s: float, to_s: float,
) -> list[Found]:  # fmt: skip
    """The events of every cycle that lie between two instants, in time order."""
    found = []
    for event, at in events.items():
        share = mean.share_of(at)
        for number in numbers:
            wanted = number + share
            if numbers[0] <= wanted <= numbers[-1]:
                time_s = float(np.interp(wanted, numbers, openings))
                if from_s <= time_s <= to_s:
                    found.append(Found(event, time_s))
    return sorted(found, key=lambda f: f.time_s)


def _steady(numbers: Series, at: Series) -> Series:
    slope = _slope(numbers, at)
    start = np.median(at - slope * numbers)
    off = at - start - slope * numbers
    kept = np.convolve(np.concatenate([off[:1], off, off[-1:]]), [0.25, 0.5, 0.25], "valid")
    return np.asarray(start + slope * numbers + kept)


def _slope(numbers: Series, at: Series) -> float:
    """Seconds a cycle: the median over all pairs (Theil and Sen), which a wrong one cannot pull."""
    one, other = np.triu_indices(len(numbers), 1)
    return float(np.median((at[other] - at[one]) / (numbers[other] - numbers[one])))
