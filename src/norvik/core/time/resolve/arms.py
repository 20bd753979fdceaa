"""The arm lanes: which entries open cycles, where one is missing, which inner events count."""

from __future__ import annotations

from itertools import pairwise
from statistics import median

from norvik.core.strokes import StrokeRules
from norvik.core.strokes.definitions import event_name
from norvik.core.strokes.events import Problem
from norvik.core.strokes.names import Side
from norvik.core.time.resolve.marks import EPSILON_S, OrderedMark, Slot
from norvik.core.time.resolve.openings import between, settle_inner

#: Two entries of one arm nearer than this are one entry marked twice. Own choice: the fastest
#: sprinters take about 0.9 s a cycle.
DOUBLE_S = 0.4
#: Own choices: against the median interval of the arm.
TOO_SHORT = 0.5
TOO_LONG = 1.75
#: Intervals an arm needs before its median says anything.
ENOUGH = 3


def settle_arms(
    placed: list[OrderedMark], stroke: StrokeRules, problems: list[Problem]
) -> list[Slot]:
    """All slots of all arms, each arm's in time order. placed: the marks of the arm lane."""
    lanes: dict[Side, list[OrderedMark]] = {arm: [] for arm in stroke.arms}
    alternating = stroke.alternating
    for p in placed:
        mark = p.mark
        if alternating and mark.side not in lanes:
            problems.append(Problem(mark, "choose the arm: this mark needs left or right"))
        elif not alternating and mark.side in ("left", "right"):
            reason = f"both arms move together in {stroke.name}: the mark takes no side"
            problems.append(Problem(mark, reason))
        else:
            lanes[mark.side if alternating else "both"].append(p)
    slots: list[Slot] = []
    for arm, marks in lanes.items():
        slots.extend(_arm_slots(arm, marks, stroke, problems))
    return slots


def _arm_slots(
    arm: Side, marks: list[OrderedMark], stroke: StrokeRules, problems: list[Problem]
) -> list[Slot]:
    openings, gap_ends = _settle_openings(
        [p for p in marks if p.mark.event == stroke.opens], stroke.opens, problems
    )
    inner = [p for p in marks if p.mark.event != stroke.opens]
    slots: list[Slot] = []
    for length in sorted({p.length for p in marks}):
        bounds = [None, *(p for p in openings if p.length == length), None]
        here = [p for p in inner if p.length == length]
        for (start, end), inside in zip(pairwise(bounds), between(bounds, here), strict=True):
            if start is None and not inside:
                continue
            if start is None or end is None:
                kind = "partial"
            else:
                kind = "gap" if end.order in gap_ends else "cycle"
            slot = Slot(arm, length, start, end, kind)
            if kind == "gap":
                # A whole cycle may hide in here, so two catches are no contradiction.
                slot.loose = inside
            else:
                slot.inner = settle_inner(inside, stroke.arm_events[1:], problems)
            slots.append(slot)
    return slots


def _settle_openings(
    openings: list[OrderedMark], name: str, problems: list[Problem]
) -> tuple[list[OrderedMark], set[int]]:
    """The openings that count, and the order numbers of those before which one is missing."""
    kept: list[OrderedMark] = []
    for p in openings:
        if kept and p.time_s - kept[-1].time_s < DOUBLE_S - EPSILON_S:
            reason = f"a second {event_name(name)} of this arm within {DOUBLE_S} s"
            problems.append(Problem(p.mark, reason))
        else:
            kept.append(p)
    intervals = [b.time_s - a.time_s for a, b in pairwise(kept) if a.length == b.length]
    if len(intervals) < ENOUGH:
        return kept, set()
    usual = median(intervals)
    steady: list[OrderedMark] = []
    gap_ends: set[int] = set()
    for p in kept:
        if steady and steady[-1].length == p.length:
            seconds = p.time_s - steady[-1].time_s
            if seconds < TOO_SHORT * usual - EPSILON_S:
                reason = (
                    f"this {event_name(name)} comes after less than half "
                    "of this arm's usual cycle time"
                )
                problems.append(Problem(p.mark, reason))
                continue
            if seconds > TOO_LONG * usual + EPSILON_S:
                called = event_name(name)
                article = "an" if called[0] in "aeiou" else "a"
                reason = f"{article} {called} seems to be missing before this one"
                problems.append(Problem(p.mark, reason, left_out=False))
                gap_ends.add(p.order)
        steady.append(p)
    return steady, gap_ends
