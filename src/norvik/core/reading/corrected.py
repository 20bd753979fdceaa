"""What was read, moved by what the coach corrected: a moved mark moves its likes.

What reading gets wrong in a film it mostly gets wrong the same way in every cycle: it sees a catch
late, or an exit early. So the first corrections of an event tell where the others of its kind lie.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from norvik.core.reading.stroke import ReadEvent
from norvik.core.strokes.events import Mark
from norvik.core.strokes.names import Lane, Side

#: A mark and a read event of the same kind nearer than this are one, seconds.
SAME_S = 0.3
#: How much one correction counts against none: chance of the single one is in it.
_HELD = 0.25


@dataclass(frozen=True, slots=True)
class Pair:
    """A mark that the coach placed, and what had been read of it. off_s: mark minus read."""

    event: ReadEvent
    mark: Mark

    @property
    def off_s(self) -> float:
        return self.mark.time_s - self.event.time_s


@dataclass(frozen=True, slots=True)
class Shift:
    """By how much the events of a kind were moved. count: corrections that it rests on."""

    lane: Lane
    side: Side
    event: str
    seconds: float
    count: int


def pairs_of(events: Iterable[ReadEvent], marks: Sequence[Mark]) -> list[Pair]:
    """Each mark with the read event that it is, nearest first; neither is used twice."""
    read = list(events)
    near = sorted(
        (abs(mark.time_s - event.time_s), n, k)
        for k, event in enumerate(read)
        for n, mark in enumerate(marks)
        if (mark.lane, mark.event) == (event.lane, event.event)
        and _one_side(event, mark)
        and abs(mark.time_s - event.time_s) < SAME_S
    )
    marked: set[int] = set()
    used: set[int] = set()
    found = []
    for _, n, k in near:
        if n not in marked and k not in used:
            marked.add(n)
            used.add(k)
            found.append(Pair(read[k], marks[n]))
    return found


def _one_side(event: ReadEvent, mark: Mark) -> bool:
    """Kicks and breaths are one whatever side they were given; arms are two."""
    return event.lane != "arm" or event.side == mark.side


def corrected(
    events: Sequence[ReadEvent], marks: Sequence[Mark]
) -> tuple[list[ReadEvent], list[Shift]]:
    """What is still to be confirmed, moved by what was, and by how much each kind was moved.

    A kind is an event of one arm; while that one has no correction, those of the other arm count.
    """
    pairs = pairs_of(events, marks)
    done = {id(pair.event) for pair in pairs}
    offs: dict[tuple[str, str, str], list[float]] = {}
    for pair in pairs:
        kind = (pair.event.lane, pair.event.side, pair.event.event)
        offs.setdefault(kind, []).append(pair.off_s)
    left, shifts = [], {}
    for event in events:
        if id(event) in done:
            continue
        kind = (event.lane, event.side, event.event)
        own = offs.get(kind) or [
            off for k, found in offs.items() if (k[0], k[2]) == (kind[0], kind[2]) for off in found
        ]
        if own:
            moved = float(np.median(own)) * len(own) / (len(own) + _HELD)
            shifts[kind] = Shift(*kind, moved, len(own))
            event = replace(event, time_s=event.time_s + moved)
        left.append(event)
    left = [event for event in left if not _taken_already(event, pairs)]
    return sorted(left, key=lambda e: e.time_s), sorted(shifts.values(), key=lambda s: s.event)


def _taken_already(event: ReadEvent, pairs: Sequence[Pair]) -> bool:
    """A second event of a kind right beside one that is marked is the same."""
    return any(
        (pair.event.lane, pair.event.side, pair.event.event)
        == (event.lane, event.side, event.event)
        and abs(pair.mark.time_s - event.time_s) < SAME_S / 2
        for pair in pairs
    )
