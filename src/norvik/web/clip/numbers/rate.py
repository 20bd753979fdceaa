"""Stroke rate and cycle time: the numbers that stand large."""

from __future__ import annotations

from norvik.core.statistics import mean
from norvik.web.clip.numbers.parts import Number, Writer
from norvik.web.shared.filters import number
from norvik.web.shared.language import times


def rate(w: Writer) -> list[Number]:
    """Strokes per minute, cycles per minute, cycle time: three ways of saying one thing."""
    found, cycles = w.timing.rate, w.timing.cycles
    opens = w.cycles()
    note = times(cycles.count, "cycle") if found.cycles_per_min is not None else ""
    strokes = w.one("Stroke rate", "rate.strokes_per_min", found.strokes_per_min, "strokes/min", 1,
                    note=note, frames=opens)  # fmt: skip
    per_min = w.one("", "rate.cycles_per_min", found.cycles_per_min, "cycles/min", 2,
                    note=note, frames=opens)  # fmt: skip
    time = w.one("Cycle time", "cycles.time_s.mean", cycles.time_s.mean, "s", 3, frames=opens)
    return [strokes, per_min, time]


def cycle_times(w: Writer) -> list[Number]:
    """The mean cycle time of each arm, where there are two."""
    found = []
    for side in w.resolved.stroke.arms:
        own = w.timing.cycles.by_side[side]
        if own and len(w.resolved.stroke.arms) > 1:
            at = w.of_marks(c.start for c in w.resolved.cycles if c.start and c.side == side)
            name = f"Cycle time, {side} arm"
            found.append(Number(name, number(mean(own), 3), "s", "", f"n {len(own)}", at))
    return found
