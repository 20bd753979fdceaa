"""How well events are marked: the marker's own error, which comes on top of the grid of frames.

Two people, or one person twice, do not put a mark on the same frame. What differs from mark to mark
is the spread; what a person does the same way every time, such as seeing the catch late, is the
habit. A habit is common to all marks of one event: it leaves out of a cycle, from entry to entry,
and stays in a phase, from one event to another.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType

from norvik.core.time.timebase import mark_uncertainty_s

#: Events that are told apart about equally well. Family: its name for the coach, its events.
FAMILIES: Mapping[str, tuple[str, tuple[str, ...]]] = MappingProxyType(
    {
        "water": ("hand entry and exit", ("entry", "exit", "water")),
        "hold": (
            "catch, pull and other moments under water",
            ("catch", "press", "shoulder", "push-end", "out", "in", "shoot", "long"),
        ),
        "kick": ("kicks", ("beat", "up", "heels", "set", "close")),
        "breath": ("head and mouth", ("turn", "air", "down")),
        "bubbles": ("bubbles", ("bubbles-on", "bubbles-off")),
        "wall": (
            "start and wall",
            ("signal", "block", "head-down", "touch", "planted", "push", "breakout"),
        ),
        "course": ("passes", ("pass",)),
    }
)
FAMILY_OF = {event: name for name, (_, events) in FAMILIES.items() for event in events}


@dataclass(frozen=True, slots=True)
class MarkError:
    """Standard error of one mark, in milliseconds and in frames; the larger of the two holds.

    spread: from mark to mark. habit: the same in all marks of an event.
    """

    spread_ms: float = 0.0
    spread_frames: float = 0.0
    habit_ms: float = 0.0
    habit_frames: float = 0.0

    @property
    def without_habit(self) -> MarkError:
        return MarkError(self.spread_ms, self.spread_frames)

    def spread_s(self, frame_interval_s: float) -> float:
        return max(self.spread_ms / 1000, self.spread_frames * frame_interval_s)

    def habit_s(self, frame_interval_s: float) -> float:
        return max(self.habit_ms / 1000, self.habit_frames * frame_interval_s)


@dataclass(frozen=True, slots=True)
class Marker:
    """The error of every family of events; one that is not named is marked without error."""

    errors: Mapping[str, MarkError] = field(default_factory=dict)

    def of_event(self, event: str) -> MarkError:
        return self.errors.get(FAMILY_OF.get(event, ""), _NONE)

    def spread_s(self, event: str, frame_interval_s: float) -> float:
        """Standard uncertainty in seconds of one mark: grid of frames and spread of the marker.

        frame_interval_s: real seconds between frames, above 0.
        Source of the first: JCGM 100:2008 (GUM), 4.3.7; they join by their squares (5.1.2 there).
        """
        grid_s = mark_uncertainty_s(frame_interval_s)
        return math.hypot(grid_s, self.of_event(event).spread_s(frame_interval_s))

    def habit_s(self, event: str, frame_interval_s: float) -> float:
        """Standard uncertainty in seconds of what all marks of an event have in common."""
        return self.of_event(event).habit_s(frame_interval_s)


@dataclass(frozen=True, slots=True)
class Marking:
    """How the marks of a clip came about.

    frame_interval_s: real seconds between frames, None when unknown: then nothing can be said of
    how sure a quantity is. scale_u: relative standard uncertainty of the slow-motion factor.
    """

    frame_interval_s: float | None = None
    marker: Marker = field(default_factory=Marker)
    scale_u: float = 0.0

    def spread_s(self, event: str) -> float | None:
        """Standard uncertainty in seconds of one mark of an event, but for the habit."""
        d = self.frame_interval_s
        return None if d is None else self.marker.spread_s(event, d)

    def mean_interval_u(self, start: str, end: str, n: int, mean_s: float) -> float | None:
        """Standard uncertainty of the mean of n intervals, seconds, that share no mark.

        start, end: the events between which they lie; the habit of one event leaves out of an
        interval from it to itself.
        """
        d = self.frame_interval_s
        if d is None:
            return None
        spread = math.hypot(self.marker.spread_s(start, d), self.marker.spread_s(end, d))
        habits = (self.marker.habit_s(e, d) for e in (start, end))
        habit = 0.0 if start == end else math.hypot(*habits)
        return math.hypot(spread / math.sqrt(n), habit, self.scale_u * mean_s)


_NONE = MarkError()
#: Nobody marks: what the grid of frames alone makes uncertain.
GRID_ALONE = Marker()
#: Own choice, until a coach has marked again, blind. What meets the water is told to about a frame;
#: when a hand takes hold is a matter of judgement, and people judge it differently.
DEFAULT_MARKER = Marker(
    MappingProxyType(
        {
            "water": MarkError(10, 0.7, 5, 0.3),
            "hold": MarkError(30, 0.7, 20, 0.5),
            "kick": MarkError(20, 0.7, 10, 0.3),
            "breath": MarkError(20, 0.7, 15, 0.5),
            "bubbles": MarkError(40, 0.7, 30, 0.5),
            "wall": MarkError(10, 0.7, 5, 0.3),
            "course": MarkError(15, 0.7, 5, 0.3),
        }
    )
)
