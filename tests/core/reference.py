"""The timing quantities once more, written from their definitions with nothing shared.

Slow and plain on purpose: every value goes over all marks again. It checks `compute_timing`; where
the two disagree, one of them is wrong. Marks are (time, lane, side, event, metres) tuples that
need no sorting out: nothing doubled, nothing in wrong order (tests/core/test_left_out.py has that).
"""

from __future__ import annotations

import itertools
import statistics
from typing import NamedTuple


class M(NamedTuple):
    t: float
    lane: str
    side: str
    event: str
    metres: float | None = None


Marks = list[M]


def walls_before(marks: Marks, t: float) -> int:
    """How many walls were touched or left up to an instant."""
    return sum(m.lane == "wall" and m.event in ("touch", "push") and m.t <= t for m in marks)


def same_length(marks: Marks, a: float, b: float) -> bool:
    return walls_before(marks, a) == walls_before(marks, b)


def times(marks: Marks, event: str, side: str | None = None) -> list[float]:
    return sorted(m.t for m in marks if m.event == event and side in (None, m.side))


def opening(stroke: str) -> str:
    return "out" if stroke == "breaststroke" else "entry"


def arms_of(stroke: str) -> list[str]:
    return ["left", "right"] if stroke in ("freestyle", "backstroke") else [""]


def intervals(marks: Marks, stroke: str, side: str) -> list[tuple[float, float]]:
    """Successive openings of one arm with no wall between."""
    opens = times(marks, opening(stroke), side)
    return [(a, b) for a, b in itertools.pairwise(opens) if same_length(marks, a, b)]


def gaps(marks: Marks, stroke: str) -> list[tuple[float, float, str]]:
    """Intervals in which an opening seems to be missing."""
    found = []
    for side in arms_of(stroke):
        every = intervals(marks, stroke, side)
        if len(every) >= 3:
            usual = statistics.median(b - a for a, b in every)
            found += [(a, b, side) for a, b in every if b - a > 1.75 * usual]
    return found


def cycles(marks: Marks, stroke: str) -> list[tuple[float, float, str]]:
    """Whole cycles of all arms as (start, end, side)."""
    missing = {(a, b, s) for a, b, s in gaps(marks, stroke)}
    every = [(a, b, s) for s in arms_of(stroke) for a, b in intervals(marks, stroke, s)]
    return [c for c in every if c not in missing]


def in_gap(marks: Marks, stroke: str, a: float, b: float, side: str | None = None) -> bool:
    return any(a < end and b > start for start, end, s in gaps(marks, stroke) if side in (None, s))


def mean_or_none(values: list[float]) -> float | None:
    return sum(values) / len(values) if values else None


def mean_cycle(marks: Marks, stroke: str) -> float | None:
    return mean_or_none([b - a for a, b, _ in cycles(marks, stroke)])


def rate(marks: Marks, stroke: str) -> float | None:
    found = cycles(marks, stroke)
    return 60 * len(found) / sum(b - a for a, b, _ in found) if found else None


def rate_u(marks: Marks, stroke: str, frame_s: float) -> float | None:
    """Each end mark of a stretch errs by D / sqrt(12); inner marks cancel."""
    found = cycles(marks, stroke)
    if not found:
        return None
    variance = 0.0
    for a, b, side in found:
        variance += frame_s**2 / 12 * (not any(e == a and s == side for _, e, s in found))
        variance += frame_s**2 / 12 * (not any(c == b and s == side for c, _, s in found))
    total = sum(b - a for a, b, _ in found)
    return 60 * len(found) / total * variance**0.5 / total


def phase(
    marks: Marks, stroke: str, start: str, end: str, side: str | None = None
) -> tuple[float, float, int] | None:
    """Mean seconds, mean share in percent and number over whole cycles that have both ends."""
    seconds, shares = [], []
    for a, b, s in cycles(marks, stroke):
        if side not in (None, s):
            continue
        inside = {m.event: m.t for m in marks if m.lane == "arm" and m.side == s and a <= m.t < b}
        first = inside.get(start)
        last = b if end == opening(stroke) else inside.get(end)
        if first is not None and last is not None:
            seconds.append(last - first)
            shares.append(100 * (last - first) / (b - a))
    if not seconds:
        return None
    return sum(seconds) / len(seconds), sum(shares) / len(shares), len(seconds)


def hand_over(marks: Marks, stroke: str, source: str, target: str) -> float | None:
    """Mean exit of one arm minus nearest press of the other."""
    cycle = mean_cycle(marks, stroke)
    found = []
    for x in times(marks, "exit", source):
        presses = [p for p in times(marks, "press", target) if same_length(marks, x, p)]
        if not presses or cycle is None:
            continue
        p = min(presses, key=lambda at: abs(at - x))
        if abs(p - x) < cycle / 2 and not in_gap(marks, stroke, min(p, x), max(p, x)):
            found.append(x - p)
    return mean_or_none(found)


def index(marks: Marks, stroke: str) -> float | None:
    a = hand_over(marks, stroke, "left", "right")
    b = hand_over(marks, stroke, "right", "left")
    cycle = mean_cycle(marks, stroke)
    return 100 * (a + b) / 2 / cycle if None not in (a, b, cycle) else None  # type: ignore[operator]


