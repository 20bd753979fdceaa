"""A swim length by length: seconds and strokes of each, as read from a watch or from the film."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.errors import LengthsError
from norvik.core.statistics import mean, sd

#: Own choice: a sum that is further than this from the given total is pointed out.
TOTAL_OFF_S = 1.0
#: Common practice: counts of a 25 m length within so many of each other are steady.
STEADY_STROKES = 2
#: Common practice: freestyle strokes a 25 m length that suggest a fair hold on the water in an
#: adult triathlete. For other pools, strokes and children there is no such range.
FAIR_HOLD, FAIR_HOLD_POOL_M = (20, 22), 25.0
#: Nobody needs longer, or takes more strokes, for one length.
_MOST_SECONDS, _MOST_STROKES = 900.0, 200


@dataclass(frozen=True, slots=True)
class Length:
    """One length. strokes: single arm strokes (cycles in butterfly and breaststroke).

    under_s: seconds under water after the wall. effort: a word of the coach's. kicks: beats of the
    legs off the wall. breaths: in the whole length.
    """

    seconds: float
    strokes: int | None = None
    effort: str = ""
    under_s: float | None = None
    kicks: int | None = None
    breaths: int | None = None


@dataclass(frozen=True, slots=True)
class LengthFigures:
    """What one length says. Rates in strokes/min; None where the count is not known.

    pace_s: seconds a 100 m. golf: swim golf score, strokes plus seconds. rate_raw: over the whole
    length. rate: with the time under water taken off, when that is known.
    """

    length: Length
    pace_s: float
    golf: float | None
    rate_raw: float | None
    rate: float | None


@dataclass(frozen=True, slots=True)
class LengthLog:
    """A swim. off_s: sum minus the given total, None without one. Spreads: largest minus smallest.

    steady: all counts within STEADY_STROKES, for 25 m lengths; None otherwise.
    """

    pool_m: float
    lengths: tuple[LengthFigures, ...]
    total_s: float
    pace_s: float
    mean_golf: float | None
    strokes_spread: int | None
    seconds_spread: float
    seconds_sd: float | None
    steady: bool | None
    off_s: float | None

    @property
    def distance_m(self) -> float:
        return self.pool_m * len(self.lengths)

    @property
    def total_is_off(self) -> bool:
        return self.off_s is not None and abs(self.off_s) > TOTAL_OFF_S


def length_log(
    lengths: Sequence[Length], pool_m: float, given_total_s: float | None = None
) -> LengthLog:
    """Work out a swim. pool_m: metres of one length, above 0.

    Raises LengthsError with the number of the first length that cannot be.
    Worked: 20 strokes in 21 s: 57.1 strokes/min; with 4 s under water 70.6.
    """
    if not lengths:
        raise LengthsError("There is no length in this swim.")
    if not (math.isfinite(pool_m) and pool_m > 0):
        raise LengthsError("The pool needs its length in metres.")
    for n, length in enumerate(lengths, 1):
        _check(n, length)
    seconds = [x.seconds for x in lengths]
    counts = [x.strokes for x in lengths if x.strokes is not None]
    figures = tuple(_figures(x, pool_m) for x in lengths)
    total = math.fsum(seconds)
    spread = max(counts) - min(counts) if counts else None
    whole = len(counts) == len(lengths) > 1
    return LengthLog(
        pool_m=pool_m,
        lengths=figures,
        total_s=total,
        pace_s=100 * total / (pool_m * len(lengths)),
        mean_golf=mean([f.golf for f in figures if f.golf is not None]),
        strokes_spread=spread,
        seconds_spread=max(seconds) - min(seconds),
        seconds_sd=sd(seconds),
        steady=spread <= STEADY_STROKES if whole and spread is not None and pool_m == 25 else None,
        off_s=None if given_total_s is None else total - given_total_s,
    )


def _figures(length: Length, pool_m: float) -> LengthFigures:
    strokes, seconds, under = length.strokes, length.seconds, length.under_s
    return LengthFigures(
        length,
        pace_s=100 * seconds / pool_m,
        golf=None if strokes is None else strokes + seconds,
        rate_raw=None if strokes is None else 60 * strokes / seconds,
        rate=None if strokes is None or under is None else 60 * strokes / (seconds - under),
    )


def _check(n: int, length: Length) -> None:
    if not (math.isfinite(length.seconds) and 0 < length.seconds <= _MOST_SECONDS):
        raise LengthsError(f"Length {n}: the seconds must lie between 0 and {_MOST_SECONDS:.0f}.")
    if length.strokes is not None and not 0 <= length.strokes <= _MOST_STROKES:
        raise LengthsError(f"Length {n}: the strokes must lie between 0 and {_MOST_STROKES}.")
    for name, count in (("kicks", length.kicks), ("breaths", length.breaths)):
        if count is not None and not 0 <= count <= _MOST_STROKES:
            raise LengthsError(f"Length {n}: the {name} must lie between 0 and {_MOST_STROKES}.")
    under = length.under_s
    if under is not None and not (math.isfinite(under) and 0 <= under < length.seconds):
        raise LengthsError(f"Length {n}: the time under water must be shorter than the length.")
