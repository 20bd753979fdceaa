"""A judgement that is kept is never an old one: whatever it rests on is counted by the database."""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Callable

import pytest

from norvik.core.frame.geometry import Point
from norvik.store import (
    clips,
    drawings,
    marked_again,
    marks,
    observations,
    remarks,
    rests_on,
    tracks,
)
from norvik.store.drawings import StoredDrawing
from norvik.store.marked_again import MarkedAgain
from norvik.store.observations import Sighting
from norvik.workflow import kept_judgements
from norvik.workflow.clip_judgement import ClipJudgement, judge_clip
from norvik.workflow.kept_judgements import judged_clip
from tests.workflow.conftest import COACH_ID

#: Read with the clip, and given back as it is now.
WITH_THE_CLIP = {"reviews", "review_clips"}
Change = Callable[[sqlite3.Connection], object]


@pytest.fixture(autouse=True)
def nothing_kept() -> None:
    kept_judgements.forget()


@pytest.fixture
def marked(database: sqlite3.Connection) -> sqlite3.Connection:
    for begin in (0, 30, 60):
        for event, at in (("entry", 0), ("catch", 8), ("press", 12), ("exit", 22)):
            marks.place(database, 1, COACH_ID, begin + at, "arm", "right", event)
    drawn = StoredDrawing(0, "measure", "body-line", "", 5, 5, 5,
                          (Point(10.0, 10.0), Point(60.0, 20.0)))  # fmt: skip
    drawings.add(database, 1, COACH_ID, drawn)
    track = tracks.open_track(database, 1, COACH_ID, "wrist", "right")
    tracks.set_anchor(database, track, 3, 10.0, 10.0)
    # Re-marked often enough to say how well this coach marks.
    for n in range(12):
        marked_again.add(database, MarkedAgain(1, "coach", True, "arm", "right", "entry", n, n + 1,
                                               0.03, 1 / 30))  # fmt: skip
    return database


def now(database: sqlite3.Connection) -> tuple[object, ...]:
    """What is kept, as it can be compared."""
    return _compared(judged_clip(database, clips.by_id(database, 1)))


def afresh(database: sqlite3.Connection) -> tuple[object, ...]:
    return _compared(judge_clip(database, clips.by_id(database, 1)))


def _compared(judged: ClipJudgement) -> tuple[object, ...]:
    timed = judged.timed
    findings = [
        (f.id, f.kind, f.side, f.degree, f.severity, f.share, f.seen, f.instants, f.says,
         [(m.quantity.id, m.reading.value, m.reading.u, m.margin) for m in f.judged])
        for f in judged.findings
    ]  # fmt: skip
    return findings, judged.seen, judged.swimmer, timed.marks, timed.timing.rate


CHANGES: dict[str, Change] = {
    "a mark placed": lambda c: marks.place(c, 1, COACH_ID, 85, "arm", "right", "catch"),
    "a mark deleted": lambda c: marks.delete(c, 1, COACH_ID, marks.of_clip(c, 1)[0].id),
    "a mark undone": lambda c: marks.undo(c, 1, COACH_ID),
    "a tick": lambda c: observations.put(c, 1, Sighting("crossing", "left", "clear", 3)),
    "a remark": lambda c: remarks.add(c, 1, 1, "point", "stops", "", 3, True, ""),
    "the level": lambda c: c.execute("UPDATE swimmers SET level = 'advanced' WHERE id = 1"),
    "kit": lambda c: clips.change_facts(c, [1], kit=("snorkel",)),
    "the stroke": lambda c: clips.change_facts(c, [1], stroke="butterfly"),
    "slow motion": lambda c: c.execute("UPDATE recordings SET stretches = '[[0, 8.0]]'"),
    "frame times": lambda c: c.execute("UPDATE frame_tables SET media_s = media_s"),
    "a measure": lambda c: c.execute("UPDATE drawings SET points = '[[10, 10], [60, 60]]'"),
    "a followed point": lambda c: c.execute("UPDATE track_points SET x = 20"),
    "an own cue": lambda c: c.execute("INSERT INTO own_cues VALUES ('crossing', 'Wide!')"),
    "marking again": lambda c: c.execute("UPDATE marked_again SET later_s = 0.2"),
}


@pytest.mark.parametrize("change", CHANGES.values(), ids=CHANGES)
def test_no_change_leaves_an_old_judgement(marked: sqlite3.Connection, change: Change) -> None:
    before = rests_on.versions(marked, [1])[1]
    assert now(marked) == afresh(marked)
    change(marked)
    assert rests_on.versions(marked, [1])[1] != before
    assert now(marked) == afresh(marked)


def test_without_a_change_nothing_is_worked_out_again(
    marked: sqlite3.Connection, monkeypatch: pytest.MonkeyPatch
) -> None:
    first = judged_clip(marked, clips.by_id(marked, 1))
    monkeypatch.setattr(kept_judgements, "judge_clip", lambda *_: pytest.fail("worked out again"))
    assert judged_clip(marked, clips.by_id(marked, 1)) is first
    # That the review is finished is said with the clip, and changes no judgement.
    marked.execute("UPDATE reviews SET done_at = '2026-11-28T08:00:00Z'")
    again = judged_clip(marked, clips.by_id(marked, 1))
    assert again.clip.reviewed_at == "2026-11-28T08:00:00Z"
    assert again.findings is first.findings


def test_everything_that_judging_reads_is_counted(marked: sqlite3.Connection) -> None:
    said: list[str] = []
    marked.set_trace_callback(said.append)
    judge_clip(marked, clips.by_id(marked, 1))
    marked.set_trace_callback(None)
    names = {
        r["name"] for r in marked.execute("SELECT name FROM sqlite_master WHERE type = 'table'")
    }
    read = {t for s in said for t in re.findall(r"\b(?:FROM|JOIN)\s+([a-z_]+)", s)} & names
    assert {"marks", "drawings", "tracks", "marked_again", "swimmers"} <= read
    counted = {
        (r["tbl_name"], r["name"].rpartition("_")[2])
        for r in marked.execute("SELECT tbl_name, name FROM sqlite_master WHERE type = 'trigger'")
    }
    for table in read - WITH_THE_CLIP:
        for deed in ("insert", "update", "delete"):
            assert (table, deed) in counted, f"{table} {deed}: judging reads it, nothing counts it"


def test_no_more_are_kept_than_there_is_room_for(
    marked: sqlite3.Connection, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(kept_judgements, "MOST_KEPT", 0)
    judged_clip(marked, clips.by_id(marked, 1))
    assert not kept_judgements._kept
