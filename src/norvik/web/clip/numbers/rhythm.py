"""Stroke rate, cycle time, how steady they are."""

from __future__ import annotations

from norvik.core.statistics import mean
from norvik.web.clip.numbers.parts import Number, Writer
from norvik.web.shared.filters import number


def rate(w: Writer) -> list[Number]:
    """Strokes a minute, cycles a minute, cycle time: the three ways of saying one thing."""
    found, cycles = w.timing.rate, w.timing.cycles
    opens = w.cycles()
    known = found.cycles_per_min is not None
    note = f"{cycles.count} cycle{'s' if cycles.count != 1 else ''}" if known else ""
    strokes = w.one("Stroke rate", "rate.strokes_per_min", found.strokes_per_min, "strokes/min", 1,
                    note=note, frames=opens)  # fmt: skip
    per_min = w.one("", "rate.cycles_per_min", found.cycles_per_min, "cycles/min", 2,
                    note=note, frames=opens)  # fmt: skip
    time = w.one("Cycle time", "cycles.time_s.mean", cycles.time_s.mean, "s", 3, frames=opens)
    return [strokes, per_min, time]


def rhythm(w: Writer) -> list[Number]:
    cycles, opens = w.timing.cycles, w.cycles()
    if not cycles.count:
        return [w.one("Spread of the cycles", "cycles.time_s.sd", None, "s")]
    found = [
        w.one("Spread of the cycles", "cycles.time_s.sd", cycles.time_s.sd, "s", 3, frames=opens),
        w.one("as a share", "cycles.time_s.cv_pct", cycles.time_s.cv_pct, "%", 1, frames=opens),
        w.one("Drift, longer +", "cycles.drift_pct_per_min", cycles.drift_pct_per_min, "%/min", 1,
              note={True: "fading", False: "holds", None: ""}[cycles.fading], frames=opens),
    ]  # fmt: skip
    for side in w.resolved.stroke.arms:
        own = cycles.by_side[side]
        if own and len(w.resolved.stroke.arms) > 1:
            at = w.of_marks(c.start for c in w.resolved.cycles if c.start and c.side == side)
            found.append(
                Number(f"{side} cycle", number(mean(own), 3), "s", "", f"n {len(own)}", at)
            )
    return found
