"""Measures that a film proposes: which are left to look at, and what they say before that."""

from __future__ import annotations

import sqlite3
from dataclasses import replace

import pytest

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point
from norvik.core.reading.trust import trusted
from norvik.store import clips, drawings, readings
from norvik.store.drawings import StoredDrawing
from norvik.store.readings import StoredMeasure
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.first_answer import first_answer
from norvik.workflow.mark import mark
from norvik.workflow.read_measures import (
    MOST,
    ProposedMeasure,
    on_frame_proposed,
    pass_over,
    proposed_measures,
    trust_in_measures,
)
from tests.read_clips import body_lines, read
from tests.workflow.conftest import COACH_ID


def timed_of(database: sqlite3.Connection) -> ClipTiming:
    return time_clip(database, clips.by_id(database, 1))


def left(database: sqlite3.Connection) -> list[ProposedMeasure]:
    return proposed_measures(database, timed_of(database))


def measured(
    database: sqlite3.Connection, one: ProposedMeasure | StoredMeasure, lower: float = 0.0
) -> None:
    """The coach confirms it, with the ankles so many pixels lower."""
    name = one.measure if isinstance(one, StoredMeasure) else one.measure.id
    shoulder, *ankles = (Point(*p) for p in one.points)
    points = (shoulder, *(Point(p.x, p.y + lower) for p in ankles))
    drawings.add(database, 1, COACH_ID, StoredDrawing(
        0, "measure", name, one.side, one.frame, one.frame, one.frame, points
    ))  # fmt: skip


@pytest.fixture
def side(database: sqlite3.Connection) -> sqlite3.Connection:
    """The clip was filmed from the side under water."""
    facts = clips.by_id(database, 1).facts
    clips.set_facts(database, 1, replace(facts, view="side-under", stroke="freestyle"))
    return database


def test_a_few_from_all_over_the_clip(side: sqlite3.Connection) -> None:
    read(side, measures=body_lines(8, 20, 38, 50, 68, 80))
    found = left(side)
    assert [p.frame for p in found] == [8, 38, 80]
    assert len(found) == MOST
    assert found[0].value == pytest.approx(14.0, abs=0.01)
    assert found[0].u95 == pytest.approx(1.96 * 1.4)
    assert drawings.of_clip(side, 1) == []


def test_what_was_measured_in_that_stroke_is_not_asked_again(side: sqlite3.Connection) -> None:
    read(side, measures=body_lines(8, 38, 68))
    measured(side, left(side)[0])
    assert [p.frame for p in left(side)] == [38, 68]
    # A coach who measured beside it measured this stroke.
    measured(side, replace(left(side)[0], frame=42))
    assert [p.frame for p in left(side)] == [68]
    measured(side, left(side)[0])
    assert left(side) == []


def test_what_was_passed_over_is_not_asked_again_also_after_another_reading(
    side: sqlite3.Connection,
) -> None:
    read(side, measures=body_lines(8, 20, 38, 50, 68, 80))
    first, *_ = left(side)
    pass_over(side, timed_of(side), first.measure.id, first.side, first.frame)
    # It counts as looked at: two of three are left, from all over the rest.
    assert [p.frame for p in left(side)] == [20, 80]
    # Read again, the same stroke is found on a frame beside it.
    read(side, measures=body_lines(9, 20, 38, 50, 68, 80))
    assert [p.frame for p in left(side)] == [20, 80]
    for _ in range(2):
        one = left(side)[0]
        pass_over(side, timed_of(side), one.measure.id, one.side, one.frame)
    assert left(side) == []
    readings.ask_again(side, 1)
    assert [p.frame for p in left(side)] == [9, 38, 80]


@pytest.mark.parametrize(
    "which", [("body-line", "", 9), ("body-line", "left", 8), ("kick-depth", "", 8), ("", "?", -1)]
)
def test_only_what_is_proposed_is_passed_over(
    side: sqlite3.Connection, which: tuple[str, str, int]
) -> None:
    read(side, measures=body_lines(8))
    with pytest.raises(MeasureError, match="not proposed any more"):
        pass_over(side, timed_of(side), *which)
    assert readings.passed_over(side, 1) == []


def test_a_measure_that_cannot_be_judged_here_is_not_proposed(side: sqlite3.Connection) -> None:
    read(side, measures=body_lines(8, 38))
    drawings.add(side, 1, COACH_ID, StoredDrawing(
        0, "obstacle", "body-line", "", 0, 0, None, (), text="foam"
    ))  # fmt: skip
    assert left(side) == []


