"""What a film told by itself: proposed, moved, confirmed, and judged before it is confirmed."""

from __future__ import annotations

import sqlite3
from dataclasses import replace

import pytest

from norvik.core.errors import ChoiceError, MarkError
from norvik.store import clips, club, jobs, marks, observations, readings, recordings, swimmers
from norvik.work_names import READ
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.first_answer import answer, first_answer
from norvik.workflow.mark import mark
from norvik.workflow.reading import (
    ask_to_read,
    cycle_at,
    job_of,
    proposed,
    reading_of,
    take,
    trust,
)
from tests.read_clips import read
from tests.workflow.conftest import COACH_ID


def again(database: sqlite3.Connection) -> ClipTiming:
    return time_clip(database, clips.by_id(database, 1))


# ---- proposals ----


def test_a_reading_proposes_and_marks_nothing(database: sqlite3.Connection) -> None:
    timed = read(database)
    found = proposed(database, timed)
    assert len(found.events) == 21
    assert found.proposals[0].sure == 0.9
    assert found.proposals[0].u95_s == pytest.approx(0.1, abs=1e-3)
    assert marks.of_clip(database, 1) == []
    assert timed.timing.rate.cycles_per_min is None


def test_a_reading_of_what_the_clip_was_before_is_none(database: sqlite3.Connection) -> None:
    read(database)
    clip = clips.by_id(database, 1)
    clips.set_facts(database, 1, replace(clip.facts, stroke="backstroke"))
    assert reading_of(database, again(database)) is None
    assert proposed(database, again(database)).events == ()
    clips.set_facts(database, 1, clip.facts)
    assert reading_of(database, again(database)) is not None


def test_a_correction_moves_what_is_left_and_is_told(database: sqlite3.Connection) -> None:
    read(database)
    clip = clips.by_id(database, 1)
    for frame in (6, 36):
        mark(database, COACH_ID, clip, frame, "arm", "right", "entry")
    found = proposed(database, again(database))
    right = [e for e in found.events if (e.side, e.event) == ("right", "entry")]
    assert len(found.events) == 19
    assert right[0].time_s == pytest.approx((62 + 4 * 2 / 2.25) / 30, abs=1e-3)
    assert {(s.side, s.event, s.count) for s in found.shifts} == {
        ("right", "entry", 2), ("left", "entry", 2)
    }  # fmt: skip


# ---- taking ----


def test_a_cycle_is_taken_whole_as_one_step(database: sqlite3.Connection) -> None:
    timed = read(database)
    first, last = cycle_at(timed, proposed(database, timed).events, 40)
    assert (first, last) == (32, 61)
    clip = clips.by_id(database, 1)
    assert take(database, COACH_ID, clip, first, last) == 8
    placed = marks.of_clip(database, 1)
    assert [(m.frame, m.event) for m in placed if m.side == "right"] == [
        (32, "entry"), (38, "catch"), (43, "press"), (54, "exit")
    ]  # fmt: skip
    marks.undo(database, 1, COACH_ID)
    assert marks.of_clip(database, 1) == []


def test_the_rest_is_taken_and_then_nothing_is_left(database: sqlite3.Connection) -> None:
    read(database)
    clip = clips.by_id(database, 1)
    assert take(database, COACH_ID, clip, 0, 89) == 21
    timed = again(database)
    assert timed.timing.rate.cycles_per_min == pytest.approx(60.0)
    assert proposed(database, timed).events == ()
    with pytest.raises(MarkError, match="Nothing is proposed here"):
        take(database, COACH_ID, clip, 0, 89)


# ---- the first answer ----


def test_before_a_mark_there_are_numbers_and_something_to_look_at(
    database: sqlite3.Connection,
) -> None:
    timed = read(database)
    first = first_answer(database, timed)
    assert first is not None
    assert first.open == 21
    assert first.unsure == 0
    assert first.timed.timing.rate.cycles_per_min == pytest.approx(60.0, abs=0.5)
    assert first.look
    assert len(first.look) <= 3
    assert all(one.answer == "" for one in first.look)
    # Its own marks say nothing still.
    assert timed.timing.rate.cycles_per_min is None


