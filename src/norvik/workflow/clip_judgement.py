"""What one stored clip shows: its findings, from its marks, measures and ticks."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from functools import cached_property

from norvik.core.errors import NotFoundError
from norvik.core.judging.coaching_model import Catalogue
from norvik.core.judging.findings import find_faults, find_strengths, in_order
from norvik.core.judging.joined import ClipFindings
from norvik.core.judging.judged import Finding, Seen
from norvik.core.judging.on_frame import OnFrame
from norvik.core.judging.remarks import finding_of
from norvik.core.prescription.prescribe import SwimmerProfile
from norvik.core.strokes.names import StrokeName
from norvik.store import observations, remarks, swimmers
from norvik.store.clips import Clip
from norvik.store.observations import Sighting
from norvik.store.remarks import StoredRemark
from norvik.store.swimmers import Swimmer
from norvik.workflow.clip_on_frame import on_frame_of
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.own_catalogue import tables_of
from norvik.workflow.remark import as_said, with_own_points


@dataclass(frozen=True)
class ClipJudgement:
    """Everything that one clip says by itself; what to do about it is the review's."""

    timed: ClipTiming
    swimmer: Swimmer
    catalogue: Catalogue
    seen: tuple[Sighting, ...]
    moments: tuple[Seen, ...]
    #: Faults, what to watch, open questions, what was ticked as good, and what is ruled out.
    faults: tuple[Finding, ...]
    taken: tuple[OnFrame, ...] = ()
    remarks: tuple[StoredRemark, ...] = ()

    @property
    def clip(self) -> Clip:
        return self.timed.clip

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """The strengths that the numbers show come on top of `faults`, when first asked for."""
        strengths = find_strengths(
            self.timed.timing, self.moments, self.faults, self.catalogue, self.swimmer.schools,
            self.taken, self.clip.facts.kit,
        )  # fmt: skip
        return tuple(in_order([*strengths, *self.faults]))

    @property
    def for_review(self) -> ClipFindings:
        """What a review takes of it."""
        facts = self.clip.facts
        return ClipFindings(self.clip.id, self.clip.view, self.findings, facts.pace, facts.kit)


def receiver_of(swimmer: Swimmer) -> SwimmerProfile:
    """What has to be known of a swimmer to choose drills."""
    return SwimmerProfile(swimmer.level, swimmer.kit, swimmer.pain, swimmer.schools)


def judge_clip(connection: sqlite3.Connection, clip: Clip) -> ClipJudgement:
    """Judge a clip from its stored marks and ticks."""
    if clip.swimmer_id is None:
        raise NotFoundError("This clip has no swimmer yet. Assign one first: Details on the bench.")
    timed = time_clip(connection, clip)
    swimmer = swimmers.by_id(connection, clip.swimmer_id)
    catalogue = swimmer_tables(connection, swimmer, clip.stroke)
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
                         obstacles, clip.facts.kit)  # fmt: skip
    said = tuple(remarks.of_clip(connection, clip.id))
    in_words = [finding_of(as_said(r, clip.view, clip, timed.time_base)) for r in said]
    faults = in_order([*faults, *(f for f in in_words if f is not None)])
    return ClipJudgement(timed, swimmer, catalogue, ticks, tuple(seen), tuple(faults),
                         tuple(taken), said)  # fmt: skip


def swimmer_tables(
    connection: sqlite3.Connection, swimmer: Swimmer, stroke: StrokeName
) -> Catalogue:
    """The tables of a stroke for a swimmer: of the level, with points in the coach's own words."""
    tables = tables_of(connection, stroke).for_level(swimmer.level)
    return with_own_points(connection, tables, swimmer.id, stroke)
