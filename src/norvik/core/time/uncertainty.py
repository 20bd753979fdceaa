"""How sure each quantity is: what the uncertainty of every single mark makes of it.

A mark on a frame lies anywhere within one frame interval D, with standard uncertainty D / sqrt(12)
(JCGM 100:2008, 4.3.7). A quantity q of marks at times t has u(q) = D / sqrt(12) * |dq/dt|, its
marks being independent (5.1.2 there). Each function here gives the gradient dq/dt, one number a
mark, so that marks that stand in a quantity twice, such as an entry that ends one cycle and begins
the next, count as they should.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from norvik.core.strokes import Phase
from norvik.core.time.coordination import hand_overs, hand_steps
from norvik.core.time.cycles import rate_fall
from norvik.core.time.kick import surface_gaps
from norvik.core.time.legs import leg_pairs
from norvik.core.time.phases import phase_ends
from norvik.core.time.quantities import QUANTITIES
from norvik.core.time.resolve import OrderedMark, ResolvedMarks, Slot
from norvik.core.time.speed import pass_ends, reach_ends
from norvik.core.time.timebase import mark_uncertainty_s
from norvik.core.time.timing import Timing
from norvik.core.time.walls import wall_marks

Gradient = NDArray[np.float64]
#: (from, to): an interval between two marks.
Interval = tuple[OrderedMark, OrderedMark]


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


class Uncertainties(Mapping[str, float]):
    """Standard uncertainty of each known quantity by its dotted path, in the quantity's unit.

    Empty without a frame interval. Counts and shares of counts have none and are not listed.
    Worked out by topic when first asked for: whoever looks at one topic waits for no other.
    """

    def __init__(self, timing: Timing) -> None:
        self._timing = timing
        self._known: dict[str, dict[str, float]] = {}

    @cached_property
    def _gradients(self) -> _Gradients:
        return _Gradients(self._timing)

    def _of(self, topic: str) -> dict[str, float]:
        if topic not in self._known:
            self._known[topic] = self._work_out(topic)
        return self._known[topic]

    def _work_out(self, topic: str) -> dict[str, float]:
        interval_s = self._timing.frame_interval_s
        if interval_s is None:
            return {}
        u_mark = mark_uncertainty_s(interval_s)
        found = {
            path: u_mark * float(np.sqrt(gradient @ gradient))
            for path, gradient in {
                **self._gradients.of(topic),
                **self._gradients.declared(topic),
            }.items()
            if gradient is not None
        }
        if topic == "rhythm":
            fall = rate_fall(self._timing.resolved.cycles, interval_s)
            if fall is not None:
                found["cycles.drift_pct_per_min"] = fall.drift_u
        return found

    def __getitem__(self, path: str) -> float:
        return self._of(_TOPICS[path.split(".", 1)[0]])[path]

    def __iter__(self) -> Iterator[str]:
        for topic in dict.fromkeys(_TOPICS.values()):
            yield from self._of(topic)

    def __len__(self) -> int:
        return sum(1 for _ in self)


class _Gradients:
    """The gradients of one clip's quantities."""

    def __init__(self, timing: Timing) -> None:
        self.timing = timing
        self.resolved: ResolvedMarks = timing.resolved
        self.n = self.resolved.count
        self.cycle_s = self.resolved.mean_cycle_s
        self.cycle = self._mean([_ends(c) for c in self.resolved.cycles])

    def of(self, topic: str) -> dict[str, Gradient | None]:
        """Gradients of one topic of _TOPICS, by path; None where a quantity is not known."""
        work_out: dict[str, Callable[[], dict[str, Gradient | None]]] = {
            "rhythm": self._rhythm,
            "phases": self._phases,
            "together": self._together,
            "breathing": self._breathing,
            "kick": self._kick,
            "legs": self._legs,
            "walls": self._walls,
            "speed": self._speed,
            "quantities": dict,
        }
        return work_out[topic]()

    def declared(self, topic: str) -> dict[str, Gradient | None]:
        """Of the quantities of one topic that are declared by the marks they lie between."""
        found: dict[str, Gradient | None] = {}
        for q in QUANTITIES.values():
            path = q.path or f"quantities.{q.id}"
            if q.intervals is None or _TOPICS[path.split(".", 1)[0]] != topic:
                continue
            if self.timing.stroke not in q.strokes:
                continue
            ends = q.intervals(self.timing)
            mean = self._mean(ends)
            if mean is None:
                continue
            if q.of_cycle:
                pct = 100 * _mean_s(ends) / self.cycle_s if self.cycle_s else None
                mean = self._of_cycle_pct(mean, pct)
            found[path] = mean
        return found

    # ---- what gradients are made of ----

    def _sum(self, intervals: Sequence[Interval]) -> Gradient:
        ends = np.fromiter((b.order for _, b in intervals), np.intp, len(intervals))
        starts = np.fromiter((a.order for a, _ in intervals), np.intp, len(intervals))
        return (np.bincount(ends, minlength=self.n) - np.bincount(starts, minlength=self.n)).astype(
            np.float64
        )

    def _mean(self, intervals: Iterable[Interval]) -> Gradient | None:
        """Of the mean length of intervals; None without any."""
        given = list(intervals)
        return self._sum(given) / len(given) if given else None

    def _of_cycle_pct(self, gradient: Gradient | None, pct: float | None) -> Gradient | None:
        """Of a mean in percent of the mean cycle, from that of the mean in seconds."""
        if gradient is None or pct is None or self.cycle is None or not self.cycle_s:
            return None
        return 100 * gradient / self.cycle_s - pct / self.cycle_s * self.cycle

    # ---- by topic ----

    def _rhythm(self) -> dict[str, Gradient | None]:
        if self.cycle is None or not self.cycle_s:
            return {}
        rate, time_s = self.timing.rate, self.timing.cycles.time_s
        per_min, per_stroke = rate.cycles_per_min or 0.0, rate.strokes_per_min or 0.0
        found: dict[str, Gradient | None] = {
            "cycles.time_s.mean": self.cycle,
            "rate.cycles_per_min": -per_min / self.cycle_s * self.cycle,
            "rate.strokes_per_min": -per_stroke / self.cycle_s * self.cycle,
        }
        cycles = self.resolved.cycles
        if time_s.sd and time_s.cv_pct is not None:
            away = np.array([c.seconds - self.cycle_s for c in cycles])
            away /= (len(cycles) - 1) * time_s.sd
            orders = np.array([(a.order, b.order) for a, b in map(_ends, cycles)])
            sd = self._at(orders, np.column_stack((-away, away)))
            found["cycles.time_s.sd"] = sd
            found["cycles.time_s.cv_pct"] = self._of_cycle_pct(sd, time_s.cv_pct)
        return found

    def _phases(self) -> dict[str, Gradient | None]:
        found: dict[str, Gradient | None] = {}
        rules, timing = self.resolved.stroke, self.timing
        tables = [("phases", rules.phases, timing.phases)]
        if timing.phases4 is not None:
            tables.append(("phases4", rules.phases4, timing.phases4))
        for name, phases, table in tables:
            for phase in phases:
                means: dict[str, Gradient | None] = {}
                for side, (mean, share) in self._phase(phase).items():
                    if table[side][phase.name] is not None:
                        found[f"{name}.{side}.{phase.name}.mean_s"] = means[side] = mean
                        found[f"{name}.{side}.{phase.name}.share_pct"] = share
                if name == "phases" and timing.symmetry_pct is not None:
                    found[f"symmetry_pct.{phase.name}"] = self._symmetry(phase.name, means)
        return found

    def _phase(self, phase: Phase) -> dict[str, tuple[Gradient, Gradient]]:
        """By side: of the mean seconds, and of the mean of each cycle's own share in percent."""
        opens = self.resolved.stroke.opens
        sides, orders, parts, wholes = [], [], [], []
        for cycle in self.resolved.cycles:
            ends = phase_ends(cycle, phase, opens)
            if ends is not None:
                start, end = _ends(cycle)
                sides.append(cycle.side)
                orders.append((ends[0].order, ends[1].order, start.order, end.order))
                parts.append(ends[1].time_s - ends[0].time_s)
                wholes.append(cycle.seconds)
        found: dict[str, tuple[Gradient, Gradient]] = {}
        if not sides:
            return found
        side, where = np.array(sides), np.array(orders, dtype=np.intp)
        whole = np.array(wholes)
        # A share is part / whole: its ends move the part, the cycle's ends move the whole.
        pull = np.array(parts) / whole**2
        moves = np.column_stack((-1 / whole, 1 / whole, pull, -pull))
        ones = np.broadcast_to([-1.0, 1.0], (len(sides), 2))
        for name in ("left", "right", "both"):
            of_it = np.ones(len(sides), bool) if name == "both" else side == name
            n = int(of_it.sum())
            if n:
                mean = self._at(where[of_it, :2], ones[of_it]) / n
                found[name] = mean, 100 * self._at(where[of_it], moves[of_it]) / n
        return found

    def _at(self, orders: NDArray[np.intp], weights: NDArray[np.float64]) -> Gradient:
        """A gradient with these weights at these marks, added where they meet."""
        return np.bincount(orders.ravel(), weights.ravel(), self.n).astype(np.float64)

    def _symmetry(self, name: str, means: dict[str, Gradient | None]) -> Gradient | None:
        left, right = (self.timing.phases[side][name] for side in ("left", "right"))
        l_grad, r_grad = means.get("left"), means.get("right")
        if left is None or right is None or l_grad is None or r_grad is None:
            return None
        both = left.mean_s + right.mean_s
        return 400 * (left.mean_s * r_grad - right.mean_s * l_grad) / both**2 if both else None

    def _together(self) -> dict[str, Gradient | None]:
        """Coordination, hand-to-hand rhythm, front-quadrant timing."""
        timing, resolved = self.timing, self.resolved
        if timing.coordination is None:
            return {}
        one, other = (
            self._mean((h.press, h.release) for h in hand_overs(resolved, a, b))
            for a, b in (("left", "right"), ("right", "left"))
        )
        found: dict[str, Gradient | None] = {}
        if one is not None and other is not None:
            index = timing.coordination.index_pct
            found["coordination.index_pct"] = self._of_cycle_pct((one + other) / 2, index)
        steps = hand_steps(resolved)
        a, b = self._mean(steps["left"]), self._mean(steps["right"])
        if timing.rhythm_pct is not None and a is not None and b is not None:
            a_s, b_s = _mean_s(steps["left"]), _mean_s(steps["right"])
            found["rhythm_pct"] = 200 * (b_s * a - a_s * b) / (a_s + b_s) ** 2
        return found

    def _breathing(self) -> dict[str, Gradient | None]:
        resolved, breathing = self.resolved, self.timing.breathing
        found: dict[str, Gradient | None] = {}
        if breathing.exhale_share_pct is not None:
            stretches = [e.ends for e in resolved.exhales]
            bubbles = [b for e in resolved.exhales for b in e.bubbles]
            total = sum(e.seconds for e in resolved.exhales)
            share = breathing.exhale_share_pct
            found["breathing.exhale_share_pct"] = (
                100 * self._sum(bubbles) - share * self._sum(stretches)
            ) / total
        return found

    def _kick(self) -> dict[str, Gradient | None]:
        kick, gaps = self.timing.kick, surface_gaps(self.resolved)
        if kick is None or not gaps:
            return {}
        found: dict[str, Gradient | None] = {
            "kick.longest_gap_s": self._sum([max(gaps, key=_seconds)])
        }
        if kick.beats_per_min is not None:
            total = sum(map(_seconds, gaps))
            found["kick.beats_per_min"] = -kick.beats_per_min / total * self._sum(gaps)
        return found

    def _legs(self) -> dict[str, Gradient | None]:
        timing, found = self.timing, dict[str, Gradient | None]()
        if timing.legs is None:
            return found
        for phase in self.resolved.stroke.leg_phases:
            mean, row = self._mean(leg_pairs(self.resolved, phase)), timing.legs[phase.name]
            found[f"legs.{phase.name}.mean_s"] = mean
            share = row.share_pct if row else None
            found[f"legs.{phase.name}.share_pct"] = self._of_cycle_pct(mean, share)
        return found

    def _walls(self) -> dict[str, Gradient | None]:
        found: dict[str, Gradient | None] = {}
        marks_of_walls = wall_marks(self.resolved, self.timing.pool_m)
        for n, (wall, marks) in enumerate(zip(self.timing.walls, marks_of_walls, strict=True)):
            for name, mark in marks.instants.items():
                one = np.zeros(self.n)
                one[mark.order] = 1
                found[f"walls.{n}.{name}"] = one
            for name, ends in marks.intervals.items():
                found[f"walls.{n}.{name}"] = self._sum([ends])
            if marks.breakout is not None and wall.breakout_m is not None:
                found[f"walls.{n}.breakout_m"] = self._breakout(marks.breakout)
        return found

    def _breakout(
        self, around: tuple[OrderedMark, float, OrderedMark, float, OrderedMark]
    ) -> Gradient:
        """Of the metres at the breakout, linear in time between the two places around it."""
        before, m0, after, m1, breakout = around
        span = after.time_s - before.time_s
        share = (breakout.time_s - before.time_s) / span
        speed = (m1 - m0) / span
        gradient = np.zeros(self.n)
        gradient[breakout.order] += speed
        gradient[before.order] -= speed * (1 - share)
        gradient[after.order] -= speed * share
        return gradient

    def _speed(self) -> dict[str, Gradient | None]:
        speed, lengths = self.timing.speed, pass_ends(self.resolved)
        if speed.m_per_s is None:
            return {}
        total = sum(map(_seconds, lengths))
        v = -speed.m_per_s / total * self._sum(lengths)
        found: dict[str, Gradient | None] = {"speed.m_per_s": v}
        if self.cycle is not None and self.cycle_s and speed.stroke_index is not None:
            found["speed.distance_per_cycle_m"] = self.cycle_s * v + speed.m_per_s * self.cycle
            found["speed.stroke_index"] = (
                2 * speed.m_per_s * self.cycle_s * v + speed.m_per_s**2 * self.cycle
            )
        reaches = reach_ends(self.resolved)
        reach = self._mean(reaches)
        if reach is not None and self.timing.hold_distance_m is not None:
            found["hold_distance_m"] = speed.m_per_s * reach + _mean_s(reaches) * v
        return found


def _ends(slot: Slot) -> Interval:
    assert slot.start is not None
    assert slot.end is not None
    return slot.start, slot.end


def _seconds(interval: Interval) -> float:
    return interval[1].time_s - interval[0].time_s


def _mean_s(intervals: Sequence[Interval]) -> float:
    return math.fsum(map(_seconds, intervals)) / len(intervals)