def test_a_measure_whose_event_the_coach_moved_away_is_not_proposed(
    side: sqlite3.Connection,
) -> None:
    points = ((180.0, 60.0), (200.0, 80.0), (220.0, 90.0))
    read(side, measures=[StoredMeasure(13, "high-elbow", "right", points, 4.0)])
    assert len(left(side)) == 1
    clip = clips.by_id(side, 1)
    placed = mark(side, COACH_ID, clip, 14, "arm", "right", "press")
    assert len(left(side)) == 1
    mark(side, COACH_ID, clip, 6, "arm", "left", "press")
    assert len(left(side)) == 1, "the other arm does not say when"
    assert placed.frame == 14
    read(side, measures=[StoredMeasure(19, "high-elbow", "right", points, 4.0)])
    assert left(side) == []


def test_points_that_give_no_value_are_left_out(side: sqlite3.Connection) -> None:
    there = ((100.0, 60.0),) * 3
    read(side, measures=[StoredMeasure(13, "body-line", "", there, 2.0)])
    assert left(side) == []


def test_another_view_offers_other_measures(side: sqlite3.Connection) -> None:
    clips.set_facts(side, 1, replace(clips.by_id(side, 1).facts, view="side-above"))
    read(side, measures=body_lines(8))
    assert left(side) == []


# ---- what they say ----


def test_low_legs_are_something_to_look_at_and_not_a_fault(side: sqlite3.Connection) -> None:
    """14 degrees, where a fault begins at 10: told as to be looked at, kept out of the review."""
    read(side, measures=body_lines(8, 38, 68))
    timed = timed_of(side)
    (taken,) = on_frame_proposed(side, timed, left(side))
    assert taken.mean == pytest.approx(14.0, abs=0.01)
    assert taken.u == pytest.approx(1.4)
    answer = first_answer(side, timed)
    assert answer is not None
    assert len(answer.measures) == 3
    shown = {one.finding.id: one for one in answer.look}
    assert "legs-low" in shown
    assert shown["legs-low"].frame in (8, 38, 68)


def test_a_flat_body_line_is_probably_good(side: sqlite3.Connection) -> None:
    read(side, measures=body_lines(8, 38, 68, degrees=1.0, u=0.8))
    answer = first_answer(side, timed_of(side))
    assert answer is not None
    assert "legs-low" not in {one.finding.id for one in answer.look}


def test_measures_are_offered_when_all_marks_are_confirmed(side: sqlite3.Connection) -> None:
    timed = read(side, measures=body_lines(8))
    answer = first_answer(side, timed)
    assert answer is not None
    clip = clips.by_id(side, 1)
    for event in answer.proposed.events:
        frame = timed.clamped(timed.frame_of(event.time_s))
        mark(side, COACH_ID, clip, frame, event.lane, event.side, event.event)
    after = first_answer(side, timed_of(side))
    assert after is not None
    assert (after.open, len(after.measures)) == (0, 1)


# ---- trust ----


def test_confirmed_measures_tell_how_far_proposals_are_off(side: sqlite3.Connection) -> None:
    proposals = body_lines(*range(2, 90, 10))
    read(side, measures=proposals)
    for n, one in enumerate(proposals[:8]):
        measured(side, one, lower=0.0 if n % 2 else 10.0)
    (kind, trust), = trust_in_measures(side).items()  # fmt: skip
    assert kind == ("side-under", "body-line")
    assert trust.count == 8
    # Ten pixels lower at a hundred pixels away: from 14.0 to 19.3 degrees.
    assert trust.bias == pytest.approx(2.65, abs=0.1)
    assert trust.outside == 0.5
    assert trust.off
    assert trusted("side-under", "body-line", 1.4, {kind: trust}) is None


def test_few_corrections_change_nothing(side: sqlite3.Connection) -> None:
    proposals = body_lines(8, 38)
    read(side, measures=proposals)
    measured(side, proposals[0], lower=20.0)
    known = trust_in_measures(side)
    assert known["side-under", "body-line"].count == 1
    sure = trusted("side-under", "body-line", 1.4, known)
    assert sure is not None
    assert sure[0] == pytest.approx(1.96 * 1.4)
