"""Marking a clip as one use case: what is checked, what is done, what can be undone."""

from __future__ import annotations

import sqlite3

import pytest

from norvik.core.errors import FrameError, MarkError
from norvik.store import clips, marks
from norvik.workflow.mark import NEXT, delete_cycle, delete_hidden, mark, move_mark
from tests.workflow.conftest import COACH_ID


def stored(database: sqlite3.Connection) -> list[tuple[int, str, str]]:
    return [(m.frame, m.side, m.event) for m in marks.of_clip(database, 1)]


def test_a_mark_is_placed_moved_and_undone(database: sqlite3.Connection) -> None:
    clip = clips.by_id(database, 1)
    placed = mark(database, COACH_ID, clip, 10, "arm", "left", "entry")
    assert stored(database) == [(10, "left", "entry")]
    move_mark(database, COACH_ID, clip, placed.id, 12)
    assert stored(database) == [(12, "left", "entry")]
    marks.undo(database, 1, COACH_ID)
    marks.undo(database, 1, COACH_ID)
    assert stored(database) == []


def test_next_is_what_the_stroke_expects(database: sqlite3.Connection) -> None:
    clip = clips.by_id(database, 1)
    for frame in (5, 12, 18, 30, 44):
        mark(database, COACH_ID, clip, frame, "arm", "right", NEXT)
    for frame in (8, 14, 20):
        mark(database, COACH_ID, clip, frame, "breath", "right", NEXT)
    events = [m.event for m in marks.of_clip(database, 1) if m.lane == "arm"]
    assert events == ["entry", "catch", "press", "exit", "entry"]
    breath = [(m.event, m.side) for m in marks.of_clip(database, 1) if m.lane == "breath"]
    assert breath == [("turn", "right"), ("air", "right"), ("down", "")]


@pytest.mark.parametrize(
    ("lane", "side", "event", "metres"),
    [
        ("arm", "", "entry", None),
        ("arm", "left", "outsweep", None),
        ("arm", "left", "out", None),
        ("tail", "left", "entry", None),
        ("wall", "left", "push", None),
        ("course", "", "pass", None),
        ("course", "", "pass", -0.1),
        ("course", "", "pass", 25.1),
        ("course", "", "pass", float("nan")),
    ],
)
def test_what_the_stroke_or_the_pool_does_not_have_is_refused(
    database: sqlite3.Connection, lane: str, side: str, event: str, metres: float | None
) -> None:
    with pytest.raises(MarkError):
        mark(database, COACH_ID, clips.by_id(database, 1), 10, lane, side, event, metres)
    assert stored(database) == []


def test_a_frame_outside_of_the_clip_is_refused(database: sqlite3.Connection) -> None:
    clip = clips.by_id(database, 1)
    placed = mark(database, COACH_ID, clip, 0, "arm", "left", "entry")
    for frame in (-1, clip.last_frame + 1):
        with pytest.raises(FrameError, match=f"Frame {frame}"):
            mark(database, COACH_ID, clip, frame, "arm", "left", "exit")
        with pytest.raises(FrameError):
            move_mark(database, COACH_ID, clip, placed.id, frame)
    mark(database, COACH_ID, clip, clip.last_frame, "arm", "left", "exit")
    assert len(stored(database)) == 2


def test_a_pass_is_noted_with_its_metres_up_to_the_pool(database: sqlite3.Connection) -> None:
    clip = clips.by_id(database, 1)
    assert mark(database, COACH_ID, clip, 3, "course", "", "pass", 0).note == "0 m"
    assert mark(database, COACH_ID, clip, 9, "course", "", "pass", 25).note == "25 m"
    assert mark(database, COACH_ID, clip, 6, "course", "", "pass", 12.5).note == "12.5 m"


def test_a_cycle_goes_as_one_step(database: sqlite3.Connection) -> None:
    clip = clips.by_id(database, 1)
    for frame, event in ((5, "entry"), (12, "catch"), (18, "press"), (30, "exit"), (44, "entry")):
        last = mark(database, COACH_ID, clip, frame, "arm", "right", event)
    breath = mark(database, COACH_ID, clip, 20, "breath", "right", "air")
    with pytest.raises(MarkError, match="no arm cycle"):
        delete_cycle(database, COACH_ID, clip, breath.id)
    first = next(m for m in marks.of_clip(database, 1) if m.event == "catch")
    assert delete_cycle(database, COACH_ID, clip, first.id) == (4, 5)
    assert stored(database) == [(20, "right", "air"), (44, "right", "entry")]
    marks.undo(database, 1, COACH_ID)
    assert len(stored(database)) == 6
    assert last.frame == 44


def test_marks_of_another_stroke_go_together(database: sqlite3.Connection) -> None:
    clip = clips.by_id(database, 1)
    assert delete_hidden(database, COACH_ID, clip) == 0
    mark(database, COACH_ID, clip, 5, "arm", "right", "entry")
    mark(database, COACH_ID, clip, 8, "wall", "", "push")
    clips.change_facts(database, [1], stroke="breaststroke")
    changed = clips.by_id(database, 1)
    assert delete_hidden(database, COACH_ID, changed) == 1
    assert stored(database) == [(8, "", "push")]
