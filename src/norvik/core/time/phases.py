"""Seconds and shares of the phases of the arm cycle, and how alike left and right are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.statistics import mean, sd
from norvik.core.strokes import Phase
from norvik.core.strokes.definitions import event_name
from norvik.core.time.marker import Marking
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import OrderedMark, ResolvedMarks, Slot

SIDES = ("left", "right", "both")


@dataclass(frozen=True, slots=True)
class PhaseTime:
    """u_s: standard uncertainty of the mean. share_pct: mean of each cycle's own share."""

    mean_s: float
    sd_s: float | None
    u_s: float | None
    share_pct: float | None
    n: int


PhaseTable = dict[str, dict[str, PhaseTime | None]]


def phase_ends(slot: Slot, phase: Phase, opens: str) -> tuple[OrderedMark, OrderedMark] | None:
    """The marks between which a phase lies in one cycle; None where one of them is missing."""
    start = slot.at(phase.start, opens)
    end = slot.end if phase.end == opens else slot.at(phase.end, opens)
    return (start, end) if start and end else None


def phase_seconds(slot: Slot, phase: Phase, opens: str) -> float | None:
    """Seconds of a phase in one whole cycle; None where an end of it is not marked."""
    ends = phase_ends(slot, phase, opens)
    return ends[1].time_s - ends[0].time_s if ends else None


def summarise(
    seconds: Sequence[float], shares: Sequence[float], phase: Phase, marking: Marking
) -> PhaseTime | None:
    """Mean, spread and uncertainty of a series of phase times in seconds; shares in percent."""
    average = mean(seconds)
    if average is None:
        return None
    n = len(seconds)
    u = marking.mean_interval_u(phase.start, phase.end, n, average)
    return PhaseTime(average, sd(seconds), u, mean(shares), n)


def phases_of(
    resolved: ResolvedMarks,
    phases: Sequence[Phase],
    path: str,
    marking: Marking,
    reasons: Reasons,
) -> PhaseTable:
    """Phase times by side ("both" pools what is known). A phase without values is None."""
    opens = resolved.stroke.opens
    table: PhaseTable = {side: {} for side in SIDES}
    for phase in phases:
        seconds: dict[str, list[float]] = {side: [] for side in SIDES}
        shares: dict[str, list[float]] = {side: [] for side in SIDES}
        starts, ends = phase.start, phase.end
        for cycle in resolved.cycles:
            # phase_ends() in place: this is where most of the time of a long clip goes.
            inner = cycle.inner
            start = cycle.start if starts == opens else inner.get(starts)
            end = cycle.end if ends == opens else inner.get(ends)
            if start is not None and end is not None:
                value = end.time_s - start.time_s
                seconds[cycle.side].append(value)
                shares[cycle.side].append(100 * value / cycle.seconds)
        seconds["both"] += seconds["left"] + seconds["right"]
        shares["both"] += shares["left"] + shares["right"]
        for side in SIDES:
            table[side][phase.name] = summarise(seconds[side], shares[side], phase, marking)
            if not seconds[side]:
                closes = event_name(phase.end)
                last = f"the next {closes}" if phase.end == opens else closes
                why = f"no whole cycle has both {event_name(phase.start)} and {last} marked"
                reasons.missing(f"{path}.{side}.{phase.name}", why)
            elif marking.frame_interval_s is None:
                why = "the frame interval is not known"
                reasons.missing(f"{path}.{side}.{phase.name}.u_s", why)
    return table


def symmetry_index_pct(left: float, right: float) -> float | None:
    """100 x 2 (right - left) / (right + left); 0 is even, positive: right is larger.

    Source: Robinson, Herzog and Nigg 1987, J Manipulative Physiol Ther 10:172-176.
    """
    return 100 * 2 * (right - left) / (right + left) if right + left else None


def symmetry_of(table: PhaseTable, reasons: Reasons) -> dict[str, float | None]:
    """The symmetry index of each phase's mean seconds."""
    result: dict[str, float | None] = {}
    for name, left in table["left"].items():
        right = table["right"][name]
        known = left is not None and right is not None
        result[name] = symmetry_index_pct(left.mean_s, right.mean_s) if known else None  # type: ignore[union-attr]
        if not known:
            reasons.missing(f"symmetry_pct.{name}", "needs this phase on both sides")
    return result
