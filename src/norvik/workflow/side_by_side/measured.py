"""Measures of both films at the same instant, with the difference and whether it is real."""

from __future__ import annotations

import math
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from norvik.core.frame.measures import Measure
from norvik.workflow.clip_drawings import FAR_S, Measurement, drawings_of
from norvik.workflow.side_by_side.pairing import Pairing

#: 95 of 100 of a normal distribution lie within so many standard deviations.
_TWO_SIDED_95 = 1.96


@dataclass(frozen=True, slots=True)
class MeasuredPair:
    """frames: of both films. difference: the other one's value minus the first one's.

    plus_minus: of the difference, by how well its points were clicked: 95 of 100. real: is it more
    than that? It speaks of these two instants, not of the swimmers.
    """

    measure: Measure
    sides: tuple[str, str]
    frames: tuple[int, int]
    values: tuple[float, float]
    plus_minus: float

    @property
    def difference(self) -> float:
        return self.values[1] - self.values[0]

    @property
    def real(self) -> bool:
        return abs(self.difference) > self.plus_minus


def measured_pairs(connection: sqlite3.Connection, pairing: Pairing) -> list[MeasuredPair]:
    """Every measure that was taken on both films at instants that belong together.

    Left against right, where the films go by different arms.
    """
    one, other = pairing.one, pairing.other
    if one.timed is None or other.timed is None:
        return []
    rows = drawings_of(connection, one.timed).rows
    theirs = {r.measure.id: r for r in drawings_of(connection, other.timed).rows}
    swap = pairing.wish.side != pairing.wish.other_side
    turned = {"left": "right", "right": "left"} if swap else {}
    found = []
    for row in rows:
        there = theirs.get(row.measure.id)
        for taken in row.taken if there else ():
            assert there is not None
            side = turned.get(taken.stored.side, taken.stored.side)
            match = _nearest(pairing, taken, (t for t in there.taken if t.stored.side == side))
            if match is None or taken.value is None or match.value is None:
                continue
            if match.stored.id == taken.stored.id:
                continue
            found.append(
                MeasuredPair(
                    row.measure, (taken.stored.side, side),
                    (taken.stored.frame, match.stored.frame),
                    (taken.value.value, match.value.value),
                    _TWO_SIDED_95 * math.hypot(taken.value.u, match.value.u),
                )
            )  # fmt: skip
    return sorted(found, key=lambda p: p.frames)


def _nearest(
    pairing: Pairing, taken: Measurement, others: Iterable[Measurement]
) -> Measurement | None:
    """The taking of the other film whose instant belongs to this one's, FAR_S away at most."""
    there_s = pairing.step.other(pairing.one.time_of(taken.stored.frame))

    def away(other: Measurement) -> float:
        return abs(pairing.other.time_of(other.stored.frame) - there_s)

    near = min(others, key=away, default=None)
    return near if near is not None and away(near) <= FAR_S else None
