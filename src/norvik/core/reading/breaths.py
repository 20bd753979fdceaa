"""Breaths to the front, from how high the head is: breaststroke and butterfly.

A breath to the side cannot be told this way: from the side and under water the head that turns
looks like one that does not. There the answer is that it cannot be told.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.folded import shares_of

Series = NDArray[np.float64]

#: Own choices, in trunk lengths: by so much the head is higher in cycles with a breath than in
#: those without; and where all cycles are alike, from this height on.
_APART, _LIFT = 0.14, 0.2
#: A head as high as this is up, whatever the other cycles show.
_UP = 0.24


def front_breaths(
    times_s: Series, head: Series, numbers: Series, openings: Series,
    events: Mapping[str, float], always: bool,
) -> list[tuple[str, float, float]]:  # fmt: skip
    """(event, seconds, how clear it is from 0 to 1) of the breaths, in time order.

    head: height of the nose in trunk lengths, shape (frames,), nan where not seen.
    events: place in a cycle of turn, air and down. always: a breath belongs to every cycle
    (breaststroke); else only where the head comes up more than in the cycles without one.
    """
    share = shares_of(times_s, numbers, openings)
    known = np.isfinite(head)
    lifted: dict[int, float] = {}
    for number in numbers[:-1]:
        up = known & (share >= number + events["air"]) & (share <= number + events["down"])
        if up.sum() >= 2:
            lifted[int(number)] = float(np.median(head[up]))
    if not lifted:
        return []
    breathed = set(lifted) if always else _breathed(lifted)
    found = []
    for number in numbers[:-1]:
        lift = lifted.get(int(number))
        if int(number) not in breathed and not (always and lift is None):
            continue
        clear = 0.5 if lift is None else float(np.clip(0.3 + 1.5 * lift, 0.2, 0.9))
        for event, at in events.items():
            wanted = number + at
            if numbers[0] <= wanted <= numbers[-1]:
                time_s = float(np.interp(wanted, numbers, openings))
                if times_s[0] <= time_s <= times_s[-1]:
                    found.append((event, time_s, clear))
    return sorted(found, key=lambda f: f[1])


def _breathed(lifted: dict[int, float]) -> set[int]:
    """Cycles in which the head came up: the higher of two groups, where there are two.

    The groups are parted where both are most alike within (Otsu 1979, from memory).
    """
    ordered = np.array(sorted(lifted.values()))
    within = [
        np.var(ordered[:n]) * n + np.var(ordered[n:]) * (len(ordered) - n)
        for n in range(1, len(ordered))
    ]
    if within:
        n = int(np.argmin(within)) + 1
        low, high = float(ordered[:n].mean()), float(ordered[n:].mean())
        if low < _UP and high - low >= _APART:
            return {number for number, lift in lifted.items() if lift >= ordered[n]}
    return set(lifted) if float(np.median(ordered)) > _LIFT else set()
