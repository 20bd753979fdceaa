"""What a film says before anybody has marked it: provisional numbers, and what to look at first."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

from norvik.core.errors import ChoiceError
from norvik.core.judging.findings import find
from norvik.core.judging.judged import Finding
from norvik.core.reading.stroke import ReadEvent
from norvik.core.strokes.events import Mark
from norvik.core.strokes.names import side_of
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import FAMILIES, FAMILY_OF, Marker, MarkError
from norvik.store import readings, swimmers
from norvik.store.readings import Reading
from norvik.store.undo import Step
from norvik.workflow.clip_judgement import swimmer_tables
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.read_measures import (
    ProposedMeasure,
    on_frame_proposed,
    proposed_measures,
)
from norvik.workflow.reading import Proposed, proposed, reading_of
from norvik.workflow.tick import tick_on

#: Own choice: of how far what is read is off, the share that is the same in all cycles of a film,
#: and the share that differs from cycle to cycle. All cycles lie on one clock and one mean cycle.
_ALIKE, _APART = 0.85, 0.5
#: What is shown of each.
MOST = 3
ANSWERS = ("yes", "no", "unsure")


@dataclass(frozen=True, slots=True)
class Look:
    """Something to look at. frame: where it shows best. answer: what the coach said, or empty."""

    finding: Finding
    frame: int | None
    answer: str


@dataclass(frozen=True)
class FirstAnswer:
    """timed: the clip with what is proposed beside its marks, none of it confirmed. good: what
    probably is; look: what to look at first. measures: on the frame, still to be looked at.
    unjudged: why nothing is judged, or empty.
    """

    reading: Reading
    proposed: Proposed
    timed: ClipTiming
    good: tuple[Finding, ...]
    look: tuple[Look, ...]
    measures: tuple[ProposedMeasure, ...] = ()
    unjudged: str = ""

    @property
    def open(self) -> int:
        """How many events are still to be confirmed."""
        return len(self.proposed.events)

    @property
    def unsure(self) -> int:
        return sum(e.confidence < UNSURE for e in self.proposed.events)


#: Under this a proposal is shown as doubtful.
UNSURE = 0.6


def first_answer(
    connection: sqlite3.Connection, timed: ClipTiming, left: Proposed | None = None
) -> FirstAnswer | None:
    """None where the film was not read. left: what `proposed` gave, where it is at hand."""
    reading = reading_of(connection, timed)
    if reading is None:
        return None
    left = proposed(connection, timed) if left is None else left
    together = with_proposed(timed, left)
    measures = tuple(proposed_measures(connection, timed, reading))
    if not left.events and not measures:
        return FirstAnswer(reading, left, together, (), ())
    if timed.clip.swimmer_id is None:
        unjudged = "Assign a swimmer to see what to look at."
        return FirstAnswer(reading, left, together, (), (), measures, unjudged)
    swimmer = swimmers.by_id(connection, timed.clip.swimmer_id)
    tables = swimmer_tables(connection, swimmer, timed.clip.stroke)
    found = find(
        together.timing, (), tables, swimmer.level, swimmer.schools,
        on_frame_proposed(connection, timed, measures), kit=timed.clip.facts.kit,
    )  # fmt: skip
    said = readings.answers(connection, timed.clip.id)
    good = tuple(f for f in found if f.kind == "strength")[:MOST]
    look = [
        Look(f, _frame(timed, f), said.get((f.id, f.side), ""))
        for f in found
        if f.kind in ("fault", "watch") or (f.kind == "open" and f.judged)
    ]
    look = [one for one in look if one.answer != "no"]
    return FirstAnswer(reading, left, together, good, tuple(look[:MOST]), measures)


def with_proposed(timed: ClipTiming, left: Proposed) -> ClipTiming:
    """A clip as if what is proposed were marked, with the plus-minus of what is only read.

    Without breaths: reading sees that there is one, and puts it where it usually is in the cycle.
    Nothing may be judged by that.
    """
    more = [Mark(e.time_s, e.lane, e.side, e.event) for e in left.events if e.lane != "breath"]
    if not more:
        return timed
    events = tuple(sorted((*timed.events, *more), key=lambda m: m.time_s))
    marker = _as_read(left.events)
    timing = compute_timing(
        events, timed.clip.stroke, timed.timing.frame_interval_s, timed.clip.facts.pool_m, marker
    )
    return replace(timed, events=events, timing=timing)


def _as_read(events: Sequence[ReadEvent]) -> Marker:
    """How well the events of each family were read, as they say themselves."""
    offs: dict[str, list[float]] = {}
    for e in events:
        offs.setdefault(FAMILY_OF.get(e.event, ""), []).append(1000 * e.u95_s / 1.96)
    means = {family: sum(of) / len(of) for family, of in offs.items()}
    worst = max(means.values())
    return Marker({
        family: MarkError(
            spread_ms=_APART * means.get(family, worst), habit_ms=_ALIKE * means.get(family, worst)
        )
        for family in FAMILIES
    })  # fmt: skip


def _frame(timed: ClipTiming, finding: Finding) -> int | None:
    return timed.clamped(timed.frame_of(finding.instants[0])) if finding.instants else None


def answer(
    connection: sqlite3.Connection, user_id: int, timed: ClipTiming, what: str, side: str,
    said: str,
) -> Step:  # fmt: skip
    """What the coach says to something to look at: yes ticks it, as seen on its frame.

    Raises ChoiceError for what is not asked.
    """
    first = first_answer(connection, timed)
    wanted = what, side_of(side)
    asked = {(one.finding.id, one.finding.side): one for one in first.look} if first else {}
    one = asked.get(wanted)
    if one is None or said not in ANSWERS or timed.clip.swimmer_id is None:
        raise ChoiceError("This is not asked any more. Reload the page.")
    readings.put_answer(connection, timed.clip.id, user_id, *wanted, said)
    swimmer = swimmers.by_id(connection, timed.clip.swimmer_id)
    tables = swimmer_tables(connection, swimmer, timed.clip.stroke)
    degree = ("clear" if one.finding.severity >= 0.4 else "slight") if said == "yes" else ""
    known = tables.faults.get(what) or tables.strengths.get(what)
    own_side = side if known is not None and known.sided else ""
    return tick_on(connection, user_id, timed.clip, tables, what, own_side, degree, one.frame)
