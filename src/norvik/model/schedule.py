"""When everything happens in a swim: the truth that a clip is made from.

What is put in (Swim) becomes instants in seconds (Schedule); nothing here knows a body.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from itertools import pairwise

import numpy as np

from norvik.core.strokes.events import Mark
from norvik.core.strokes.names import Lane, Side, StrokeName, stroke_of
from norvik.model.dialled import dialled

STROKES = ("freestyle", "backstroke", "breaststroke", "butterfly", "wall")
#: Faults that are faults of timing: the dial changes the schedule.
TIMING_DIALS = (
    "overglide",
    "kick-uneven",
    "uneven-rhythm",
    "back-late-hold",
    "breast-slow-heels",
    "breast-hands-stop",
    "fly-late-breath",
    "fly-extra-kick",
    "fly-short",
    "wall-few-kicks",
    "wall-early-break",
)


@dataclass(frozen=True, slots=True)
class Swim:
    """What is put in. Times in seconds, shares of the cycle sum to 1.

    Shares: entry, catch, pull, recovery of an arm (breaststroke: entry is the stretch).
    lag: left entry after right entry, in cycles (0.5 is even). breath_every: strokes from breath
    to breath (cycles in butterfly and breaststroke), 0 for none; breath_side: of the first.
    head_lead_s: turn before the press. return_s: face down before the hand lands (negative:
    late). exhale: share of the time face down. beats: a cycle. variation: SD of cycle times as a
    share. drift_per_min: growth of the cycle time as a share. dolphins, flutters: after the wall.
    difference: by how much the left arm's pull is longer than the right one's, as a share of it.
    dials: fault id to amount 0..1.
    """

    stroke: str = "freestyle"
    cycle_s: float = 1.7
    entry: float = 0.22
    catch: float = 0.14
    pull: float = 0.36
    recovery: float = 0.28
    lag: float = 0.5
    breath_every: int = 3
    breath_side: Side = "right"
    head_lead_s: float = 0.1
    return_s: float = 0.12
    exhale: float = 0.7
    beats: int = 6
    variation: float = 0.01
    drift_per_min: float = 0.0
    difference: float = 0.0
    dolphins: int = 5
    flutters: int = 6
    seed: int = 1
    dials: dict[str, float] = field(default_factory=dict)

    @property
    def stroke_name(self) -> StrokeName:
        """The stroke that a coach would name: off a wall it is freestyle that is swum."""
        return stroke_of(self.stroke) or "freestyle"

    def dial(self, fault: str) -> float:
        return dialled(self.dials, fault)


#: How each stroke is swum when nothing else is said.
USUAL: dict[str, Swim] = {
    "freestyle": Swim(),
    "backstroke": Swim(stroke="backstroke", cycle_s=1.6, entry=0.12, catch=0.14, pull=0.42,
                       recovery=0.32, breath_every=0),
    "breaststroke": Swim(stroke="breaststroke", cycle_s=1.7, entry=0.34, catch=0.22, pull=0.20,
                         recovery=0.24, breath_every=1, beats=0),
    "butterfly": Swim(stroke="butterfly", cycle_s=1.3, entry=0.16, catch=0.16, pull=0.38,
                      recovery=0.30, breath_every=2, beats=2),
    "wall": Swim(stroke="wall", cycle_s=1.4, entry=0.16, catch=0.14, pull=0.40, recovery=0.30,
                 breath_every=4),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class ArmCycle:
    """One cycle of an arm lane: the instants of its events by name, and the next opening."""

    side: Side
    at: dict[str, float]
    end: float


@dataclass(frozen=True, slots=True)
class LegCycle:
    """Breaststroke legs: heels rise, feet set, feet together, and the next rise."""

    heels: float
    set: float
    close: float
    end: float


@dataclass(frozen=True, slots=True)
class BreathTimes:
    side: Side
    turn: float
    air: float
    down: float
    bubbles_on: float | None = None
    bubbles_off: float | None = None


@dataclass(frozen=True)
class Schedule:
    """All events from a little before a clip to a little after it.

    beats: (seconds, side) of the lowest points. walls: (seconds, event).
    """

    arms: dict[Side, list[ArmCycle]]
    breaths: list[BreathTimes]
    beats: list[tuple[float, Side]] = field(default_factory=list)
    legs: list[LegCycle] = field(default_factory=list)
    walls: list[tuple[float, str]] = field(default_factory=list)

    def wall(self, event: str) -> float:
        return next(t for t, e in self.walls if e == event)

    def marks(self, from_s: float, to_s: float, with_shoulder: bool = True) -> list[Mark]:
        """The events in a stretch of time as marks, in time order."""
        found: list[Mark] = []

        def add(time_s: float | None, lane: Lane, side: Side, event: str) -> None:
            if time_s is not None and from_s <= time_s < to_s:
                found.append(Mark(time_s - from_s, lane, side, event))

        for side, cycles in self.arms.items():
            for c in cycles:
                for event, time_s in c.at.items():
                    if event != "shoulder" or with_shoulder:
                        add(time_s, "arm", "" if side == "both" else side, event)
        for b in self.breaths:
            add(b.turn, "breath", b.side, "turn")
            add(b.air, "breath", b.side, "air")
            add(b.down, "breath", b.side, "down")
            add(b.bubbles_on, "breath", "", "bubbles-on")
            add(b.bubbles_off, "breath", "", "bubbles-off")
        for time_s, side in self.beats:
            add(time_s, "leg", side, "beat")
        for leg in self.legs:
            for event in ("heels", "set", "close"):
                add(getattr(leg, event), "leg", "", event)
        for time_s, event in self.walls:
            add(time_s, "wall", "", event)
        return sorted(found, key=lambda m: m.time_s)


def schedule(swim: Swim, seconds: float) -> Schedule:
    """Lay out a swim that fills 0..seconds and reaches beyond both ends."""
    rng = np.random.default_rng(swim.seed)
    timed = _with_timing_dials(swim)
    layouts = {"breaststroke": _breaststroke, "butterfly": _butterfly, "wall": _wall}
    return layouts.get(swim.stroke, _alternating)(timed, seconds, rng)


def sides_swapped(plan: Schedule) -> Schedule:
    """The same events with left and right exchanged."""
    other: dict[Side, Side] = {"left": "right", "right": "left"}

    def of(side: Side) -> Side:
        return other.get(side, side)

    return replace(
        plan,
        arms={of(s): [replace(c, side=of(c.side)) for c in a] for s, a in plan.arms.items()},
        breaths=[replace(b, side=of(b.side)) for b in plan.breaths],
        beats=[(t, of(side)) for t, side in plan.beats],
    )


def _with_timing_dials(swim: Swim) -> Swim:
    """The same swim with the dials of timing turned into shares and lags."""
    glide, late = swim.dial("overglide"), swim.dial("back-late-hold")
    short, stop = swim.dial("fly-short"), swim.dial("breast-hands-stop")
    return replace(
        swim,
        cycle_s=swim.cycle_s * (1 + 0.35 * glide),
        entry=swim.entry * (1 + 1.2 * glide) * (1 - 0.75 * short),
        catch=swim.catch * (1 + 3.0 * late) * (1 - 0.6 * short),
        pull=swim.pull * (1 - 0.15 * glide - 0.2 * late) * (1 + 1.3 * stop),
        lag=swim.lag - 0.09 * swim.dial("uneven-rhythm"),
    )


def _openings(swim: Swim, from_s: float, to_s: float, rng: np.random.Generator) -> list[float]:
    """Where cycles begin, with variation and drift."""
    at = [from_s]
    while at[-1] < to_s:
        grown = swim.cycle_s * (1 + swim.drift_per_min * max(0.0, at[-1]) / 60)
        at.append(at[-1] + grown * float(1 + swim.variation * rng.standard_normal()))
    return at


def _arm_cycles(
    side: Side, entries: list[float], swim: Swim, rng: np.random.Generator
) -> list[ArmCycle]:
    cycles = []
    for start, end in pairwise(entries):
        longer = 1 + swim.difference * (side == "left")
        shares = np.array([swim.entry, swim.catch, swim.pull * longer, swim.recovery])
        shares = shares * (1 + swim.variation * rng.standard_normal(4))
        catch, press, out = (
            float(t) for t in start + (end - start) * np.cumsum(shares / shares.sum())[:3]
        )
        under = press + (0.46 if swim.stroke == "backstroke" else 0.52) * (out - press)
        at = {"entry": start, "catch": catch, "press": press, "shoulder": under, "exit": out}
        cycles.append(ArmCycle(side, at, end))
    return cycles


def _alternating(swim: Swim, seconds: float, rng: np.random.Generator) -> Schedule:
    right = _openings(swim, -3.0 * swim.cycle_s, seconds + 4 * swim.cycle_s, rng)
    left = [a + swim.lag * (b - a) for a, b in pairwise(right)]
    arms: dict[Side, list[ArmCycle]] = {
        "left": _arm_cycles("left", left, swim, rng),
        "right": _arm_cycles("right", right, swim, rng),
    }
    breaths = _side_breaths(arms, swim)
    return Schedule(arms, breaths, _flutter(right, swim, breaths))


def _side_breaths(arms: dict[Side, list[ArmCycle]], swim: Swim) -> list[BreathTimes]:
    if not swim.breath_every:
        return []
    strokes = sorted((c for cycles in arms.values() for c in cycles), key=lambda c: c.at["entry"])
    first = next(n for n, c in enumerate(strokes) if c.side == swim.breath_side)
    bare = []
    for c in strokes[first :: swim.breath_every]:
        turn, down = c.at["press"] - swim.head_lead_s, c.end - swim.return_s
        bare.append(BreathTimes(c.side, turn, turn + 0.45 * (down - turn), down))
    return _with_bubbles(bare, swim)


def _with_bubbles(bare: list[BreathTimes], swim: Swim) -> list[BreathTimes]:
    if swim.exhale <= 0:
        return bare
    breaths = bare[:1]
    for before, b in pairwise(bare):
        off = b.air - 0.02
        on = b.air - max(0.04, swim.exhale * (b.air - before.down))
        breaths.append(replace(b, bubbles_on=on, bubbles_off=off))
    return breaths


def _flutter(
    entries: list[float], swim: Swim, breaths: list[BreathTimes]
) -> list[tuple[float, Side]]:
    beats: list[tuple[float, Side]] = []
    for start, end in pairwise(entries):
        for n in range(swim.beats):
            time_s = start + (end - start) * (n + 0.5) / swim.beats
            beats.append((time_s, "left" if n % 2 else "right"))
    if swim.dial("kick-uneven") > 0.3:
        beats = [(t, s) for t, s in beats if not any(b.turn - 0.1 <= t <= b.down for b in breaths)]
    return beats


def _butterfly(swim: Swim, seconds: float, rng: np.random.Generator) -> Schedule:
    entries = _openings(swim, -3.0 * swim.cycle_s, seconds + 4 * swim.cycle_s, rng)
    cycles = _arm_cycles("both", entries, swim, rng)
    late, extra = swim.dial("fly-late-breath"), swim.dial("fly-extra-kick")
    breaths: list[BreathTimes] = []
    beats: list[tuple[float, Side]] = []
    for n, c in enumerate(cycles):
        span = c.end - c.at["entry"]
        beats += [(c.at["entry"] + 0.06 * span, "both"), (c.at["exit"] - 0.05 * span, "both")]
        if extra > 0.3:
            beats.append((c.at["catch"] + 0.10 * span, "both"))
        if swim.breath_every and n % swim.breath_every == 0:
            air = c.at["shoulder"] + (0.55 + 0.9 * late) * (c.at["exit"] - c.at["shoulder"])
            down = c.end - (0.10 - 0.16 * late) * span
            breaths.append(BreathTimes("front", c.at["press"] + 0.1 * span, air, down))
    return Schedule({"both": cycles}, _with_bubbles(breaths, swim), sorted(beats))


def _breaststroke(swim: Swim, seconds: float, rng: np.random.Generator) -> Schedule:
    """The arms begin with the out-sweep; the heels rise as the hands shoot."""
    outs = _openings(swim, -3.0 * swim.cycle_s, seconds + 4 * swim.cycle_s, rng)
    slow = swim.dial("breast-slow-heels")
    cycles, legs, breaths = [], [], []
    rest = swim.catch + swim.pull + swim.recovery + swim.entry
    for start, end in pairwise(outs):
        span = end - start
        turned = start + span * swim.catch / rest
        shoot = turned + span * swim.pull / rest
        long = shoot + span * swim.recovery / rest
        cycles.append(
            ArmCycle("both", {"out": start, "in": turned, "shoot": shoot, "long": long}, end)
        )
        # The legs go with the arms that shoot: a longer glide makes them no slower.
        shooting = long - shoot
        heels = shoot - (0.25 + 0.67 * slow) * shooting
        feet = long - 0.08 * shooting
        legs.append((heels, feet, feet + 0.71 * shooting))
        breaths.append(
            BreathTimes(
                "front", turned - 0.04 * span, turned + 0.08 * span, shoot + 0.5 * (long - shoot)
            )
        )
    leg_cycles = [LegCycle(*a, end=b[0]) for a, b in pairwise(legs)]
    return Schedule({"both": cycles}, _with_bubbles(breaths, swim), legs=leg_cycles)


#: Seconds of a clip before the feet leave the wall.
PUSH_S = 0.5


def _wall(swim: Swim, seconds: float, rng: np.random.Generator) -> Schedule:
    """Push-off, dolphins, flutter kicks, breakout, then freestyle."""
    dolphins = max(1, round(swim.dolphins * (1 - 0.8 * swim.dial("wall-few-kicks"))))
    beats: list[tuple[float, Side]] = []
    t = PUSH_S + 0.55
    for _ in range(dolphins):
        beats.append((t, "both"))
        t += 0.46
    for n in range(swim.flutters):
        beats.append((t, "left" if n % 2 else "right"))
        t += 0.2
    breakout = t + 0.1 - 0.7 * swim.dial("wall-early-break")
    first = breakout - 0.62 * swim.cycle_s
    right = [first, *(_openings(swim, first + swim.cycle_s, seconds + 3 * swim.cycle_s, rng))]
    left = [a + swim.lag * (b - a) for a, b in pairwise(right)]
    arms: dict[Side, list[ArmCycle]] = {
        "left": _arm_cycles("left", left, swim, rng),
        "right": _arm_cycles("right", right, swim, rng),
    }
    # Both hands lie ahead until they pull: their first entries are no events.
    for cycles in arms.values():
        opening = cycles[0]
        at = {e: s for e, s in opening.at.items() if e not in ("entry", "catch")}
        cycles[0] = ArmCycle(opening.side, at, opening.end)
    breaths = list(_side_breaths_after(arms, swim, breakout))
    # Under water the kicks are those of the wall; at the surface the stroke's own.
    free_from = max(breakout, beats[-1][0] + 0.1)
    beats += [(t, s) for t, s in _flutter(right, swim, breaths) if t > free_from]
    return Schedule(arms, breaths, beats, walls=[(PUSH_S, "push"), (breakout, "breakout")])


def _side_breaths_after(
    arms: dict[Side, list[ArmCycle]], swim: Swim, from_s: float
) -> list[BreathTimes]:
    later = {
        side: [c for c in cycles if "entry" in c.at and c.at["press"] > from_s + 0.5]
        for side, cycles in arms.items()
    }
    return _side_breaths(later, swim)