def rhythm(marks: Marks, stroke: str) -> float | None:
    entries = sorted((m.t, m.side) for m in marks if m.event == "entry")
    steps: dict[str, list[float]] = {"left": [], "right": []}
    for (a, first), (b, second) in itertools.pairwise(entries):
        if first != second and same_length(marks, a, b) and not in_gap(marks, stroke, a, b):
            steps[first].append(b - a)
    left, right = mean_or_none(steps["left"]), mean_or_none(steps["right"])
    if left is None or right is None:
        return None
    return 100 * (left - right) / (left + right)


def breaths(marks: Marks) -> list[dict[str, float | str | None]]:
    found: list[dict[str, float | str | None]] = []
    airs = [m for m in sorted(marks) if m.event == "air"]
    for n, air in enumerate(airs):
        before = airs[n - 1].t if n else float("-inf")
        after = airs[n + 1].t if n + 1 < len(airs) else float("inf")
        turns = [m for m in marks if m.event == "turn" and before < m.t < air.t]
        downs = [m.t for m in marks if m.event == "down" and air.t < m.t < after]
        turn = max(turns, key=lambda m: m.t) if turns else None
        side = air.side or (turn.side if turn else "") or "front"
        found.append(
            {"air": air.t, "turn": turn.t if turn else None, "down": min(downs, default=None),
             "side": side}
        )  # fmt: skip
    return found


def pattern(marks: Marks, stroke: str) -> list[int]:
    cycle = mean_cycle(marks, stroke)
    airs = times(marks, "air")
    counts = []
    for a, b in itertools.pairwise(airs):
        if cycle is None or not same_length(marks, a, b) or in_gap(marks, stroke, a, b):
            continue
        marked = True
        for side in ("left", "right"):
            here = [t for t in times(marks, "entry", side) if same_length(marks, t, a)]
            marked &= bool(here) and here[0] - cycle <= a and b <= here[-1] + cycle
        if marked:
            counts.append(sum(a < t <= b for t in times(marks, "entry")))
    return counts


def breath_return(marks: Marks, stroke: str) -> float | None:
    found = []
    for b in breaths(marks):
        later = [
            t
            for t in times(marks, "entry", str(b["side"]))
            if t > b["air"] and same_length(marks, t, b["air"])  # type: ignore[operator, arg-type]
        ]
        if b["down"] is None or not later:
            continue
        if not in_gap(marks, stroke, b["air"], later[0], str(b["side"])):  # type: ignore[arg-type]
            found.append(later[0] - b["down"])  # type: ignore[operator]
    return mean_or_none(found)


def head_lead(marks: Marks, stroke: str) -> float | None:
    cycle = mean_cycle(marks, stroke)
    found = []
    for b in breaths(marks):
        turn = b["turn"]
        presses = times(marks, "press", str(b["side"]))
        if turn is None or not presses:
            continue
        press = min(presses, key=lambda p: abs(p - turn))  # type: ignore[operator]
        near = cycle is None or abs(press - turn) <= cycle / 2  # type: ignore[operator]
        if near and same_length(marks, press, turn):  # type: ignore[arg-type]
            found.append(press - turn)  # type: ignore[operator]
    return mean_or_none(found)


def exhale_share(marks: Marks) -> float | None:
    ons, offs = times(marks, "bubbles-on"), times(marks, "bubbles-off")
    if not ons:
        return None
    every = breaths(marks)
    bubbled = total = 0.0
    for before, after in itertools.pairwise(every):
        down, air = before["down"], after["air"]
        if down is None or not same_length(marks, down, air):  # type: ignore[arg-type]
            continue
        total += air - down  # type: ignore[operator]
        for on, off in zip(ons, offs, strict=True):
            bubbled += max(0.0, min(off, air) - max(on, down))  # type: ignore[type-var, operator]
    return 100 * bubbled / total if total else None


def surface_beats(marks: Marks, stroke: str) -> list[float]:
    beats = times(marks, "beat")
    for push in times(marks, "push"):
        ends = [t for t in times(marks, "breakout") if same_length(marks, t, push)]
        ends = ends or [t for t in times(marks, opening(stroke)) if same_length(marks, t, push)]
        end = min(ends, default=float("inf"))
        beats = [t for t in beats if not (same_length(marks, t, push) and t < end)]
    return beats


def beats_per_cycle(marks: Marks, stroke: str) -> float | None:
    beats = surface_beats(marks, stroke)
    steps = [b - a for a, b in itertools.pairwise(beats) if same_length(marks, a, b)]
    if not steps:
        return None
    usual = statistics.median(steps)
    counts = []
    for a, b, _ in cycles(marks, stroke):
        here = [t for t in beats if same_length(marks, t, a)]
        if here and a >= here[0] - usual and b <= here[-1] + usual:
            counts.append(sum(a <= t < b for t in here))
    return mean_or_none([float(c) for c in counts])


def speed(marks: Marks) -> float | None:
    metres = seconds = 0.0
    lengths = {walls_before(marks, m.t) for m in marks if m.event == "pass"}
    for length in lengths:
        here = sorted(m for m in marks if m.event == "pass" and walls_before(marks, m.t) == length)
        metres += (here[-1].metres or 0) - (here[0].metres or 0)
        seconds += here[-1].t - here[0].t
    return metres / seconds if seconds else None
