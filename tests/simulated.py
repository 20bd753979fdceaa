"""Swims drawn at random, with everything about the swimmer known; and people who mark them.

Apart from the model swimmer on purpose: plain sums of normal numbers, with both arms in one rhythm.
"""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from itertools import pairwise

from norvik.core.strokes.events import Mark
from norvik.core.time.marker import Marker


@dataclass
class Swimmer:
    """Long-run values and how much single ones differ: shares of the cycle, seconds.

    cycle: seconds; cv: of the cycle time. shares: entry, catch, pull of the cycle, the recovery is
    the rest. apart: sd of each share. lag: of the right arm behind the left, in cycles.
    """

    cycle: float = 2.1
    cv: float = 0.015
    shares: tuple[float, float, float] = (0.20, 0.14, 0.40)
    apart: float = 0.012
    lag: float = 0.5
    lag_sd: float = 0.008
    head_lead: float = 0.10
    head_sd: float = 0.03
    breath: float = 0.45
    breath_sd: float = 0.04
    back_before: float = 0.12
    exhale: float = 0.7
    exhale_sd: float = 0.06
    kick_sd: float = 0.02
    turn: tuple[float, float] = (0.9, 0.06)
    glide: tuple[float, float] = (0.5, 0.1)
    under: tuple[float, float] = (3.0, 0.25)
    speed: tuple[float, float] = (1.3, 0.02)
    walls: bool = True
    cycles: int = 6
    lengths: int = 2


@dataclass
class Swim:
    """Exact marks, and long-run values by the path of the quantity."""

    marks: list[Mark]
    truth: dict[str, float] = field(default_factory=dict)


def crawl(s: Swimmer, rng: random.Random) -> Swim:
    """Freestyle over some lengths: arms, kicks, breaths, walls, passes."""
    g = rng.gauss
    marks: list[Mark] = []
    now = 0.5
    lengths, cycles = (s.lengths, s.cycles) if s.walls else (1, s.lengths * s.cycles)
    for length in range(lengths):
        begins = now
        if length:
            # The wall between: last entry, touch, push, breakout.
            touch = now + max(0.1, g(*s.glide))
            push = touch + max(0.2, g(*s.turn))
            out = push + max(0.8, g(*s.under))
            marks += [Mark(t, "wall", "", e) for t, e in
                      ((touch, "touch"), (push, "push"), (out, "breakout"))]  # fmt: skip
            now = begins = out + 0.3
        rhythm = [now]
        for _ in range(cycles + 1):
            rhythm.append(rhythm[-1] + max(0.4, g(s.cycle, s.cv * s.cycle)))
        entries = {
            "left": rhythm[:-1],
            "right": [a + (b - a) * g(s.lag, s.lag_sd) for a, b in pairwise(rhythm)],
        }
        pulls: dict[str, list[float]] = {"left": [], "right": []}
        for side, times in entries.items():
            for n, at in enumerate(times):
                marks.append(Mark(at, "arm", side, "entry"))
                if n + 1 == len(times):
                    break
                whole, here = times[n + 1] - at, at
                for event, share in zip(("catch", "press", "exit"), s.shares, strict=True):
                    here += whole * max(0.02, g(share, s.apart))
                    marks.append(Mark(here, "arm", side, event))
                    if event == "press":
                        pulls[side].append(here)
        # A breath to the left in every second cycle.
        for press, entry in list(zip(pulls["left"], entries["left"][1:], strict=False))[::2]:
            turn = press - g(s.head_lead, s.head_sd)
            air = turn + 0.25
            down = entry - g(s.back_before, s.head_sd)
            down = max(down, air + 0.1)
            marks += [Mark(t, "breath", "left", e) for t, e in
                      ((turn, "turn"), (air, "air"), (down, "down"))]  # fmt: skip
        ends = max(entries["left"][-1], entries["right"][-1])
        airs = sorted(m.time_s for m in marks if m.event == "air" and m.time_s > begins)
        downs = sorted(m.time_s for m in marks if m.event == "down" and m.time_s > begins)
        for down, air in zip(downs, airs[1:], strict=False):
            share = min(0.97, max(0.05, g(s.exhale, s.exhale_sd)))
            on = down + 0.01 * (air - down)
            marks.append(Mark(on, "breath", "", "bubbles-on"))
            marks.append(Mark(on + share * (air - down), "breath", "", "bubbles-off"))
        for a, b in pairwise(rhythm):
            for k in range(6):
                at = a + (b - a) * (k + 0.3) / 6 + g(0, s.kick_sd)
                marks.append(Mark(at, "leg", "left" if k % 2 else "right", "beat"))
        v = max(0.3, g(*s.speed))
        first = begins + 0.2
        marks += [Mark(first, "course", "", "pass", metres=5.0),
                  Mark(first + 10 / v, "course", "", "pass", metres=15.0)]  # fmt: skip
        now = ends
    _, press, leave = (sum(s.shares[: n + 1]) for n in range(3))
    marks.sort(key=lambda m: m.time_s)
    return Swim(
        marks,
        {
            "cycles.time_s.mean": s.cycle,
            "rate.cycles_per_min": 60 / s.cycle,
            "rate.strokes_per_min": 120 / s.cycle,
            "phases.both.entry.share_pct": 100 * s.shares[0],
            "phases.both.catch.share_pct": 100 * s.shares[1],
            "phases.both.pull.share_pct": 100 * s.shares[2],
            "phases.both.recovery.share_pct": 100 * (1 - sum(s.shares)),
            "phases.left.entry.share_pct": 100 * s.shares[0],
            "breathing.head_lead_s": s.head_lead,
            "coordination.index_pct": 100 * (leave - s.lag - press),
            "symmetry_pct.pull": 0.0,
            "rhythm_pct": 100 * (2 * s.lag - 1),
            "breathing.exhale_share_pct": 100 * s.exhale,
        },
    )  # fmt: skip


