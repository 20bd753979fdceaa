"""How each point that was worked on stands: from the clip that chose it through every later one."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date

#: What a later clip says of a point, best first.
STATES = ("gone", "better", "unclear", "same", "still", "worse")
ADVICE = {
    "working": "In training. Film again when its weeks are over.",
    "gone": "Really better, and no fault any more: take the next point, keep one drill in use.",
    "better": "Really better, and still found: go on.",
    "unclear": "These clips cannot tell: film the view that shows it.",
    "same": "No change beyond the measuring error: another drill, or the cause is another.",
    "still": "Still seen: another drill, or look upstream for the cause.",
    "worse": "Really worse: stop this drill and look upstream.",
    "done": "Done, as you said.",
    "resting": "Set aside, as you said.",
}


#: States in which something else has to be done than what was done.
STUCK = ("same", "still", "worse")


@dataclass(frozen=True, slots=True)
class Later:
    """What a later clip showed of one point.

    verdicts: of core.change for the measures that show it. found: is it a fault there? seen_only:
    it was found by the coach's eye. looked: the coach ticked anything on that clip, from a view
    that shows it, so that not ticking it says something.
    """

    clip: int
    on: date
    verdicts: tuple[str, ...]
    found: bool
    seen_only: bool = False
    looked: bool = False

    @property
    def state(self) -> str:
        """One of STATES."""
        if self.verdicts:
            if "worse" in self.verdicts:
                return "worse"
            if "better" in self.verdicts:
                return "better" if self.found else "gone"
            return "same"
        if self.found:
            return "still"
        return "gone" if self.seen_only and self.looked else "unclear"


@dataclass(frozen=True, slots=True)
class Rung:
    """One point over the months. state: "working", of STATES, or what the coach said."""

    stroke: str
    fault: str
    begun_on: date
    clip: int
    steps: tuple[Later, ...]
    state: str
    ends_on: date | None

    @property
    def advice(self) -> str:
        return ADVICE[self.state]


def rung(
    stroke: str, fault: str, begun_on: date, clip: int, later: Iterable[Later],
    said: str = "", said_on: date | None = None,
) -> Rung:  # fmt: skip
    """How a point stands. said: "done" or "resting" by the coach, on that day."""
    steps = tuple(sorted(later, key=lambda s: (s.on, s.clip)))
    telling = [s for s in steps if s.state != "unclear"]
    if said:
        state = said
    elif telling:
        state = telling[-1].state
    else:
        state = "unclear" if steps else "working"
    ends = said_on if said else telling[-1].on if state == "gone" else None
    return Rung(stroke, fault, begun_on, clip, steps, state, ends)


def next_point(ranked: Sequence[str], rungs: Iterable[Rung]) -> str | None:
    """The first point of the newest clip's order that has not been on the ladder; None without."""
    known = {r.fault for r in rungs}
    return next((f for f in ranked if f not in known), None)