def test_numbers_that_were_only_read_are_less_sure(database: sqlite3.Connection) -> None:
    timed = read(database)
    first = first_answer(database, timed)
    take(database, COACH_ID, timed.clip, 0, 89)
    marked = again(database)
    assert first is not None
    provisional, confirmed = (t.timing.phases["right"]["pull"] for t in (first.timed, marked))
    assert provisional is not None
    assert confirmed is not None
    assert provisional.u_s > 1.2 * confirmed.u_s


def test_yes_ticks_no_takes_away_and_not_sure_stays(database: sqlite3.Connection) -> None:
    timed = read(database)
    first = first_answer(database, timed)
    assert first is not None
    one = first.look[0].finding
    answer(database, COACH_ID, timed, one.id, one.side, "unsure")
    first = first_answer(database, timed)
    assert first is not None
    assert first.look[0].answer == "unsure"
    answer(database, COACH_ID, timed, one.id, one.side, "yes")
    assert [s.what for s in observations.of_clip(database, 1)] == [one.id]
    answer(database, COACH_ID, timed, one.id, one.side, "no")
    assert observations.of_clip(database, 1) == []
    first = first_answer(database, timed)
    assert first is not None
    assert one.id not in [look.finding.id for look in first.look]
    with pytest.raises(ChoiceError, match="not asked any more"):
        answer(database, COACH_ID, timed, one.id, one.side, "yes")


def test_a_clip_of_nobody_has_numbers_and_no_judgement(database: sqlite3.Connection) -> None:
    clip = clips.by_id(database, 1)
    clips.set_facts(database, 1, replace(clip.facts, swimmer_id=None))
    first = first_answer(database, read(database))
    assert first is not None
    assert first.unjudged
    assert not first.look
    assert first.timed.timing.rate.cycles_per_min


def test_a_clip_that_was_not_read_has_no_first_answer(database: sqlite3.Connection) -> None:
    assert first_answer(database, again(database)) is None


# ---- asking for it ----


def test_a_clip_is_asked_for_once_at_a_time(database: sqlite3.Connection) -> None:
    clip = clips.by_id(database, 1)
    job_id = ask_to_read(database, clip)
    assert job_id is not None
    assert ask_to_read(database, clip) is None
    jobs.ask_cancel(database, job_id)
    job = job_of(database, 1)
    assert job is not None
    assert job.state == "cancelled"
    assert ask_to_read(database, clip) is not None


def test_unread_are_whole_films_without_a_mark(database: sqlite3.Connection) -> None:
    assert readings.next_unread(database, READ) == 1
    read(database)
    assert readings.next_unread(database, READ) is None
    clip = clips.by_id(database, 1)
    clips.set_facts(database, 1, replace(clip.facts, view="side-above"))
    assert readings.next_unread(database, READ) == 1
    mark(database, COACH_ID, clip, 3, "arm", "left", "entry")
    assert readings.next_unread(database, READ) is None


def test_the_club_says_whether_films_are_read_by_themselves(database: sqlite3.Connection) -> None:
    assert club.reads_films(database)
    club.set_reads_films(database, False)
    assert not club.reads_films(database)


# ---- trust ----


def test_only_what_was_looked_at_one_by_one_counts(database: sqlite3.Connection) -> None:
    read(database, u95=2.0)
    clip = clips.by_id(database, 1)
    take(database, COACH_ID, clip, 0, 31)
    assert trust(database) == {}
    mark(database, COACH_ID, clip, 35, "arm", "right", "entry")
    found = trust(database)[("side-under", "entry")]
    assert found.count == 1
    assert found.bias == pytest.approx(0.1, abs=1e-3)
    assert found.outside == 1.0


def test_a_swimmer_who_is_removed_takes_the_readings_along(database: sqlite3.Connection) -> None:
    read(database)
    readings.put_answer(database, 1, COACH_ID, "kick-few", "", "no")
    readings.pass_over(database, 1, "body-line", "", 8)
    database.execute("DELETE FROM clips WHERE id = 1")
    for table in ("readings", "reading_answers", "reading_taken", "reading_passed"):
        assert not database.execute(f"SELECT * FROM {table}").fetchall()
    assert swimmers.by_id(database, 1).name
    assert recordings.by_id(database, 1)
