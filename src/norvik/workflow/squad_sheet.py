"""A recording cut into parts, remarked swimmer by swimmer, and all its reviews made ready."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from string import ascii_lowercase

from norvik.core.judging.coaching_model import Catalogue, Fault, Strength
from norvik.store import clips, observations, remarks, reviews
from norvik.store.clips import Clip
from norvik.store.connection import transaction
from norvik.store.observations import Sighting
from norvik.store.remarks import StoredRemark
from norvik.workflow.choose import choose
from norvik.workflow.review_document import NOTHING_CHOSEN, review_document
from norvik.workflow.review_judgement import ReviewJudgement, judge_review

#: Own choice: so many strengths get a letter of their own; faults get the rest of the alphabet.
_STRENGTHS = 8


@dataclass(frozen=True, slots=True)
class SheetItem:
    """A fault or strength on the squad sheet. letter: its key, or empty where it has none."""

    id: str
    name: str
    praise: bool
    sided: bool
    letter: str
    words: str


@dataclass(frozen=True, slots=True)
class SquadPart:
    """One swimmer in the recording, with what was ticked and said so far."""

    clip: Clip
    ticks: tuple[Sighting, ...]
    remarks: tuple[StoredRemark, ...]


def parts_of(connection: sqlite3.Connection, recording_id: int) -> list[SquadPart]:
    """The parts of a recording in the order in which they are swum; the whole where it is uncut."""
    every = clips.of_recording(connection, recording_id)
    cut = [c for c in every if c.is_part] or every
    return [
        SquadPart(c, tuple(observations.of_clip(connection, c.id)),
                  tuple(remarks.of_clip(connection, c.id)))
        for c in cut
    ]  # fmt: skip


def items_of(tables: Catalogue, view: str, walls: bool) -> list[SheetItem]:
    """Everything that can be ticked, the likeliest with a letter.

    Strengths first, then faults that this view shows, in the order of the tables. walls: those of
    starts, turns and finishes.
    """

    def at_wall(point: Fault | Strength) -> bool:
        return point.part == "wall" if isinstance(point, Fault) else len(point.strokes) > 1

    def mine(points: Sequence[Fault | Strength]) -> list[Fault | Strength]:
        found = [p for p in points if at_wall(p) == walls]
        return sorted(found, key=lambda p: view not in p.views)

    good = mine(list(tables.strengths.values()))
    bad = mine(list(tables.faults.values()))
    ordered = [*good[:_STRENGTHS], *bad, *good[_STRENGTHS:]]
    letters = dict(zip([p.id for p in ordered], ascii_lowercase, strict=False))
    return [
        SheetItem(
            p.id, p.name, isinstance(p, Strength), p.sided, letters.get(p.id, ""),
            " ".join([p.name, *(p.also if isinstance(p, Fault) else ())]).lower(),
        )
        for p in ordered
    ]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Ready:
    """A review of the squad.

    lacks: what keeps it from being finished, as sentences. proposed: the name of the point that
    would be chosen, empty where one is chosen or none was found.
    """

    judgement: ReviewJudgement
    lacks: tuple[str, ...]
    proposed: str

    @property
    def done(self) -> bool:
        return self.judgement.review.done_at is not None


def reviews_of(connection: sqlite3.Connection, recording_id: int, today: date) -> list[Ready]:
    """The reviews in which the parts of a recording are judged, each once."""
    ids = dict.fromkeys(
        found
        for part in parts_of(connection, recording_id)
        if (found := reviews.id_of_clip(connection, part.clip.id)) is not None
    )
    ready = []
    for review_id in ids:
        judged = judge_review(connection, reviews.by_id(connection, review_id))
        first = _proposed(judged)
        lacks = review_document(judged, today).complaints
        if first is not None:
            # It is chosen when the reviews are made ready.
            lacks = tuple(c for c in lacks if c != NOTHING_CHOSEN)
        ready.append(Ready(judged, lacks, first[2] if first else ""))
    return ready


def make_ready(
    connection: sqlite3.Connection, user_id: int, recording_id: int, today: date
) -> tuple[int, int]:
    """Choose the suggested point where none is chosen and finish what lacks nothing.

    Returns how many reviews were finished, and how many still lack something.
    """
    finished = left = 0
    for ready in reviews_of(connection, recording_id, today):
        if ready.done:
            continue
        with transaction(connection):
            point = _proposed(ready.judgement)
            if point is not None:
                choose(connection, user_id, ready.judgement, point[0], point[1], want=True)
            review = reviews.by_id(connection, ready.judgement.review.id)
            lacks = review_document(judge_review(connection, review), today).complaints
            if lacks:
                left += 1
            else:
                reviews.set_done(connection, review.id, True)
                finished += 1
    return finished, left


def _proposed(judged: ReviewJudgement) -> tuple[str, str, str] | None:
    """(stroke, fault, name) of the first point of the stroke with most clips, if none is chosen."""
    if judged.review.focuses:
        return None
    for section in judged.strokes:
        for ranked in section.ranked:
            if section.prescription(ranked.fault.id).drills:
                return section.stroke, ranked.fault.id, ranked.fault.name
    return None
