"""Quantities of breaststroke: how arms and legs go together, and how long each takes."""

from __future__ import annotations

from norvik.core.strokes import Phase
from norvik.core.time.legs import gap_pairs, leg_pairs
from norvik.core.time.phases import phase_ends
from norvik.core.time.quantities.quantity import (
    Occurrence,
    Quantity,
    Reading,
    air_after,
    mean_reading,
    mean_seconds,
    phase_share,
)
from norvik.core.time.timing import Timing

#: In to shoot: a rest under the chin makes it long.
_pull_share = phase_share(
    Phase("pull", "in", "shoot"), "shoot", "phases.both.pull.share_pct", ("breaststroke",)
)


def _heel_share(timing: Timing) -> Reading | None:
    """Heels to set, of the mean cycle."""
    cycle_s = timing.resolved.mean_cycle_s
    if timing.stroke != "breaststroke" or not cycle_s:
        return None
    pairs = leg_pairs(timing.resolved, Phase("heels", "heels", "set"))
    found = [Occurrence(b.time_s, 100 * (b.time_s - a.time_s) / cycle_s) for a, b in pairs]
    return mean_reading(timing, found, "legs.heels.share_pct")


def _heel_time(timing: Timing) -> Reading | None:
    """Heels to set in seconds: a long glide does not make the heels quick."""
    if timing.stroke != "breaststroke":
        return None
    pairs = leg_pairs(timing.resolved, Phase("heels", "heels", "set"))
    return mean_seconds(timing, [Occurrence(b.time_s, b.time_s - a.time_s) for a, b in pairs])


def _pull_time(timing: Timing) -> Reading | None:
    """In to shoot in seconds."""
    if timing.stroke != "breaststroke":
        return None
    opens, phase = timing.resolved.stroke.opens, Phase("pull", "in", "shoot")
    ends = [e for c in timing.resolved.cycles if (e := phase_ends(c, phase, opens)) is not None]
    return mean_seconds(timing, [Occurrence(b.time_s, b.time_s - a.time_s) for a, b in ends])


def _t2(timing: Timing) -> Reading | None:
    """Heels minus shoot, of the mean cycle; positive when the heels come after the hands."""
    cycle_s = timing.resolved.mean_cycle_s
    if timing.gaps is None or not cycle_s:
        return None
    found = [
        Occurrence(b.time_s, 100 * (b.time_s - a.time_s) / cycle_s)
        for a, b in gap_pairs(timing.resolved, "t2")
    ]
    return mean_reading(timing, found, "gaps.t2_pct")


def _t1(timing: Timing) -> Reading | None:
    """Out minus close, of the mean cycle; negative when the hands part before the feet meet."""
    cycle_s = timing.resolved.mean_cycle_s
    if timing.gaps is None or not cycle_s:
        return None
    found = [
        Occurrence(b.time_s, 100 * (b.time_s - a.time_s) / cycle_s)
        for a, b in gap_pairs(timing.resolved, "t1")
    ]
    return mean_reading(timing, found, "gaps.t1_pct")


def _pullout_dolphins(timing: Timing) -> Reading | None:
    """Dolphin kicks under water after a wall or start, the most of any."""
    if timing.stroke != "breaststroke":
        return None
    found = [
        Occurrence(w.push_s, float(w.beats))
        for w in timing.walls
        if w.push_s is not None and w.beats is not None
    ]
    if not found:
        return None
    return Reading(max(o.value for o in found), 0.0, tuple(found))


#: Negative when the head is up before the hands turn in.
_breath_in_sweep = air_after("in", "breaststroke")


BREASTSTROKE = (
    Quantity("breast-pull-share", "In-sweep until the hands shoot, of the cycle", "%", 0,
             _pull_share),
    Quantity("t1", "Hands open after the feet are together, of the cycle", "%", 0, _t1),
    Quantity("pullout-dolphins", "Dolphin kicks in the pull-out", "kicks", 0, _pullout_dolphins),
    Quantity("breast-pull-time", "Insweep until the hands go forward", "s", 2, _pull_time),
    Quantity("heel-time", "Heels start up until the kick starts", "s", 2, _heel_time),
    Quantity("heel-share", "Heels up to set, of the cycle", "%", 0, _heel_share),
    Quantity("t2", "Heels after the hands shoot, of the cycle", "%", 0, _t2),
    Quantity("breath-in-sweep", "Mouth clear after the hands turn in, of the cycle", "%", 0,
             _breath_in_sweep),
)  # fmt: skip
