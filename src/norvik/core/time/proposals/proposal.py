"""What a proposal is, and how far ahead one is made."""

from __future__ import annotations

from dataclasses import dataclass

from norvik.core.strokes.names import Lane, Side
from norvik.core.time.resolve import ResolvedMarks

#: The last so many cycles (or breaths) count: rhythm drifts.
RECENT = 4
#: Nobody looks further ahead than this many cycles.
MOST_CYCLES = 40


@dataclass(frozen=True, slots=True)
class Proposal:
    """One event at the instant (real seconds) at which it is expected; of an arm, mostly.

    side: left, right, both (arms that move together), front (a breath) or empty. sure: 0 to 1,
    None where nothing says how sure it is. u95_s: half width of its 95 % interval, seconds.
    bridged: out of sight there, placed by the other cycles.
    """

    time_s: float
    side: Side
    event: str
    lane: Lane = "arm"
    sure: float | None = None
    u95_s: float = 0.0
    bridged: bool = False


def before_wall(resolved: ResolvedMarks, after_s: float, until_s: float) -> float:
    """until_s, or the first marked event at a wall after after_s when that comes earlier."""
    return min([until_s, *(w.time_s for w in resolved.walls if w.time_s > after_s)])
