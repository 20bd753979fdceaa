"""Ticking and choosing as use cases: refusals, the suggestion, the reason, drills, undo."""

from __future__ import annotations

import sqlite3

import pytest

from norvik.core.errors import ChoiceError, FrameError
from norvik.store import clips, observations, reviews, undo
from norvik.store.undo import Step
from norvik.workflow.choose import (
    BECAUSE,
    choose_still,
    give_reason,
    keep_drill,
    swap_drill,
)
from norvik.workflow.choose import choose as choose_point
from norvik.workflow.review_judgement import ReviewJudgement, StrokeJudgement, judge_with
from norvik.workflow.tick import answer
from norvik.workflow.tick import tick as tick_clip
from tests.workflow.conftest import COACH_ID

FOUND = ("head-forward", "back-arch", "thumb-first", "crossing")


def whole(database: sqlite3.Connection) -> ReviewJudgement:
    return judge_with(database, clips.by_id(database, 1))


def judged(database: sqlite3.Connection) -> StrokeJudgement:
    return whole(database).stroke("freestyle")


def tick(
    database: sqlite3.Connection, who: int, section: StrokeJudgement, what: str, side: str,
    degree: str, frame: int | None,
) -> Step:  # fmt: skip
    return tick_clip(database, who, section.of_clip(1), what, side, degree, frame)


def choose(
    database: sqlite3.Connection, who: int, section: StrokeJudgement, fault: str, **how: bool
) -> Step:
    return choose_point(database, who, whole(database), section.stroke, fault, **how)


@pytest.fixture
def found(database: sqlite3.Connection) -> sqlite3.Connection:
    for fault in FOUND:
        tick(database, COACH_ID, judged(database), fault, "", "clear", 5)
    return database


def test_a_tick_is_kept_changed_and_removed(database: sqlite3.Connection) -> None:
    step = tick(database, COACH_ID, judged(database), "thumb-first", "left", "slight", 7)
    assert step.text == "Thumb-first entry: slight."
    tick(database, COACH_ID, judged(database), "thumb-first", "left", "clear", 10_000)
    (seen,) = observations.of_clip(database, 1)
    # A frame outside of the clip is no reason to lose the tick.
    assert (seen.side, seen.degree, seen.frame) == ("left", "clear", None)
    assert tick(database, COACH_ID, judged(database), "thumb-first", "left", "", None).text == (
        "Thumb-first entry: tick removed."
    )
    assert observations.of_clip(database, 1) == []


@pytest.mark.parametrize(
    ("what", "side"), [("no-such-fault", ""), ("back-arch", "left"), ("thumb-first", "front")]
)
def test_what_is_not_on_the_sheet_is_refused(
    database: sqlite3.Connection, what: str, side: str
) -> None:
    with pytest.raises(ChoiceError, match="not on the list"):
        tick(database, COACH_ID, judged(database), what, side, "clear", None)
    assert observations.of_clip(database, 1) == []


def test_three_focuses_and_a_fourth_for_a_long_event(found: sqlite3.Connection) -> None:
    order = [r.fault.id for r in judged(found).ranked]
    for fault in order[:3]:
        choose(found, COACH_ID, judged(found), fault)
    with pytest.raises(ChoiceError, match="3 focuses are chosen"):
        choose(found, COACH_ID, judged(found), order[3])
    choose(found, COACH_ID, judged(found), order[3], long_event=True)
    assert [f.fault.id for f in judged(found).focuses] == order
    assert reviews.reasons(found, 1, "freestyle") == {}
    with pytest.raises(ChoiceError, match="no longer among"):
        choose(found, COACH_ID, judged(found), "overglide")


def test_another_choice_than_the_suggestion_keeps_a_reason(found: sqlite3.Connection) -> None:
    last = judged(found).ranked[-1].fault.id
    choose(found, COACH_ID, judged(found), last)
    assert reviews.reasons(found, 1, "freestyle") == {last: BECAUSE[0]}
    give_reason(found, judged(found), last, "  film day tomorrow  ")
    assert reviews.reasons(found, 1, "freestyle") == {last: "film day tomorrow"}
    give_reason(found, judged(found), last, " ")
    assert reviews.reasons(found, 1, "freestyle") == {last: BECAUSE[0]}


def test_a_focus_moves_up_goes_and_comes_back_by_undo(found: sqlite3.Connection) -> None:
    first, second = (r.fault.id for r in judged(found).ranked[:2])
    choose(found, COACH_ID, judged(found), first)
    choose(found, COACH_ID, judged(found), second)
    assert choose(found, COACH_ID, judged(found), second, move_up=True).text.endswith("moved up.")
    assert [f.fault.id for f in judged(found).focuses] == [second, first]
    # The first one has nowhere to move to.
    choose(found, COACH_ID, judged(found), second, move_up=True)
    assert [f.fault.id for f in judged(found).focuses] == [second, first]
    gone = choose(found, COACH_ID, judged(found), second)
    assert gone.text.endswith("removed.")
    assert gone.id is not None
    undo.undo(found, COACH_ID, gone.id)
    assert [f.fault.id for f in judged(found).focuses] == [second, first]


def test_drills_and_still_of_a_focus(found: sqlite3.Connection) -> None:
    fault = "short-finish"
    tick(found, COACH_ID, judged(found), fault, "", "clear", 5)
    for deed in (
        lambda: choose_still(found, judged(found), fault, clips.by_id(found, 1), 4),
        lambda: swap_drill(found, judged(found), fault, "fist"),
        lambda: give_reason(found, judged(found), fault, "x"),
    ):
        with pytest.raises(ChoiceError, match="no longer chosen"):
            deed()
    choose(found, COACH_ID, judged(found), fault)
    choose_still(found, judged(found), fault, clips.by_id(found, 1), 4)
    with pytest.raises(FrameError):
        choose_still(found, judged(found), fault, clips.by_id(found, 1), 90)
    assert judged(found).review.focuses[0].still_frame == 4
    before = [d.id for d in judged(found).drills(fault)]
    swap_drill(found, judged(found), fault, before[0])
    after = [d.id for d in judged(found).drills(fault)]
    assert after[0] != before[0]
    assert after[1:] == before[1:]
    keep_drill(found, judged(found), fault, after[0])
    assert [d.id for d in judged(found).drills(fault)] == after[1:]
    given = judged(found).prescription(fault)
    suitable = [d.id for d in (*given.drills, *given.others) if d.id not in after[1:]]
    for drill in suitable[: 3 - len(after[1:])]:
        keep_drill(found, judged(found), fault, drill)
    with pytest.raises(ChoiceError, match="Three drills"):
        keep_drill(found, judged(found), fault, suitable[3 - len(after[1:])])
    with pytest.raises(ChoiceError, match="does not suit"):
        keep_drill(found, judged(found), fault, "no-such-drill")


def test_only_a_focus_in_training_is_answered(found: sqlite3.Connection) -> None:
    with pytest.raises(ChoiceError, match="no longer in training"):
        answer(found, COACH_ID, judged(found), FOUND[0], "gone")
