"""What gradients are made of: the intervals between marks, and where a mark counts twice."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from norvik.core.time.cycles import marking_noise
from norvik.core.time.own_spread import of_rhythm
from norvik.core.time.plus_minus import Own
from norvik.core.time.resolve import OrderedMark, ResolvedMarks, Slot
from norvik.core.time.timing import Timing

#: One number a mark: how the quantity moves with the mark's instant, in its unit a second.
Gradient = NDArray[np.float64]
#: (from, to): an interval between two marks.
Interval = tuple[OrderedMark, OrderedMark]


@dataclass(frozen=True, slots=True)
class Term:
    """What a quantity rests on. own: of the swimmer's cycles, None where one value stands alone.

    bias: how far marking alone is thought to push it, in its unit.
    """

    gradient: Gradient
    own: Own | None = None
    bias: float = 0.0


class Gradients:
    """Gradients of one clip."""

    def __init__(self, timing: Timing) -> None:
        self.timing = timing
        self.resolved: ResolvedMarks = timing.resolved
        self.n = self.resolved.count
        self.cycle_s = self.resolved.mean_cycle_s
        self.cycle = self.mean([ends_of(c) for c in self.resolved.cycles])

    @cached_property
    def own_cycle(self) -> Own | None:
        """Of the mean cycle time."""
        u_mark_s = self.timing.marking.spread_s(self.resolved.stroke.opens)
        if u_mark_s is None or self.cycle is None or len(self.resolved.cycles) < 2:
            return None
        by_arm: dict[str, list[float]] = {}
        for c in self.resolved.cycles:
            by_arm.setdefault(c.side, []).append(c.seconds)
        noise = marking_noise(self.resolved, u_mark_s).variance
        return of_rhythm(by_arm, noise, u_mark_s * math.sqrt(float(self.cycle @ self.cycle)))

    @property
    def cycles_of_rhythm(self) -> int:
        """Cycles of the arm that has most of them."""
        return max(Counter(c.side for c in self.resolved.cycles).values(), default=0)

    def at(self, orders: NDArray[np.intp], weights: NDArray[np.float64]) -> Gradient:
        """A gradient with these weights at these marks, added where they meet."""
        return np.bincount(orders.ravel(), weights.ravel(), self.n).astype(np.float64)

    def sum(self, intervals: Sequence[Interval]) -> Gradient:
        ends = np.fromiter((b.order for _, b in intervals), np.intp, len(intervals))
        starts = np.fromiter((a.order for a, _ in intervals), np.intp, len(intervals))
        return (np.bincount(ends, minlength=self.n) - np.bincount(starts, minlength=self.n)).astype(
            np.float64
        )

    def mean(self, intervals: Iterable[Interval]) -> Gradient | None:
        """Of the mean length of intervals; None without any."""
        given = list(intervals)
        return self.sum(given) / len(given) if given else None

    def of_cycle_pct(self, gradient: Gradient, pct: float) -> Gradient | None:
        """Of a mean in percent of the mean cycle, from that of the mean in seconds."""
        if self.cycle is None or not self.cycle_s:
            return None
        return 100 * gradient / self.cycle_s - pct / self.cycle_s * self.cycle


def ends_of(slot: Slot) -> Interval:
    assert slot.start is not None
    assert slot.end is not None
    return slot.start, slot.end


def seconds_of(interval: Interval) -> float:
    return interval[1].time_s - interval[0].time_s


def mean_s(intervals: Sequence[Interval]) -> float:
    return math.fsum(map(seconds_of, intervals)) / len(intervals)