def marked(
    swim: Swim, marker: Marker, fps: float, rng: random.Random, keep_order: bool = True
) -> list[Mark]:
    """The swim as somebody marks it: the instant, its habit and spread, on the nearest frame.

    The grid lies anywhere. Marks of one lane keep their order: nobody marks an exit before the
    pull that leads to it.
    """
    d = 1 / fps
    offset = rng.random() * d
    habits = {
        event: rng.gauss(0, marker.habit_s(event, d))
        for event in sorted({m.event for m in swim.marks})
    }
    found = []
    for m in swim.marks:
        error = rng.gauss(0, marker.of_event(m.event).spread_s(d)) + habits[m.event]
        frame = round((m.time_s + error - offset) / d)
        found.append(m._replace(time_s=frame * d + offset, frame=frame))
    return found


def breaststroke(rng: random.Random, cycle: float = 1.5, cycles: int = 8) -> Swim:
    """Arms and legs of breaststroke, each part with a spread of its own; no walls."""
    g, marks, now = rng.gauss, list[Mark](), 0.4
    arms = {"out": 0.0, "in": 0.22, "shoot": 0.42, "long": 0.60}
    legs = {"heels": 0.36, "set": 0.56, "close": 0.78}
    for n in range(cycles + 1):
        whole = max(0.8, g(cycle, 0.02 * cycle))
        for event, share in arms.items():
            if event == "out" or n < cycles:
                at = now + whole * share + (g(0, 0.02) if share else 0)
                marks.append(Mark(at, "arm", "", event))
        if n < cycles:
            for event, share in legs.items():
                marks.append(Mark(now + whole * share + g(0, 0.02), "leg", "", event))
            air = now + whole * 0.30 + g(0, 0.03)
            marks.append(Mark(air, "breath", "front", "air"))
            marks.append(Mark(air + g(0.35, 0.03), "breath", "front", "down"))
        now += whole
    marks.sort(key=lambda m: m.time_s)
    return Swim(marks, {"cycles.time_s.mean": cycle, "rate.cycles_per_min": 60 / cycle})
