"""The chart of a series of pool tests: one point a day, its uncertainty, the good range."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from norvik.web.shared.filters import figure, number
from norvik.web.shared.language import short_day
from norvik.workflow.pool_tests import Series

WIDTH, HEIGHT = 640, 170
_LEFT, _RIGHT, _TOP, _BOTTOM = 20, 20, 26, 26


@dataclass(frozen=True, slots=True)
class Point:
    """low_y, high_y: twice the standard uncertainty up and down; the same as y for counts."""

    x: float
    y: float
    low_y: float
    high_y: float
    text: str
    day: str
    rested: bool


@dataclass(frozen=True, slots=True)
class Chart:
    """good: top and bottom of the good range in pixels with its limits in words, or None."""

    points: tuple[Point, ...]
    good: tuple[float, float, str] | None
    width: int = WIDTH
    height: int = HEIGHT


def chart_of(series: Series) -> Chart | None:
    """None with fewer than two tests: there is nothing to follow yet."""
    judged = series.judged
    if len(judged) < 2:
        return None
    days = [date.fromisoformat(j.swum.done_on).toordinal() for j in judged]
    values = [j.outcome.figure for j in judged]
    good = judged[-1].outcome.good
    low, high = min([*values, *(good or ())]), max([*values, *(good or ())])
    room = 0.15 * (high - low) or 0.05 * high
    low, high = low - room, high + room
    tall, wide = HEIGHT - _TOP - _BOTTOM, WIDTH - _LEFT - _RIGHT
    span = days[-1] - days[0]

    def x_of(n: int) -> float:
        # Tests of one day stand side by side.
        share = (days[n] - days[0]) / span if span else n / (len(days) - 1)
        return round(_LEFT + 24 + (wide - 48) * share, 1)

    def y_of(value: float) -> float:
        return round(_TOP + tall * (high - value) / (high - low), 1)

    points = []
    for n, j in enumerate(judged):
        value, u = j.outcome.figure, 2 * (j.outcome.u or 0.0)
        when = date.fromisoformat(j.swum.done_on)
        points.append(
            Point(
                x_of(n),
                y_of(value),
                low_y=y_of(value - u),
                high_y=y_of(value + u),
                text=figure(value, j.outcome.digits, j.outcome.unit),
                day=short_day(when),
                rested=j.swum.rested,
            )
        )
    band = None
    if good is not None:
        digits = judged[-1].outcome.digits
        words = f"{number(good[0], digits)} to {number(good[1], digits)}"
        band = (y_of(good[1]), y_of(good[0]), words)
    return Chart(tuple(points), band)
