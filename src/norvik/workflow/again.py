"""Marking and ticking again, blind, and what it says of how well people agree."""

from __future__ import annotations

import random
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.errors import MarkError, MeasureError
from norvik.core.followup.agreement import (
    Kappa,
    Limits,
    Reliability,
    icc_2_1,
    kappa,
    limits_of_agreement,
)
from norvik.core.frame.measures import MEASURES, take
from norvik.core.judging.coaching_model import Catalogue, Fault, Strength
from norvik.core.time.marker import FAMILIES, FAMILY_OF
from norvik.store import drawings, marked_again, observations, references, ticked_again
from norvik.store.marked_again import MarkedAgain
from norvik.store.marks import StoredMark
from norvik.store.ticked_again import Item
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.own_catalogue import tables_of

#: Own choice: so many marks are asked for anew in one clip.
MARKS_ASKED = 12
#: Own choice: the film is put so far from a first mark at most, in seconds, so that where it stands
#: says nothing.
_APART_S = 0.4


@dataclass(frozen=True, slots=True)
class Ask:
    """A mark to place anew. frame: where the film is put. done, of: how many are marked again."""

    mark: StoredMark
    frame: int
    done: int
    of: int


def asks(connection: sqlite3.Connection, timed: ClipTiming, person: str) -> tuple[Ask | None, int]:
    """(the next mark to place anew, how many there are in all); None when all are done.

    Drawn at random, one family of events after the other, the same for one person and clip.
    """
    clip = timed.clip
    chance = random.Random(f"{clip.id} {person}")
    by_family: dict[str, list[StoredMark]] = {}
    for mark in timed.marks:
        by_family.setdefault(FAMILY_OF.get(mark.event, ""), []).append(mark)
    for here in by_family.values():
        chance.shuffle(here)
    drawn: list[StoredMark] = []
    while len(drawn) < MARKS_ASKED and any(by_family.values()):
        drawn += [here.pop() for here in by_family.values() if here]
    drawn = drawn[:MARKS_ASKED]
    chance.shuffle(drawn)
    done = {
        (m.lane, m.side, m.event, m.first_frame)
        for m in marked_again.of_clip(connection, clip.id)
        if m.person == person
    }
    left = [m for m in drawn if (m.lane, m.side, m.event, m.frame) not in done]
    if not left:
        return None, len(drawn)
    mark = left[0]
    at_s = timed.time_base.time_of(mark.frame)
    off = random.Random(f"{clip.id} {person} {mark.id}").uniform(-_APART_S, _APART_S)
    frame = timed.clamped(timed.time_base.frame_nearest(at_s + off))
    return Ask(mark, frame, len(drawn) - len(left), len(drawn)), len(drawn)


def mark_again(
    connection: sqlite3.Connection, timed: ClipTiming, person: str, own: bool, mark_id: int,
    frame: int,
) -> None:  # fmt: skip
    """Keep where a mark was placed anew. Raises MarkError for a mark that is gone."""
    mark = next((m for m in timed.marks if m.id == mark_id), None)
    if mark is None:
        raise MarkError(
            "This mark has been deleted in the meantime. Reload the page for the next one."
        )
    timed.clip.require(frame)
    interval = timed.timing.frame_interval_s
    if interval is None:
        raise MarkError("A clip of one frame can't be marked again.")
    at = timed.time_base.time_of
    marked_again.add(
        connection,
        MarkedAgain(
            timed.clip.id, person, own, mark.lane, mark.side, mark.event, mark.frame, frame,
            at(frame) - at(mark.frame), interval,
        ),
    )  # fmt: skip


def to_tick(timed: ClipTiming, catalogue: Catalogue) -> list[tuple[Fault | Strength, list[str]]]:
    """Everything that this view shows to the eye, with the sides on which it is asked."""
    view, found = timed.clip.view, list[tuple[Fault | Strength, list[str]]]()
    every: list[Fault | Strength] = [*catalogue.faults.values(), *catalogue.strengths.values()]
    for point in every:
        if view in point.views:
            found.append((point, ["left", "right"] if point.sided else [""]))
    return found


@dataclass(frozen=True, slots=True)
class Marks:
    """One family of events, the differences in milliseconds and in frames."""

    family: str
    name: str
    ms: Limits
    frames: Limits


@dataclass(frozen=True, slots=True)
class Takings:
    """One measure, taken twice. limits: of the differences, in its unit."""

    name: str
    unit: str
    digits: int
    limits: Limits
    icc: Reliability | None


@dataclass(frozen=True, slots=True)
class Agreement:
    """What one person's second look says. own: it was the same person's as the first."""

    person: str
    own: bool
    marks: tuple[Marks, ...]
    few_marks: int
    ticks: Kappa | None


def agreements(connection: sqlite3.Connection, timed: ClipTiming) -> list[Agreement]:
    """Of everyone who marked or ticked this clip again."""
    clip = timed.clip
    again = marked_again.of_clip(connection, clip.id)
    first = {(t.what, t.side) for t in observations.of_clip(connection, clip.id)}
    ticked = {t.person: t for t in ticked_again.of_clip(connection, clip.id)}
    found = []
    for person in dict.fromkeys([*(m.person for m in again), *ticked]):
        mine = [m for m in again if m.person == person]
        tick = ticked.get(person)
        own = mine[-1].own if mine else bool(tick and tick.own)
        chosen = [(_seen(i in first), _seen(i in tick.ticks)) for i in tick.items] if tick else []
        marks = [x for f in FAMILIES if (x := _of_family(f, mine)) is not None]
        counted = sum(x.ms.n for x in marks)
        found.append(Agreement(person, own, tuple(marks), len(mine) - counted, kappa(chosen)))
    return found


def _seen(yes: bool) -> str:
    return "seen" if yes else "not seen"


def _of_family(family: str, again: Sequence[MarkedAgain]) -> Marks | None:
    here = [m for m in again if FAMILY_OF.get(m.event) == family]
    ms = limits_of_agreement([1000 * m.later_s for m in here])
    frames = limits_of_agreement([float(m.again_frame - m.first_frame) for m in here])
    return Marks(family, FAMILIES[family][0], ms, frames) if ms and frames else None


def takings_again(connection: sqlite3.Connection, timed: ClipTiming) -> list[Takings]:
    """Of the measures that were taken again, blind."""
    clip, to = timed.clip, references.of_clip(connection, timed.clip.id)
    again = drawings.repeats_of_clip(connection, clip.id)
    pairs: dict[str, list[tuple[float, float]]] = {}
    for d in drawings.of_clip(connection, clip.id):
        measure = MEASURES.get(d.name) if d.kind == "measure" else None
        for points in again.get(d.id, ()) if measure else ():
            assert measure is not None
            try:
                both = take(measure, d.points, to).value, take(measure, points, to).value
            except MeasureError:
                continue
            pairs.setdefault(d.name, []).append(both)
    found = []
    for name, values in pairs.items():
        limits = limits_of_agreement([b - a for a, b in values])
        if limits is not None:
            m = MEASURES[name]
            found.append(Takings(m.name, m.unit, m.digits, limits, icc_2_1(values)))
    return found


def tick_again(
    connection: sqlite3.Connection, timed: ClipTiming, person: str, own: bool,
    ticks: Sequence[Item],
) -> None:  # fmt: skip
    """Keep what a second look ticked, of all that was asked."""
    catalogue = tables_of(connection, timed.clip.stroke)
    items = [(p.id, side) for p, sides in to_tick(timed, catalogue) for side in sides]
    ticked_again.put(connection, timed.clip.id, person, own, items, set(ticks) & set(items))
