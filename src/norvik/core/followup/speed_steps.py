"""Speed steps: one swimmer at several paces, every quantity against speed.

Speed is rate times distance per cycle (Craig and Pendergast 1979, Med Sci Sports 11:278-283), so
what a swimmer gains in speed comes from one of the two, and the other may pay for it.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from norvik.core.distributions import holm, t_two_sided
from norvik.core.judging.margin import filled_up, usual_of
from norvik.core.judging.on_frame import OnFrame
from norvik.core.statistics import mean
from norvik.core.strokes.names import Side
from norvik.core.time.plus_minus import MANY_DOF, Certainty, Own, joint
from norvik.core.time.quantities import QUANTITIES, Quantity, Reading
from norvik.core.time.quantities.rate import rate_unit as unit_of_rate
from norvik.core.time.timing import Timing

#: Own choice: how much the speeds of two stretches at one pace usually differ, of the speed; of one
#: stretch alone nobody knows.
STRETCHES_DIFFER = 0.02
#: Own choice: how much the cycle times of a swimmer usually differ, of the cycle time. Two or three
#: cycles do not tell it.
CYCLES_DIFFER = 0.03
#: Own choice: of 100 tables of a swimmer who swims alike at every speed so many may show a trend.
FALSE_TABLES = 0.025


@dataclass(frozen=True, slots=True)
class Value:
    """A value at one speed.

    u: standard uncertainty of the clip, in the value's unit: 0 for a count, None where it is not
    known. between: how well the clip tells the swimmer against another clip; None for one value.
    """

    value: float
    u: float | None
    between: Own | None = None


@dataclass(frozen=True, slots=True)
class Step:
    """One pace. speed: m/s; how it is known, see `SOURCES`. per_cycle_m: metres a cycle.

    index: stroke index in m2/s.
    """

    key: int
    timing: Timing
    speed: Value
    how: str
    rate: Value
    per_cycle_m: Value
    index: Value


#: How a speed is known: between passes; from the pace with the time and the way at the wall taken
#: off; from the pace as it is, push-offs and turns included.
SOURCES = ("passes", "pace without walls", "pace with walls")


@dataclass(frozen=True, slots=True)
class Change:
    """From one step to the next faster-stroked one, each as a ratio minus 1.

    slips: the rate rises, and the distance per cycle falls by more, so that speed is lost.
    """

    slower: Step
    faster: Step
    rate: float
    per_cycle: float
    speed: float
    slips: bool


@dataclass(frozen=True, slots=True)
class Row:
    """One quantity over the steps, None where it is not known.

    trend: rises, falls, holds, or "" where one value alone does not tell. p: how likely such a
    difference between the slowest and the fastest is where nothing changes.
    """

    name: str
    unit: str
    digits: int
    values: tuple[Value | None, ...]
    trend: str = ""
    p: float | None = None


def step_of(key: int, timing: Timing, pace_s: float | None) -> Step | None:
    """A step from a clip's timing; None without a rate, or without any speed.

    pace_s: seconds a 100 m, as the swimmer was asked to swim. A measured speed goes before it. A
    pace over whole lengths holds push-offs and turns, in which nobody strokes: where the film shows
    how long and how far the swimmer is under water, they are taken off.
    """
    cycle_s, per_min = timing.resolved.mean_cycle_s, timing.rate.cycles_per_min
    if not cycle_s or per_min is None:
        return None
    u = timing.uncertainty.get
    cycle = _cycle(timing, cycle_s)
    rate = Value(
        per_min, u("rate.cycles_per_min"), cycle.times(per_min / cycle_s) if cycle else None
    )
    speed = timing.speed
    if (
        speed.m_per_s is not None
        and speed.distance_per_cycle_m is not None
        and speed.stroke_index is not None
    ):
        return Step(
            key, timing, Value(speed.m_per_s, u("speed.m_per_s")), "passes", rate,
            _with_speed(timing, "speed.distance_per_cycle_m", speed.distance_per_cycle_m, cycle, 1),
            _with_speed(timing, "speed.stroke_index", speed.stroke_index, cycle, 2),
        )  # fmt: skip
    if not pace_s or pace_s <= 0:
        return None
    swum = speed_without_walls(timing, pace_s)
    v = 100 / pace_s if swum is None else swum
    how = "pace with walls" if swum is None else "pace without walls"
    cycle_u = u("cycles.time_s.mean")

    def of_cycle(factor: float) -> Value:
        """The mean cycle times what the pace makes of it."""
        at_u = None if cycle_u is None else factor * cycle_u
        return Value(factor * cycle_s, at_u, cycle.times(factor) if cycle else None)

    return Step(key, timing, Value(v, None), how, rate, of_cycle(v), of_cycle(v * v))


def _between(certainty: Certainty | None, usual: float | None = None, n: int = 0) -> Own | None:
    """How well a clip tells the mean of n values; None for one. usual: what fills up a few."""
    if certainty is None or certainty.own is None:
        return None
    if usual is not None:
        certainty = replace(certainty, own=filled_up(certainty.own, usual, n))
    return certainty.between_clips


def _cycle(timing: Timing, mean_s: float) -> Own | None:
    """Of the mean cycle time, seconds; None for one cycle."""
    return _between(timing.certainty.get("cycles.time_s.mean"), CYCLES_DIFFER * mean_s)


def _with_speed(timing: Timing, path: str, value: float, cycle: Own | None, power: int) -> Value:
    """A value that goes with a power of the speed. One stretch counts by what is usual."""
    u, between = timing.uncertainty.get(path), _between(timing.certainty.get(path))
    if between is None and cycle is not None and u is not None:
        mean_s = timing.resolved.mean_cycle_s or math.inf
        usual = Own(math.hypot(u, power * STRETCHES_DIFFER * value), MANY_DOF)
        between = joint([usual, cycle.times(value / mean_s)])
    return Value(value, u, between)


def speed_without_walls(timing: Timing, pace_s: float) -> float | None:
    """Speed in m/s while stroking, from a pace in seconds a 100 m over whole lengths.

    (pool - breakout) / (time of a length - turn - under water), each the mean of the marked walls;
    a turn that is not marked counts as no time. None without the pool's length, or without a push
    whose breakout has its time and its place.
    Worked: 25 m at 1:20 a 100 m are 20 s a length; 0.8 s of turn, 2.2 s under water to 5 m leave
    20 m in 17 s: 1.18 m/s, where the pace alone says 1.25.
    """
    pool_m = timing.pool_m
    under = [w for w in timing.walls if w.under_water_s is not None and w.breakout_m is not None]
    if not pool_m or not under:
        return None
    out_m = mean([w.breakout_m for w in under if w.breakout_m is not None]) or 0.0
    under_s = mean([w.under_water_s for w in under if w.under_water_s is not None]) or 0.0
    turn_s = mean([w.turn_s for w in timing.walls if w.turn_s is not None]) or 0.0
    metres, seconds = pool_m - out_m, pace_s * pool_m / 100 - turn_s - under_s
    return metres / seconds if metres > 0 and seconds > 0 else None


@dataclass(frozen=True, slots=True)
class FrameRow:
    """One measure on the frame over the steps. at_s: instants (real seconds) of its takings."""

    row: Row
    side: Side
    at_s: tuple[tuple[float, ...], ...]


def frame_rows(taken: Sequence[Sequence[OnFrame]]) -> list[FrameRow]:
    """Measures that at least two of the steps have, each side by itself. taken: slowest step first.

    Steps are compared only in one unit: a height in metres and one in pixels are two things.
    """
    found = []
    kinds = {(m.what, m.side, m.unit): m for step in taken for m in step if m.unit}
    for (what, side, unit), kind in kinds.items():
        mine = [
            next((m for m in step if (m.what, m.side, m.unit) == (what, side, unit)), None)
            for step in taken
        ]
        values = [_mean_of(m) for m in mine]
        if sum(v is not None for v in values) < 2:
            continue
        row = _row(kind.name, unit, kind.digits, values)
        at_s = tuple(tuple(o.time_s for o in m.found) if m else () for m in mine)
        found.append(FrameRow(row, side, at_s))
    told = _with_trends([f.row for f in found])
    return [replace(f, row=row) for f, row in zip(found, told, strict=True)]


def _mean_of(taken: OnFrame | None) -> Value | None:
    if taken is None or not taken.found:
        return None
    return _value_of(taken.what, taken.unit, taken.reading)


def _value_of(what: str, unit: str, reading: Reading) -> Value:
    """Two or three values count together with what is usual for such a quantity."""
    between = _between(reading.certainty, usual_of(what, unit), len(reading.occurrences))
    return Value(reading.value, reading.u, between)


def in_order(steps: Iterable[Step]) -> list[Step]:
    """Slowest first; of equal speeds the lower rate first."""
    return sorted(steps, key=lambda s: (s.speed.value, s.rate.value))


def changes(steps: Sequence[Step]) -> list[Change]:
    """From each rate to the next higher one. Steps of one rate give none."""
    found = []
    for a, b in pairwise(sorted(steps, key=lambda s: s.rate.value)):
        rate = b.rate.value / a.rate.value - 1
        if rate <= 0:
            continue
        per_cycle = b.per_cycle_m.value / a.per_cycle_m.value - 1
        speed = b.speed.value / a.speed.value - 1
        lost = a.speed.value - b.speed.value
        found.append(
            Change(a, b, rate, per_cycle, speed, slips=lost > 2 * _joint(a.speed, b.speed))
        )
    return found


def rows(steps: Sequence[Step]) -> list[Row]:
    """Every quantity that at least two of the steps know. steps: slowest first."""
    found = [
        _row("Stroke rate", rate_unit(steps), 1, [strokes_a_minute(s) for s in steps]),
        _row("Distance per cycle", "m", 2, [s.per_cycle_m for s in steps]),
        _row("Stroke index", "m²/s", 2, [s.index for s in steps]),
    ]
    for q in QUANTITIES.values():
        if not q.with_speed:
            continue
        values = [_of(q, s.timing) for s in steps]
        if sum(v is not None for v in values) > 1:
            found.append(_row(q.name, q.unit, q.digits, values))
    return _with_trends(found)


def rate_unit(steps: Sequence[Step]) -> str:
    """The unit of the rate, which is one for all steps of a stroke."""
    return unit_of_rate(steps[0].timing) if steps else ""


def strokes_a_minute(step: Step) -> Value:
    """The rate in the unit of `rate_unit`."""
    each = step.timing.resolved.stroke.strokes_per_cycle
    u, between = step.rate.u, step.rate.between
    return Value(
        each * step.rate.value, None if u is None else each * u,
        between.times(each) if between else None,
    )  # fmt: skip


def _of(quantity: Quantity, timing: Timing) -> Value | None:
    reading = quantity.read(timing) if timing.stroke in quantity.strokes else None
    return None if reading is None else _value_of(quantity.id, quantity.unit, reading)


def _row(name: str, unit: str, digits: int, values: Sequence[Value | None]) -> Row:
    known = [v for v in values if v is not None]
    return Row(name, unit, digits, tuple(values), p=_p(known[0], known[-1], digits))


def _p(slowest: Value, fastest: Value, digits: int) -> float | None:
    """None where one value alone, or a speed that nobody measured, does not tell."""
    if slowest.between is None or fastest.between is None:
        counted_alike = slowest.u == fastest.u == 0 and slowest.value == fastest.value
        return 1.0 if counted_alike else None
    both = joint([slowest.between, fastest.between])
    difference = abs(fastest.value - slowest.value)
    # What is not seen in the digits that a value is written with is no trend.
    if both is None or difference < 10.0**-digits:
        return 1.0
    return t_two_sided(difference / both.u, both.dof) if both.u else 0.0


def _with_trends(table: Sequence[Row]) -> list[Row]:
    """From the slowest to the fastest: what differs by more than chance rises or falls.

    A table has many rows, of which by chance a few differ: Holm's procedure (Holm 1979).
    """
    known = [n for n, row in enumerate(table) if row.p is not None]
    chances = [row.p for row in table if row.p is not None]
    levels = dict(zip(known, holm(chances, [1.0] * len(known), FALSE_TABLES), strict=True))
    return [
        row if row.p is None else replace(row, trend=_way(row) if row.p <= levels[n] else "holds")
        for n, row in enumerate(table)
    ]


def _way(row: Row) -> str:
    values = [v.value for v in row.values if v is not None]
    return "rises" if values[-1] > values[0] else "falls"


def _joint(a: Value, b: Value) -> float:
    return math.hypot(a.u or 0.0, b.u or 0.0)
