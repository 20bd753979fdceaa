"""Quantities of walls: into it, at it, under water, and out of it. Means over a clip's walls."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from itertools import pairwise

from norvik.core.time.own_spread import of_values
from norvik.core.time.plus_minus import Certainty
from norvik.core.time.quantities.quantity import (
    Interval,
    Occurrence,
    Quantity,
    Reading,
    counted_each,
    mean_interval,
    reading_of,
)
from norvik.core.time.resolve.marks import OrderedMark
from norvik.core.time.timing import Timing
from norvik.core.time.walls import Wall


def _wall_time(name: str, at: str) -> Callable[[Timing], Reading | None]:
    """Mean of one time of every wall. at: the instant to look at."""

    def read(timing: Timing) -> Reading | None:
        found, sure = [], []
        for n, wall in enumerate(timing.walls):
            value, place = getattr(wall, name), getattr(wall, at)
            if value is None or place is None:
                continue
            found.append(Occurrence(place, value))
            sure.append(timing.certainty.get(f"walls.{n}.{name}"))
        return _mean_of(found, sure)

    return read


def _mean_of(found: Sequence[Occurrence], sure: Sequence[Certainty | None]) -> Reading | None:
    """Mean over the walls. sure: of each; habit and factor are the same at all of them."""
    if not found:
        return None
    value = math.fsum(o.value for o in found) / len(found)
    known = [s for s in sure if s is not None]
    if len(known) < len(found):
        return Reading(value, None, tuple(found))
    spread = math.hypot(*(s.spread for s in known)) / len(known)
    habit = math.fsum(s.habit for s in known) / len(known)
    scale = math.fsum(s.scale for s in known) / len(known)
    certainty = Certainty(spread, habit, scale, of_values([o.value for o in found]))
    return Reading(value, certainty.clip, tuple(found), certainty)


#: Own choice: who stays at the wall for less time turns by a tumble, where the feet touch.
HAND_TURN_FROM_S = 0.7


def _glide_in(timing: Timing) -> Reading | None:
    """Last reach to the touch of a hand. In a tumble turn the feet touch: that is no glide."""
    reading = _wall_time("glide_in_s", "touch_s")(timing)
    if reading is None or not timing.resolved.stroke.alternating:
        return reading
    tumbles = {
        w.touch_s
        for w in timing.walls
        if w.push_s is not None
        and (_before(timing, "head-down", w) or (w.turn_s or 0.0) < HAND_TURN_FROM_S)
    }
    by_touch = {w.touch_s: n for n, w in enumerate(timing.walls)}
    found = [o for o in reading.occurrences if o.time_s not in tumbles]
    sure = [timing.certainty.get(f"walls.{by_touch[o.time_s]}.glide_in_s") for o in found]
    return _mean_of(found, sure)


def _before(timing: Timing, event: str, wall: Wall) -> OrderedMark | None:
    """The last mark of an event within the length that ends with a wall's touch."""
    touch = next((p for p in timing.resolved.walls if p.time_s == wall.touch_s), None)
    if touch is None or touch.mark.event != "touch":
        return None
    here = [
        p
        for p in timing.resolved.walls
        if p.mark.event == event and p.length == touch.length - 1 and p.order < touch.order
    ]
    return here[-1] if here else None


def _turn_in(timing: Timing) -> list[Interval]:
    """From the last hand entry to the head going down into a tumble."""
    entries = timing.resolved.openings()
    found = []
    for down in (p for p in timing.resolved.walls if p.mark.event == "head-down"):
        last = [p for p in entries if p.length == down.length and p.order < down.order]
        if last:
            found.append((max(last, key=lambda p: p.time_s), down))
    return found


def _next(first: str, last: str) -> Callable[[Timing], list[Interval]]:
    """From one wall mark to the next one of another kind, when nothing else lies between them."""

    def intervals(timing: Timing) -> list[Interval]:
        return [
            (a, b)
            for a, b in pairwise(timing.resolved.walls)
            if a.mark.event == first and b.mark.event == last
        ]

    return intervals


