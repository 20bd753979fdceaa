"""A clip against an earlier one of the same swimmer: what really changed since."""

from __future__ import annotations

import sqlite3
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from norvik.core.errors import NotFoundError
from norvik.core.followup.change import ComparableValue, Comparison, compare
from norvik.core.followup.comparable import shown_by, values_in_time, values_on_frame
from norvik.core.judging.coaching_model import Catalogue, Fault
from norvik.core.judging.on_frame import OnFrame
from norvik.store import clips, focus_answers, reviews, swimmers
from norvik.store.clips import Clip
from norvik.store.reviews import Focus
from norvik.workflow.clip_judgement import swimmer_tables
from norvik.workflow.clip_on_frame import on_frame_of
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.side_by_side.choices import choices_for, require_leave
from norvik.workflow.side_by_side.instants import frames_by_number


@dataclass(frozen=True)
class ClipChange:
    """Two clips beside each other.

    worked_on: what the points chosen at the earlier clip are shown by. seen: each of those points,
    and what the coach said of it on the later clip; empty while nothing was said. instants: by
    (number, side) the frames of "before" and "after" that show it.
    """

    before: ClipTiming
    after: ClipTiming
    changes: tuple[Comparison, ...]
    worked_on: frozenset[str]
    seen: tuple[tuple[Fault, str], ...] = ()
    instants: Mapping[tuple[str, str], tuple[int, int]] = field(default_factory=dict)

    @property
    def other_pace(self) -> bool:
        """Were the two swum at a different pace, as far as is known?"""
        return self.before.clip.facts.pace.surely_other(self.after.clip.facts.pace)

    @property
    def two_swimmers(self) -> bool:
        """Two swimmers against each other: then nothing has changed, they differ."""
        return self.before.clip.swimmer_id != self.after.clip.swimmer_id

    def count(self, verdict: str) -> int:
        return sum(c.verdict == verdict for c in self.changes)


def mates_of(connection: sqlite3.Connection, clip: Clip) -> list[Clip]:
    """Clips of that stroke of other swimmers who may be compared, of the same view first."""
    found = choices_for(connection, clip)
    return [c for c in (*found.examples, *found.others) if c.marks]


def others_of(connection: sqlite3.Connection, clip: Clip) -> list[Clip]:
    """Other clips of the same swimmer and stroke that can be compared, newest first."""
    if clip.swimmer_id is None:
        return []
    found = [
        c
        for c in clips.newest_first(connection, clip.swimmer_id)
        if c.id != clip.id and c.stroke == clip.stroke and c.watchable and c.marks
    ]
    return sorted(found, key=lambda c: (c.filmed_on, c.id), reverse=True)


def beside(connection: sqlite3.Connection, clip: Clip) -> list[Clip]:
    """The clips of the same stroke in the clip's review, itself among them."""
    review_id = reviews.id_of_clip(connection, clip.id)
    if review_id is None:
        return [clip]
    found = clips.by_ids(connection, reviews.by_id(connection, review_id).clip_ids)
    return [c for c in found if c.stroke == clip.stroke and c.swimmer_id == clip.swimmer_id]


def counterpart_of(clip: Clip, others: Sequence[Clip]) -> Clip | None:
    """The clip to compare with when none is asked for.

    The newest earlier one, of the same view, kit and pace where there is one; else a later one.
    """

    def place(other: Clip) -> tuple[bool, bool, bool, bool]:
        return (
            (other.filmed_on, other.id) > (clip.filmed_on, clip.id),
            other.view != clip.view,
            other.facts.kit != clip.facts.kit,
            clip.facts.pace.surely_other(other.facts.pace),
        )

    return min(others, key=place, default=None)


def change_between(connection: sqlite3.Connection, clip: Clip, other: Clip) -> ClipChange:
    """The earlier of the two by its day is "before"; of two swimmers the other one's is.

    Raises NotFoundError for another stroke, ForbiddenError for a swimmer who may not be shown
    beside others.
    """
    if clip.swimmer_id is None or other.stroke != clip.stroke:
        raise NotFoundError("Compare clips of one stroke, of swimmers who are known.")
    require_leave(connection, clip, other)
    alone = other.swimmer_id == clip.swimmer_id
    first, last = (
        sorted((clip, other), key=lambda c: (c.filmed_on, c.id)) if alone else (other, clip)
    )
    before, after = time_clip(connection, first), time_clip(connection, last)
    swimmer = swimmers.by_id(connection, clip.swimmer_id)
    catalogue = swimmer_tables(connection, swimmer, clip.stroke)
    schools = swimmer.schools
    chosen = [
        catalogue.faults[focus.fault]
        for focus in (chosen_with(connection, first) if alone else ())
        if focus.fault in catalogue.faults
    ]
    worked = {what for fault in chosen for what in shown_by(fault, catalogue, schools)}
    known = [
        known_of(timed, catalogue, schools, on_frame_of(connection, timed)[0], chosen)
        for timed in (before, after)
    ]
    found = compare(known[0], known[1], worked)
    told_in = reviews.id_of_clip(connection, last.id)
    said = focus_answers.of_review(connection, told_in, last.stroke) if told_in else {}
    seen = tuple((fault, said.get(fault.id, "")) for fault in chosen)
    shown = [frames_by_number(connection, timed) for timed in (before, after)]
    instants = {k: (shown[0][k], shown[1][k]) for k in shown[0].keys() & shown[1].keys()}
    return ClipChange(before, after, tuple(found), frozenset(worked), seen, instants)


def chosen_with(connection: sqlite3.Connection, clip: Clip) -> list[Focus]:
    """Points that were chosen for the stroke in the review that holds this clip."""
    review_id = reviews.id_of_clip(connection, clip.id)
    return reviews.by_id(connection, review_id).of_stroke(clip.stroke) if review_id else []


def known_of(
    timed: ClipTiming,
    catalogue: Catalogue,
    schools: dict[str, str],
    on_frame: Iterable[OnFrame],
    worked_on: Iterable[Fault] = (),
    only: Collection[str] | None = None,
) -> list[ComparableValue]:
    """Every value of a clip that can be compared with another clip's; of these ids alone, if given.

    on_frame: what was taken on its frames. worked_on: faults whose own limits say what is better.
    """
    return [
        *values_in_time(timed.timing, catalogue, schools, worked_on, only),
        *values_on_frame(on_frame, only),
    ]
