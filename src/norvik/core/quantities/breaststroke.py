"""Quantities of breaststroke: how arms and legs go together, and how long each takes."""

from __future__ import annotations

from norvik.core.legs import gap_pairs, leg_pairs
from norvik.core.quantities.reading import (
    Occurrence,
    Quantity,
    Reading,
    air_after,
    mean_reading,
    phase_share,
)
from norvik.core.strokes import Phase
from norvik.core.timing import Timing

#: In to shoot: a rest under the chin makes it long.
_pull_share = phase_share(
    Phase("pull", "in", "shoot"), "shoot", "phases.both.pull.share_pct", ("breaststroke",)
)


def _heel_share(timing: Timing) -> Reading | None:
    """Heels to set, of the mean cycle."""
    cycle_s = timing.settled.mean_cycle_s
    if timing.stroke != "breaststroke" or not cycle_s:
        return None
    pairs = leg_pairs(timing.settled, Phase("heels", "heels", "set"))
    found = [Occurrence(b.time_s, 100 * (b.time_s - a.time_s) / cycle_s) for a, b in pairs]
    return mean_reading(timing, found, "legs.heels.share_pct")


def _t2(timing: Timing) -> Reading | None:
    """Heels minus shoot, of the mean cycle; positive when the heels come after the hands."""
    cycle_s = timing.settled.mean_cycle_s
    if timing.gaps is None or not cycle_s:
        return None
    found = [
        Occurrence(b.time_s, 100 * (b.time_s - a.time_s) / cycle_s)
        for a, b in gap_pairs(timing.settled, "t2")
    ]
    return mean_reading(timing, found, "gaps.t2_pct")


#: Negative when the head is up before the hands turn in.
_breath_in_sweep = air_after("in", "breaststroke")


BREASTSTROKE = (
    Quantity("breast-pull-share", "In-sweep until the hands shoot, of the cycle", "%", 0,
             _pull_share),
    Quantity("heel-share", "Heels up to set, of the cycle", "%", 0, _heel_share),
    Quantity("t2", "Heels after the hands shoot, of the cycle", "%", 0, _t2),
    Quantity("breath-in-sweep", "Mouth clear after the hands turn in, of the cycle", "%", 0,
             _breath_in_sweep),
)  # fmt: skip
