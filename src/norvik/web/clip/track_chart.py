"""A quantity of followed points against time as a drawing, tied to the playhead."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from norvik.core.frame.movement import runs
from norvik.workflow.clip_tracks import Series

WIDTH, HEIGHT = 340.0, 96.0
_LEFT, _RIGHT, _TOP, _BOTTOM = 40.0, 4.0, 8.0, 16.0


@dataclass(frozen=True, slots=True)
class Chart:
    """raw: single values; lines: stretches that were followed; bridged: those that were filled.

    ticks: (y, what it says) of the lowest and highest value; span: x of the first and last frame.
    """

    name: str
    unit: str
    raw: str
    lines: tuple[str, ...]
    bridged: tuple[str, ...]
    ticks: tuple[tuple[float, str], ...]
    times: tuple[tuple[float, str], ...]
    span: tuple[float, float]


def chart(series: Series, times_s: NDArray[np.float64]) -> Chart | None:
    """None where there is nothing to draw."""
    known = series.values[np.isfinite(series.values)]
    if len(known) < 2 or len(times_s) < 2:
        return None
    low, high = float(known.min()), float(known.max())
    if high - low < 1e-9:
        low, high = low - 1, high + 1
    begin, end = float(times_s[0]), float(times_s[-1])

    def x(n: int) -> float:
        return _LEFT + (WIDTH - _LEFT - _RIGHT) * (float(times_s[n]) - begin) / (end - begin)

    def y(value: float) -> float:
        return HEIGHT - _BOTTOM - (HEIGHT - _TOP - _BOTTOM) * (value - low) / (high - low)

    def path(at: slice) -> str:
        return " ".join(
            f"{x(n):.1f},{y(float(series.values[n])):.1f}" for n in range(at.start, at.stop)
        )

    lines: list[str] = []
    bridged: list[str] = []
    for run in runs(series.values):
        start = run.start
        for n in range(run.start, run.stop):
            if n + 1 == run.stop or series.filled[n] != series.filled[n + 1]:
                (bridged if series.filled[n] else lines).append(
                    path(slice(start, min(n + 2, run.stop)))
                )
                start = n + 1
    raw = "".join(
        f"M{x(n):.1f} {y(float(v)):.1f}h.01"
        for n, v in enumerate(np.clip(series.raw, low, high))
        if np.isfinite(v)
    )
    digits = 0 if high - low >= 20 else 2
    ticks = tuple((y(v), f"{v:.{digits}f}".replace("-", "−")) for v in (low, high))
    times = tuple((x(n), f"{times_s[n]:.1f}") for n in (0, len(times_s) - 1))
    return Chart(
        series.name, series.unit, raw, tuple(lines), tuple(bridged), ticks, times,
        (x(0), x(len(times_s) - 1)),
    )  # fmt: skip
