"""What a stroke is made of, as data: the computation reads these, it does not ask for names."""

from __future__ import annotations

from dataclasses import dataclass

from norvik.core.strokes.events import BREATH_EVENTS, COURSE_EVENTS, WALL_EVENTS
from norvik.core.strokes.names import Side, StrokeName


@dataclass(frozen=True, slots=True)
class Phase:
    """A stretch of the cycle from one event to another; `end` may open the next cycle."""

    name: str
    start: str
    end: str


@dataclass(frozen=True, slots=True)
class StrokeRules:
    """Lanes, order of events and phases of one stroke.

    arms: the lanes of the arms, ("left", "right") or ("both",).
    arm_events: in the order in which they happen; the first opens the cycle.
    phases: the coaches' phases of the arm. phases4: the four-phase research scheme
    (Chollet, Chalies and Chatard 2000, Int J Sports Med 21:54-59), empty where it has none.
    release: the arm event that counts as "one stroke" after a wall. reach: the last arm event
    before a wall from which the glide in is counted.
    leg_cycle: the leg events of a stroke whose legs have a cycle of their own.
    """

    name: StrokeName
    arms: tuple[Side, ...]
    arm_events: tuple[str, ...]
    phases: tuple[Phase, ...]
    phases4: tuple[Phase, ...]
    release: str
    reach: str
    leg_cycle: tuple[str, ...] = ()
    leg_phases: tuple[Phase, ...] = ()

    @property
    def opens(self) -> str:
        """The event that opens a cycle."""
        return self.arm_events[0]

    @property
    def alternating(self) -> bool:
        return len(self.arms) == 2

    @property
    def strokes_per_cycle(self) -> int:
        """Single arm strokes that coaches count in one cycle."""
        return len(self.arms)

    def sides_of(self, lane: str) -> tuple[Side, ...]:
        """The sides that a mark of a lane may have; empty for an unknown lane."""
        if lane == "arm":
            return ("left", "right") if self.alternating else ("",)
        sides: dict[str, tuple[Side, ...]] = {
            "breath": ("", "left", "right", "front"),
            "leg": ("", "left", "right"),
            "wall": ("",),
            "course": ("",),
        }
        return sides.get(lane, ())

    def events_of(self, lane: str) -> tuple[str, ...]:
        """The events of a lane in this stroke; empty for an unknown lane.

        Beats belong to breaststroke too: one dolphin kick under water after a wall.
        """
        return {
            "arm": self.arm_events,
            "leg": ("beat", "up", *self.leg_cycle),
            "breath": BREATH_EVENTS,
            "wall": WALL_EVENTS,
            "course": COURSE_EVENTS,
        }.get(lane, ())


#: Freestyle, backstroke and butterfly share events and phases; the definitions of the instants
#: differ and stand in the file of each stroke.
CRAWL_EVENTS = ("entry", "catch", "press", "shoulder", "exit")
CRAWL_PHASES = (
    Phase("entry", "entry", "catch"),
    Phase("catch", "catch", "press"),
    Phase("pull", "press", "exit"),
    Phase("recovery", "exit", "entry"),
)
CRAWL_PHASES4 = (
    Phase("entry_catch", "entry", "press"),
    Phase("pull", "press", "shoulder"),
    Phase("push", "shoulder", "exit"),
    Phase("recovery", "exit", "entry"),
)
