"""How sure each quantity is: how well this clip was measured, and how well it tells the swimmer.

Two uncertainties, which answer two questions:

- **This clip.** How far may the mean over the marked cycles be from what really happened in them?
  Every mark lies on a frame (standard uncertainty D / sqrt(12) at a frame interval D, JCGM
  100:2008, 4.3.7), and whoever marks errs by a spread from mark to mark and by a habit that all
  marks of one event share (`norvik.core.time.marker`). The slow-motion factor is known to so many
  percent. A quantity q of marks at times t has, by 5.1.2 there, the squares of three parts: dq/dt
  times spread, summed over the marks by their squares; habit times the sum of dq/dt, over the
  events; factor times the sum of t dq/dt. Marks that stand in a quantity twice, such as an entry
  that ends one cycle and begins the next, count as they do.
- **The swimmer.** How far may it be from the swimmer's own long-run value? A clip holds a few
  cycles, and they differ: their spread over the root of how many there are, with its degrees of
  freedom (`own_spread`). It holds the spread of marking already, so that the larger of the two
  counts; habit and factor come on top.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from functools import cached_property

import numpy as np

from norvik.core.time.certainty import arms, declared, phases, rhythm, water
from norvik.core.time.certainty.gradients import Gradient, Gradients, Term
from norvik.core.time.cycles import rate_fall
from norvik.core.time.marker import Marker
from norvik.core.time.plus_minus import Certainty, Own
from norvik.core.time.timing import Timing

#: First word of a quantity's dotted path to the topic it is worked out with.
_TOPICS = {
    "rate": "rhythm",
    "cycles": "rhythm",
    "phases": "phases",
    "phases4": "phases",
    "symmetry_pct": "phases",
    "coordination": "together",
    "rhythm_pct": "together",
    "front_quadrant": "together",
    "breathing": "breathing",
    "kick": "kick",
    "legs": "legs",
    "gaps": "legs",
    "fly_gaps": "legs",
    "walls": "walls",
    "speed": "speed",
    "hold_distance_m": "speed",
    "quantities": "quantities",
}


class Certainties(Mapping[str, Certainty]):
    """Of each known quantity that rests on marks, by its dotted path.

    Empty without a frame interval. Counts and shares of counts have none and are not listed.
    Worked out by topic when first asked for: whoever looks at one topic waits for no other.
    """

    def __init__(self, timing: Timing, marker: Marker, scale_u: float) -> None:
        self._timing, self._marker, self._scale_u = timing, marker, scale_u
        self._known: dict[str, dict[str, Certainty]] = {}

    @cached_property
    def _gradients(self) -> Gradients:
        return Gradients(self._timing)

    @cached_property
    def _marks(self) -> _Marks:
        assert self._timing.frame_interval_s is not None
        return _Marks(self._timing, self._marker, self._timing.frame_interval_s, self._scale_u)

    def _of(self, topic: str) -> dict[str, Certainty]:
        if topic not in self._known:
            self._known[topic] = self._work_out(topic)
        return self._known[topic]

    def _work_out(self, topic: str) -> dict[str, Certainty]:
        interval_s, g = self._timing.frame_interval_s, self._gradients
        if interval_s is None:
            return {}

        def spread_of(event: str) -> float:
            return self._marker.spread_s(event, interval_s)

        work_out: dict[str, Callable[[], dict[str, Term]]] = {
            "rhythm": lambda: rhythm.terms(g, spread_of(self._timing.resolved.stroke.opens)),
            "phases": lambda: phases.terms(g),
            "together": lambda: arms.terms(g),
            "breathing": lambda: water.breathing(g),
            "kick": lambda: water.kick(g, spread_of("beat")),
            "legs": lambda: phases.legs(g),
            "walls": lambda: water.walls(g),
            "speed": lambda: water.speed(g),
            "quantities": dict,
        }
        found = {
            path: self._marks.certainty_of(term)
            for path, term in {
                **work_out[topic](), **declared.terms(g, _TOPICS, topic),
            }.items()
        }  # fmt: skip
        if topic == "rhythm":
            fall = rate_fall(self._timing.resolved.cycles, interval_s)
            if fall is not None:
                found["cycles.drift_pct_per_min"] = Certainty(
                    fall.drift_u, own=Own(fall.drift_u, fall.dof)
                )
        return found

    def __getitem__(self, path: str) -> Certainty:
        return self._of(_TOPICS[path.split(".", 1)[0]])[path]

    def __iter__(self) -> Iterator[str]:
        for topic in dict.fromkeys(_TOPICS.values()):
            yield from self._of(topic)

    def __len__(self) -> int:
        return sum(1 for _ in self)


class Uncertainties(Mapping[str, float]):
    """How well the clip was measured: the standard uncertainty of each path of `Certainties`."""

    def __init__(self, certainties: Certainties) -> None:
        self._certainties = certainties

    def __getitem__(self, path: str) -> float:
        return self._certainties[path].clip

    def __iter__(self) -> Iterator[str]:
        return iter(self._certainties)

    def __len__(self) -> int:
        return len(self._certainties)


class _Marks:
    """What is unsure about the marks of one clip."""

    def __init__(self, timing: Timing, marker: Marker, interval_s: float, scale_u: float) -> None:
        placed = timing.resolved.placed
        events = sorted({p.mark.event for p in placed})
        where = {event: n for n, event in enumerate(events)}
        self._event = np.array([where[p.mark.event] for p in placed], dtype=np.intp)
        each = np.array([marker.spread_s(event, interval_s) for event in events])
        self._spread_s = each[self._event] if events else each
        self._habit_s = np.array([marker.habit_s(event, interval_s) for event in events])
        self._scaled_s = scale_u * np.array([p.time_s for p in placed])

    def certainty_of(self, term: Term) -> Certainty:
        g: Gradient = term.gradient
        moved = g * self._spread_s
        spread = math.hypot(math.sqrt(float(moved @ moved)), term.bias)
        habit = np.bincount(self._event, g, self._habit_s.size) * self._habit_s
        return Certainty(
            spread, math.sqrt(float(habit @ habit)), abs(float(g @ self._scaled_s)), term.own
        )
