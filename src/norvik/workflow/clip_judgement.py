"""Findings, their order and the prescription of a stored clip."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from functools import cached_property

from norvik.core.errors import NotFoundError
from norvik.core.judging.coaching_model import Catalogue, Caution, Drill, School
from norvik.core.judging.findings import find_faults, find_strengths, in_order
from norvik.core.judging.judged import Finding, Seen
from norvik.core.judging.on_frame import OnFrame
from norvik.core.judging.ranking import Ranked, rank
from norvik.core.prescription.overcorrect import Aim, aim_of
from norvik.core.prescription.prescribe import (
    Prescription,
    SwimmerProfile,
    effort_of,
    prescribe,
    topics_of,
)
from norvik.store import observations, reviews, swimmers
from norvik.store.clips import Clip
from norvik.store.observations import Sighting
from norvik.store.reviews import Review
from norvik.store.swimmers import Swimmer
from norvik.workflow.clip_on_frame import on_frame_of
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.own_catalogue import tables_of

#: Points to work on at once, at most.
MOST_FOCUSES = 3
#: For the day of a long event, whose hours are shared between them.
MOST_FOCUSES_LONG_EVENT = 4
#: Good things that are said before the first fault, at least.
LEAST_STRENGTHS = 2


@dataclass(frozen=True)
class Judgement:
    """Everything the judge screen and the review say about a clip."""

    timed: ClipTiming
    swimmer: Swimmer
    catalogue: Catalogue
    seen: tuple[Sighting, ...]
    moments: tuple[Seen, ...]
    #: Faults, what to watch, open questions, and what was ticked as good.
    faults: tuple[Finding, ...]
    review: Review
    taken: tuple[OnFrame, ...] = ()

    @property
    def clip(self) -> Clip:
        return self.timed.clip

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """The strengths that the numbers show come on top of `faults`, when first asked for."""
        strengths = find_strengths(self.timed.timing, self.moments, self.faults, self.catalogue,
                                   self.swimmer.schools, self.taken)  # fmt: skip
        return tuple(in_order([*strengths, *self.faults]))

    @cached_property
    def ranked(self) -> tuple[Ranked, ...]:
        """The faults in the order in which to work on them."""
        order = self.catalogue.questions["order"].chosen(self.swimmer.schools).id
        return tuple(rank(self.findings, self.catalogue, self.swimmer.pain, order))

    def of_kind(self, kind: str) -> list[Finding]:
        return [f for f in self.findings if f.kind == kind]

    @property
    def focuses(self) -> list[Ranked]:
        """The chosen points that the findings still show, in the coach's order."""
        by_id = {r.fault.id: r for r in self.ranked}
        return [by_id[f.fault] for f in self.review.focuses if f.fault in by_id]

    def prescription(self, fault_id: str) -> Prescription:
        found = {r.fault.id for r in self.ranked}
        fault = self.catalogue.faults[fault_id]
        return prescribe(fault, self.catalogue, found, receiver_of(self.swimmer))

    def effort(self, drill: Drill) -> int:
        """Effort of a drill by the swimmer's school, 1 to 6."""
        return effort_of(drill, self.catalogue, self.swimmer.schools)

    def aims(self, fault_id: str) -> list[Aim]:
        """Where to aim, beyond the target, for what the swimmer changes without seeing it."""
        found = [
            aim_of(m.quantity.id, f.side or m.side, m.reading.value, m.band)
            for f in self.findings
            if f.id == fault_id and f.kind == "fault"
            for m in f.judged
        ]
        return [aim for aim in found if aim is not None]

    def cautions(self, fault_id: str) -> list[Caution]:
        """What has to be said beside a focus because of the parts that it or its drills load."""
        fault = self.catalogue.faults[fault_id]
        topics = topics_of(fault, self.drills(fault_id), self.swimmer.level)
        return self.catalogue.cautions_for(topics)

    def schools(self) -> dict[str, School]:
        """Question id to the school that was used, of what is asked for this stroke."""
        return {
            q.id: q.chosen(self.swimmer.schools)
            for q in self.catalogue.questions.values()
            if not q.strokes or self.clip.stroke in q.strokes
        }

    def drills(self, fault_id: str) -> list[Drill]:
        """The drills of a focus: what the coach kept of the suitable ones, else as prescribed."""
        given = self.prescription(fault_id)
        kept = next((f.drills for f in self.review.focuses if f.fault == fault_id), None)
        if kept is None:
            return list(given.drills)
        suitable = {d.id: d for d in (*given.drills, *given.others)}
        return [suitable[d] for d in kept if d in suitable]


def receiver_of(swimmer: Swimmer) -> SwimmerProfile:
    """What has to be known of a swimmer to choose drills."""
    return SwimmerProfile(swimmer.level, swimmer.kit, swimmer.pain, swimmer.schools)


def judge_clip(connection: sqlite3.Connection, clip: Clip) -> Judgement:
    """Judge a clip from its stored marks and ticks."""
    if clip.swimmer_id is None:
        raise NotFoundError("This clip has no swimmer yet. Assign one first: Details on the bench.")
    timed = time_clip(connection, clip)
    swimmer = swimmers.by_id(connection, clip.swimmer_id)
    catalogue = tables_of(connection, clip.stroke).for_level(swimmer.level)
    ticks = tuple(observations.of_clip(connection, clip.id))
    seen = [
        Seen(
            t.what,
            t.side,
            t.degree,
            timed.time_base.time_of(t.frame)
            if t.frame is not None and clip.holds(t.frame)
            else None,
        )
        for t in ticks
    ]
    taken, obstacles = on_frame_of(connection, timed)
    faults = find_faults(timed.timing, seen, catalogue, swimmer.level, swimmer.schools, taken,
                         obstacles)  # fmt: skip
    review = reviews.of_clip(connection, clip.id)
    return Judgement(timed, swimmer, catalogue, ticks, tuple(seen), tuple(faults), review,
                     tuple(taken))  # fmt: skip
