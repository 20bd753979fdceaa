"""One number of a swimmer over the months or over paces, each with the frame that shows it."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.strokes.definitions import event_name
from norvik.core.strokes.names import Side, StrokeName
from norvik.core.time.in_step import cycles_of_arm
from norvik.store import clips
from norvik.store.clips import Clip
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.side_by_side.instants import Shown, of_number, readings_of

MONTHS, PACES = "months", "paces"
#: Own choice: clips of a drill are no swimming of the stroke; the row leaves them out.
_LEFT_OUT = ("drill", "model")


@dataclass(frozen=True)
class InRow:
    """One clip of the row.

    shown: its number; None where it does not tell it. frame: what the picture shows: the instant of
    the number, or the event that was asked for.
    """

    clip: Clip
    shown: Shown | None
    frame: int | None


@dataclass(frozen=True)
class Row:
    """numbers: (what, side, name) to choose from; events: (event, side, name) for the picture."""

    clips: tuple[InRow, ...]
    numbers: tuple[tuple[str, str, str], ...]
    events: tuple[tuple[str, str, str], ...]
    what: str
    side: Side
    event: str
    arm: Side

    @property
    def name(self) -> str:
        return next((n for w, s, n in self.numbers if (w, s) == (self.what, self.side)), "")


def row_over(
    connection: sqlite3.Connection, swimmer_id: int, stroke: StrokeName, view: str, by: str,
    what: str = "", side: Side = "", event: str = "", arm: Side = "",
) -> Row:  # fmt: skip
    """Clips of one stroke and view: one a day, oldest first, or those of known pace, slowest first.

    what, side: the number; the first one that most clips have where none is asked for. event, arm:
    what the pictures show in its place.
    """
    found = [
        c
        for c in clips.newest_first(connection, swimmer_id)
        if c.stroke == stroke and c.view == view and c.watchable and c.role not in _LEFT_OUT
    ]
    chosen = _by_pace(found) if by == PACES else _by_day(found)
    timed = [time_clip(connection, c) for c in chosen]
    known = [readings_of(connection, t) for t in timed]
    numbers: dict[tuple[str, Side], tuple[str, int]] = {}
    for shown in known:
        for s in shown:
            name, count = numbers.get((s.what, s.side), (s.name, 0))
            numbers[s.what, s.side] = name, count + (s.frame is not None)
    if (what, side) not in numbers:
        # A measure has its sides: any of them is nearer to what was asked for than another number.
        alike = {k: v for k, v in numbers.items() if k[0] == what}
        what, side = max(alike or numbers, key=lambda k: numbers[k][1], default=("", ""))
    events = _events(timed)
    if (event, arm) not in {(e, a) for e, a, _ in events}:
        event, arm = "", ""
    return Row(
        tuple(
            _in_row(t, of_number(shown, what, side), event, arm)
            for t, shown in zip(timed, known, strict=True)
        ),
        tuple((w, s, f"{name}, {s}" if s else name) for (w, s), (name, _) in numbers.items()),
        tuple(events),
        what, side, event, arm,
    )  # fmt: skip


def _in_row(timed: ClipTiming, shown: Shown | None, event: str, arm: Side) -> InRow:
    frame = shown.frame if shown else None
    if event:
        cycles = cycles_of_arm(timed.timing.resolved, arm)
        # The middle one of the clip: neither just begun nor tired.
        at = [t for c in cycles for e, t in c.events if e == event]
        frame = timed.clamped(timed.frame_of(at[len(at) // 2])) if at else None
    return InRow(timed.clip, shown, frame)


def _by_day(found: Sequence[Clip]) -> list[Clip]:
    """Of each day the clip with most marks; speed steps of one day are no progress of months."""
    best: dict[str, Clip] = {}
    for clip in sorted(found, key=lambda c: (c.role == "speed-step", -c.marks, c.id)):
        best.setdefault(clip.filmed_on, clip)
    return [best[on] for on in sorted(best)]


def _by_pace(found: Sequence[Clip]) -> list[Clip]:
    """Of the newest day with at least two paces, slowest first."""
    days: dict[str, dict[float, Clip]] = {}
    for clip in found:
        if clip.facts.pace_s is not None:
            days.setdefault(clip.filmed_on, {}).setdefault(clip.facts.pace_s, clip)
    for on in sorted(days, reverse=True):
        if len(days[on]) > 1:
            return [days[on][pace] for pace in sorted(days[on], reverse=True)]
    return []


def _events(timed: Sequence[ClipTiming]) -> list[tuple[str, str, str]]:
    if not timed:
        return []
    rules = timed[0].timing.resolved.stroke
    return [
        (e, arm, event_name(e) + (f", {arm}" if rules.alternating else ""))
        for e in rules.arm_events
        for arm in rules.arms
    ]
