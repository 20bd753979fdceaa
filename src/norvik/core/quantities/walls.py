"""Quantities of walls: into it, at it, under water, and out of it. Means over a clip's walls."""

from __future__ import annotations

import math
from collections.abc import Callable

from norvik.core.quantities.reading import Occurrence, Quantity, Reading
from norvik.core.timing import Timing
from norvik.core.walls import Wall


def _wall_time(name: str, at: str) -> Callable[[Timing], Reading | None]:
    """Mean of one time of every wall. at: the instant to look at."""

    def read(timing: Timing) -> Reading | None:
        found, us = [], []
        for n, wall in enumerate(timing.walls):
            value, place = getattr(wall, name), getattr(wall, at)
            if value is None or place is None:
                continue
            found.append(Occurrence(place, value))
            us.append(timing.uncertainty.get(f"walls.{n}.{name}"))
        if not found:
            return None
        known = [u for u in us if u is not None]
        u = math.hypot(*known) / len(known) if len(known) == len(us) else None
        return Reading(math.fsum(o.value for o in found) / len(found), u, tuple(found))

    return read


def _counted(timing: Timing, count: Callable[[Timing, Wall], int | None]) -> Reading | None:
    """Mean of a count over the walls. A count of marks has no uncertainty of its own."""
    found = [
        Occurrence(w.push_s, float(n))
        for w in timing.walls
        if w.push_s is not None and (n := count(timing, w)) is not None
    ]
    if not found:
        return None
    return Reading(math.fsum(o.value for o in found) / len(found), 0.0, tuple(found))


def _kicks(timing: Timing, wall: Wall, both: bool) -> int | None:
    """Dolphins (both) or flutter kicks between push and breakout; None without any beat there."""
    if wall.push_s is None or wall.breakout_s is None or not wall.beats:
        return None
    under = [b for b in timing.settled.beats if wall.push_s < b.time_s < wall.breakout_s]
    return sum((b.mark.side not in ("left", "right")) == both for b in under)


def _dolphins(timing: Timing) -> Reading | None:
    return _counted(timing, lambda t, w: _kicks(t, w, True))


def _flutters(timing: Timing) -> Reading | None:
    return _counted(timing, lambda t, w: _kicks(t, w, False))


def _first_breath(timing: Timing) -> Reading | None:
    return _counted(timing, lambda _, w: w.strokes_before_breath)


def _spread(timing: Timing) -> Reading | None:
    """Most minus fewest kicks under water; needs three walls."""
    counts = [(w.push_s, w.beats) for w in timing.walls if w.push_s is not None and w.beats]
    if len(counts) < 3:
        return None
    spread = float(max(n for _, n in counts) - min(n for _, n in counts))
    return Reading(spread, 0.0, tuple(Occurrence(t, float(n)) for t, n in counts))


WALLS = (
    Quantity("glide-in", "Last reach to the touch", "s", 2, _wall_time("glide_in_s", "touch_s")),
    Quantity("turn-time", "Touch to push", "s", 2, _wall_time("turn_s", "touch_s")),
    Quantity("under-water", "Time under water after the wall", "s", 2,
             _wall_time("under_water_s", "push_s")),
    Quantity("wall-dolphins", "Dolphin kicks after the wall", "kicks", 0, _dolphins),
    Quantity("wall-flutters", "Flutter kicks before the breakout", "kicks", 0, _flutters),
    Quantity("wall-first-breath", "Strokes before the first breath", "strokes", 0, _first_breath),
    Quantity("wall-count-spread", "Kicks under water, most less fewest", "kicks", 0, _spread),
)  # fmt: skip
