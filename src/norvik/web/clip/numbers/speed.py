"""Speed, distance per cycle, stroke index: only where passes of known distances are marked."""

from __future__ import annotations

from norvik.core.time.speed import pass_ends, reach_ends
from norvik.web.clip.numbers.parts import Number, Writer


def speed(w: Writer) -> list[Number]:
    if not w.resolved.passes:
        return []
    found = w.timing.speed
    at = w.of_marks(p for ends in pass_ends(w.resolved) for p in ends)
    numbers = [
        w.one("Speed", "speed.m_per_s", found.m_per_s, "m/s", 2, frames=at),
        w.one("Distance per cycle", "speed.distance_per_cycle_m", found.distance_per_cycle_m, "m",
              2, frames=at),
        w.one("Stroke index", "speed.stroke_index", found.stroke_index, "m²/s", 2, frames=at),
    ]  # fmt: skip
    if w.resolved.stroke.phases4:
        reaches = reach_ends(w.resolved)
        numbers.append(
            w.one("Metres until the hold", "hold_distance_m", w.timing.hold_distance_m, "m", 2,
                  note=f"n {len(reaches)}", frames=w.of_marks(b for _, b in reaches))
        )  # fmt: skip
    return numbers
