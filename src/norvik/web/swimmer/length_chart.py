"""The chart of a swim: strokes as bars, seconds as a line, length by length."""

from __future__ import annotations

from dataclasses import dataclass

from norvik.core.followup.length_log import LengthLog

WIDTH, HEIGHT = 960, 220
_LEFT, _RIGHT, _TOP, _BOTTOM = 46, 46, 18, 26


@dataclass(frozen=True, slots=True)
class Bar:
    """One length's strokes, in pixels of the drawing."""

    x: float
    y: float
    width: float
    height: float
    text: str


@dataclass(frozen=True, slots=True)
class Chart:
    """points: one (x, y) a length for its seconds. left, right: (y, text) of the two scales."""

    bars: tuple[Bar, ...]
    points: tuple[tuple[float, float, str], ...]
    left: tuple[tuple[float, str], ...]
    right: tuple[tuple[float, str], ...]
    numbers: tuple[tuple[float, str], ...]
    width: int = WIDTH
    height: int = HEIGHT
    base: int = HEIGHT - _BOTTOM


def chart_of(log: LengthLog) -> Chart:
    """Strokes stand on 0, so that heights compare; seconds fill the height of their own spread."""
    n = len(log.lengths)
    step = (WIDTH - _LEFT - _RIGHT) / n
    high = HEIGHT - _TOP - _BOTTOM
    most = max([f.length.strokes or 0 for f in log.lengths] + [1])
    seconds = [f.length.seconds for f in log.lengths]
    low_s, top_s = min(seconds), max(seconds)
    room = max(top_s - low_s, 0.1 * top_s) * 0.25
    low_s, top_s = low_s - room, top_s + room

    def y_of(value: float) -> float:
        return round(_TOP + high * (top_s - value) / (top_s - low_s), 1)

    bars = []
    points = []
    for k, figures in enumerate(log.lengths):
        middle = _LEFT + (k + 0.5) * step
        strokes = figures.length.strokes
        if strokes is not None:
            tall = round(high * strokes / most * 0.9, 1)
            wide = round(min(step * 0.6, 44), 1)
            bars.append(
                Bar(round(middle - wide / 2, 1), round(HEIGHT - _BOTTOM - tall, 1), wide, tall,
                    str(strokes))
            )  # fmt: skip
        text = f"{figures.length.seconds:.1f}"
        points.append((round(middle, 1), y_of(figures.length.seconds), text))
    every = max(1, -(-n // 20))
    return Chart(
        bars=tuple(bars),
        points=tuple(points),
        left=tuple(
            (round(HEIGHT - _BOTTOM - high * 0.9 * v / most, 1), f"{v:.0f}") for v in (0, most)
        ),
        right=tuple((y_of(v), f"{v:.1f}") for v in (min(seconds), max(seconds))),
        numbers=tuple((points[k][0], str(k + 1)) for k in range(n) if k % every == 0 or k == n - 1),
    )
