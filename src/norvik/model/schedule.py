"""When everything happens in a freestyle swim: the truth that a clip is made from."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np

from norvik.core.events import Mark


@dataclass(frozen=True, slots=True)
class Swim:
    """What is put in. Times in seconds, shares of the cycle sum to 1.

    lag: left entry after right entry, in cycles (0.5 is even). breath_every: strokes from breath
    to breath, 0 for none; breath_side: of the first. head_lead_s: turn before the press.
    return_s: face down before the hand lands (negative: late). variation: SD of cycle times as a
    share. drift_per_min: growth of the cycle time as a share.
    """

    cycle_s: float = 1.7
    entry: float = 0.22
    catch: float = 0.14
    pull: float = 0.36
    recovery: float = 0.28
    lag: float = 0.5
    breath_every: int = 3
    breath_side: str = "right"
    head_lead_s: float = 0.1
    return_s: float = 0.12
    exhale: float = 0.7
    beats: int = 6
    variation: float = 0.01
    drift_per_min: float = 0.0
    seed: int = 1


@dataclass(frozen=True, slots=True)
class ArmCycle:
    """One cycle of one arm: the instants of its events in seconds."""

    side: str
    entry: float
    catch: float
    press: float
    shoulder: float
    exit: float
    next_entry: float


@dataclass(frozen=True, slots=True)
class BreathTimes:
    side: str
    turn: float
    air: float
    down: float
    bubbles_on: float | None = None
    bubbles_off: float | None = None


@dataclass(frozen=True)
class Schedule:
    """All events from a little before a clip to a little after it."""

    arms: dict[str, list[ArmCycle]]
    breaths: list[BreathTimes]
    beats: list[tuple[float, str]]

    def marks(self, from_s: float, to_s: float, with_shoulder: bool = True) -> list[Mark]:
        """The events in a stretch of time as marks, in time order."""
        found: list[Mark] = []

        def add(time_s: float | None, lane: str, side: str, event: str) -> None:
            if time_s is not None and from_s <= time_s < to_s:
                found.append(Mark(time_s - from_s, lane, side, event))

        for side, cycles in self.arms.items():
            for c in cycles:
                add(c.entry, "arm", side, "entry")
                add(c.catch, "arm", side, "catch")
                add(c.press, "arm", side, "press")
                if with_shoulder:
                    add(c.shoulder, "arm", side, "shoulder")
                add(c.exit, "arm", side, "exit")
        for b in self.breaths:
            add(b.turn, "breath", b.side, "turn")
            add(b.air, "breath", b.side, "air")
            add(b.down, "breath", b.side, "down")
            add(b.bubbles_on, "breath", "", "bubbles-on")
            add(b.bubbles_off, "breath", "", "bubbles-off")
        for time_s, side in self.beats:
            add(time_s, "leg", side, "beat")
        return sorted(found, key=lambda m: m.time_s)


def schedule(swim: Swim, seconds: float) -> Schedule:
    """Lay out a swim that fills 0..seconds and reaches beyond both ends."""
    rng = np.random.default_rng(swim.seed)
    right = [-3.0 * swim.cycle_s]
    while right[-1] < seconds + 4 * swim.cycle_s:
        grown = swim.cycle_s * (1 + swim.drift_per_min * max(0.0, right[-1]) / 60)
        right.append(right[-1] + grown * float(1 + swim.variation * rng.standard_normal()))
    left = [a + swim.lag * (b - a) for a, b in itertools.pairwise(right)]
    arms = {"left": _cycles("left", left, swim, rng), "right": _cycles("right", right, swim, rng)}
    breaths = _breaths(arms, swim)
    return Schedule(arms, breaths, _beats(right, swim))


def _cycles(
    side: str, entries: list[float], swim: Swim, rng: np.random.Generator
) -> list[ArmCycle]:
    cycles = []
    for start, end in itertools.pairwise(entries):
        shares = np.array([swim.entry, swim.catch, swim.pull, swim.recovery])
        shares = shares * (1 + swim.variation * rng.standard_normal(4))
        catch, press, out = start + (end - start) * np.cumsum(shares / shares.sum())[:3]
        shoulder = press + 0.52 * (out - press)
        cycles.append(
            ArmCycle(side, start, float(catch), float(press), float(shoulder), float(out), end)
        )
    return cycles


def _breaths(arms: dict[str, list[ArmCycle]], swim: Swim) -> list[BreathTimes]:
    if not swim.breath_every:
        return []
    strokes = sorted((c for cycles in arms.values() for c in cycles), key=lambda c: c.entry)
    first = next(n for n, c in enumerate(strokes) if c.side == swim.breath_side)
    bare = []
    for c in strokes[first :: swim.breath_every]:
        turn, down = c.press - swim.head_lead_s, c.next_entry - swim.return_s
        bare.append(BreathTimes(c.side, turn, turn + 0.45 * (down - turn), down))
    breaths = []
    for before, b in zip([None, *bare], bare, strict=False):
        on = off = None
        if before is not None and swim.exhale > 0:
            off = b.air - 0.02
            on = b.air - max(0.04, swim.exhale * (b.air - before.down))
        breaths.append(BreathTimes(b.side, b.turn, b.air, b.down, on, off))
    return breaths


def _beats(entries: list[float], swim: Swim) -> list[tuple[float, str]]:
    beats = []
    for start, end in itertools.pairwise(entries):
        for n in range(swim.beats):
            time_s = start + (end - start) * (n + 0.5) / swim.beats
            beats.append((time_s, "left" if n % 2 else "right"))
    return beats