def _breakout_m(timing: Timing) -> Reading | None:
    """The farthest distance from the wall at which the head came up, by passes of the rope."""
    found, paths = [], []
    for n, wall in enumerate(timing.walls):
        if wall.breakout_m is not None and wall.breakout_s is not None:
            found.append(Occurrence(wall.breakout_s, wall.breakout_m))
            paths.append(f"walls.{n}.breakout_m")
    if not found:
        return None
    far = max(range(len(found)), key=lambda n: found[n].value)
    return reading_of(timing, found[far].value, paths[far], found)


def _counted(timing: Timing, count: Callable[[Timing, Wall], int | None]) -> Reading | None:
    """Mean of a count over the walls. A count of marks has no uncertainty of its own."""
    found = [
        Occurrence(w.push_s, float(n))
        for w in timing.walls
        if w.push_s is not None and (n := count(timing, w)) is not None
    ]
    if not found:
        return None
    counts = [o.value for o in found]
    return counted_each(math.fsum(counts) / len(counts), found, counts)


def _kicks(timing: Timing, wall: Wall, both: bool) -> int | None:
    """Dolphins (both) or flutter kicks between push and breakout; None without any beat there."""
    if wall.push_s is None or wall.breakout_s is None or not wall.beats:
        return None
    under = [b for b in timing.resolved.beats if wall.push_s < b.time_s < wall.breakout_s]
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


_STARTING = "Mean over the clip's starts and walls that have both marks."
WALLS = (
    Quantity(
        "glide-in", "Last hand entry until the hand touches", "s", 2, _glide_in,
        "Mean over the walls touched with a hand: in a tumble turn the feet touch, not a hand.",
    ),
    mean_interval(
        "turn-in", "Last hand entry until the head goes down", _turn_in, definition=_STARTING,
    ),
    mean_interval(
        "tumble-time", "Head down until the feet touch", _next("head-down", "touch"),
        definition=_STARTING,
    ),
    mean_interval(
        "feet-time", "Hand touch until the feet are planted", _next("touch", "planted"),
        definition=_STARTING,
    ),
    mean_interval(
        "block-time", "Start signal until the feet leave the block", _next("signal", "block"),
        definition=_STARTING,
    ),
    mean_interval(
        "flight-time", "Block until the hands reach the water", _next("block", "water"),
        definition=_STARTING,
    ),
    mean_interval(
        "start-under-water", "Under water after the start", _next("water", "breakout"),
        definition=_STARTING,
    ),
    Quantity(
        "breakout-distance", "Breakout, farthest from the wall", "m", 1, _breakout_m,
        "Where the head breaks the surface, between passes of known distance; the farthest of all.",
    ),
    Quantity(
        "turn-time", "Touch until the push-off", "s", 2, _wall_time("turn_s", "touch_s"),
        "From the touch until the feet leave the wall, mean over the walls.",
    ),
    Quantity(
        "under-water", "Time under water after the wall", "s", 2,
        _wall_time("under_water_s", "push_s"),
        "From the push-off to the breakout, mean over the walls.",
    ),
    Quantity(
        "wall-dolphins", "Dolphin kicks after the wall", "kicks", 0, _dolphins,
        "Kicks of both legs together between push-off and breakout, mean over the walls.",
        counted=True,
    ),
    Quantity(
        "wall-flutters", "Flutter kicks before the breakout", "kicks", 0, _flutters,
        "Kicks of one leg between push-off and breakout, mean over the walls.", counted=True,
    ),
    Quantity(
        "wall-first-breath", "Strokes before the first breath", "strokes", 0, _first_breath,
        "Hand exits between the breakout and the first breath, mean over the walls.", counted=True,
    ),
    Quantity(
        "wall-count-spread", "Kicks under water, most minus fewest", "kicks", 0, _spread,
        "How much the number of kicks differs from wall to wall; needs three walls.", counted=True,
    ),
)  # fmt: skip
