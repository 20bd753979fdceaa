"""How each point that was worked on stands: from the clip that chose it through every later one."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date

from norvik.core.strokes.names import StrokeName

#: What a later clip says of a point, best first.
STATES = ("gone", "better", "unclear", "same", "still", "worse")
ADVICE = {
    "working": "In training. Film again when its weeks are over.",
    "gone": "Fixed. Move on, and keep one drill going.",
    "better": "Better, and not fixed yet: keep going.",
    "unclear": "These clips can't show it: film the view that does, and tick what you see.",
    "same": "No change beyond the measuring error: try another drill, or look for another cause.",
    "still": "Still seen: try another drill, or look for the cause.",
    "worse": "Worse: stop this drill and look for the cause.",
    "done": "Marked as done.",
    "resting": "Set aside.",
}


#: States in which something else has to be done than what was done.
STUCK = ("same", "still", "worse")


@dataclass(frozen=True, slots=True)
class Later:
    """What a later clip showed of one point.

    verdicts: of core.change for the measures that show it. kind: of its finding there, "fault",
    "open", "watch", or empty where nothing was found. answer: what the coach said of it on that
    clip, "still", "better", "gone" or "unseen"; empty where nobody said anything. Silence is never
    success: only an answer or a measure moves a point.
    """

    clip: int
    on: date
    verdicts: tuple[str, ...]
    kind: str = ""
    answer: str = ""

    @property
    def measured(self) -> bool:
        """Was it measured on both clips?"""
        return bool(self.verdicts)

    @property
    def state(self) -> str:
        """One of STATES. A measure that got worse stands against any answer."""
        if "worse" in self.verdicts:
            return "worse"
        if self.answer in ("gone", "better", "still"):
            # What is measured as a fault is not gone, whatever it looks like.
            return "better" if self.answer == "gone" and self.kind == "fault" else self.answer
        if "better" in self.verdicts:
            return "better" if self.kind else "gone"
        if self.verdicts:
            return "same"
        return "still" if self.kind == "fault" else "unclear"


@dataclass(frozen=True, slots=True)
class FocusStatus:
    """One point over the months. state: "working", of STATES, or what the coach said."""

    stroke: StrokeName
    fault: str
    begun_on: date
    clip: int
    steps: tuple[Later, ...]
    state: str
    ends_on: date | None

    @property
    def advice(self) -> str:
        return ADVICE[self.state]


def status_of(
    stroke: StrokeName, fault: str, begun_on: date, clip: int, later: Iterable[Later],
    said: str = "", said_on: date | None = None,
) -> FocusStatus:  # fmt: skip
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
    return FocusStatus(stroke, fault, begun_on, clip, steps, state, ends)


def next_point(ranked: Sequence[str], rungs: Iterable[FocusStatus]) -> str | None:
    """The first point of the newest clip's order that has not been on the ladder; None without."""
    known = {r.fault for r in rungs}
    return next((f for f in ranked if f not in known), None)
