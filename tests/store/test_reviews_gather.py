"""Which review a clip belongs to, by itself and by hand; yesterday's database brought over."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest

from norvik.settings import Settings
from norvik.store import clips, focus_answers, plans, review_clips, reviews, swimmers, trash
from norvik.store.connection import connect, migrate, transaction
from norvik.store.swimmers import Swimmer
from tests.store.schemas import schema_before
from tests.uploading import add_clip

DAY, LATER = "2026-11-20", "2026-11-27"


@pytest.fixture
def database(settings: Settings) -> Iterator[sqlite3.Connection]:
    connection = connect(settings.database)
    for name in ("Tilde Vassholm", "Eirik Lundstrand"):
        swimmers.add(connection, Swimmer(name))
    yield connection
    connection.close()


def held(database: sqlite3.Connection) -> dict[int, list[int]]:
    rows = database.execute("SELECT id FROM reviews ORDER BY id").fetchall()
    return {row["id"]: reviews.by_id(database, row["id"]).clip_ids for row in rows}


def test_clips_of_one_day_and_swimmer_join_one_review(database: sqlite3.Connection) -> None:
    first, front = (add_clip(database, 1, filmed_on=DAY) for _ in range(2))
    other = add_clip(database, 2, filmed_on=DAY)
    later = add_clip(database, 1, filmed_on=LATER)
    nobody = add_clip(database, None, filmed_on=DAY)
    assert held(database) == {1: [first, front], 2: [other], 3: [later]}
    clips.set_facts(database, nobody, replace(clips.by_id(database, nobody).facts, swimmer_id=1))
    assert held(database)[1] == [first, front, nobody]
    assert [r.id for r in reviews.of_swimmer(database, 1)] == [3, 1]


def test_a_finished_review_takes_nothing_in_by_itself(database: sqlite3.Connection) -> None:
    first = add_clip(database, 1, filmed_on=DAY)
    reviews.set_done(database, 1, True)
    late = add_clip(database, 1, filmed_on=DAY)
    assert held(database) == {1: [first]}
    assert review_clips.apart(database, 1) == [late]
    review_clips.put_in(database, 1, late)
    assert held(database) == {1: [first, late]}
    assert review_clips.apart(database, 1) == []


def test_a_clip_that_was_taken_out_does_not_come_back_by_itself(
    database: sqlite3.Connection,
) -> None:
    first, second = (add_clip(database, 1, filmed_on=DAY) for _ in range(2))
    review_clips.take_out(database, 1, second)
    clips.set_facts(database, second, replace(clips.by_id(database, second).facts, effort="race"))
    assert held(database) == {1: [first]}
    review_clips.put_in(database, 1, second)
    assert held(database) == {1: [first, second]}


def test_a_clip_of_an_earlier_day_can_be_put_in_and_keeps_its_own_review(
    database: sqlite3.Connection,
) -> None:
    early = add_clip(database, 1, filmed_on=DAY)
    late = add_clip(database, 1, filmed_on=LATER)
    review_clips.put_in(database, 2, early)
    assert held(database) == {1: [early], 2: [late, early]}
    assert reviews.id_of_clip(database, early) == 1
    assert reviews.id_of_clip(database, late) == 2


def test_a_day_that_is_corrected_moves_the_review(database: sqlite3.Connection) -> None:
    first, second = (add_clip(database, 1, filmed_on=DAY) for _ in range(2))
    clips.change_facts(database, [first], filmed_on=LATER)
    assert reviews.by_id(database, 1).filmed_on == DAY
    clips.change_facts(database, [second], filmed_on=LATER)
    assert reviews.by_id(database, 1).filmed_on == LATER
    assert held(database) == {1: [first, second]}


def test_a_clip_of_somebody_else_or_deleted_leaves_the_review_whole(
    database: sqlite3.Connection,
) -> None:
    first, second = (add_clip(database, 1, filmed_on=DAY) for _ in range(2))
    reviews.choose(database, 1, [("freestyle", "dropped-elbow")])
    clips.set_facts(database, first, replace(clips.by_id(database, first).facts, swimmer_id=2))
    # It is judged with its new swimmer, and the old review still knows of it.
    assert reviews.id_of_clip(database, first) == 2
    assert held(database) == {1: [first, second], 2: [first]}
    trash.put(database, [second])
    with transaction(database):
        trash.delete(database, [second])
    review = reviews.by_id(database, 1)
    assert [f.fault for f in review.focuses] == ["dropped-elbow"]
    assert [(m.clip_id, m.was) for m in review.members] == [
        (first, ""), (None, f"freestyle, side-under, {DAY}"),
    ]  # fmt: skip
    review_clips.forget_gone(database, 1)
    assert held(database)[1] == [first]


def test_what_was_chosen_written_and_planned_yesterday_is_all_there(tmp_path: Path) -> None:
    path = tmp_path / "norvik.sqlite3"
    old = schema_before("0021", path)
    old.executescript("""
        INSERT INTO users (id, email, name, role, password_hash)
            VALUES (1, 'a@b', 'A', 'coach', 'x');
        INSERT INTO swimmers (id, name, level)
            VALUES (1, 'Tilde', 'improver'), (2, 'Eirik', 'advanced');
        INSERT INTO recordings (id, original_name, original_path, sha256, bytes, state)
            VALUES (1, 'a.mp4', 'o/a', 'ab', 1, 'ready');
        INSERT INTO clips (id, recording_id, swimmer_id, stroke, view, role, filmed_on) VALUES
            (11, 1, 1, 'freestyle', 'side-under', 'before', '2026-11-20'),
            (12, 1, 1, 'butterfly', 'side-under', 'before', '2026-11-20'),
            (13, 1, 1, 'freestyle', 'front-under', 'before', '2026-11-20'),
            (14, 1, 1, 'freestyle', 'side-under', 'after', '2026-11-27'),
            (15, 1, 1, 'freestyle', 'front-under', 'after', '2026-11-27'),
            (16, 1, 2, 'freestyle', 'side-under', 'before', '2026-11-20'),
            (17, 1, NULL, 'freestyle', 'side-under', 'before', '2026-11-20');
        INSERT INTO reviews (clip_id, words, film_again_on, done_at) VALUES
            (11, 'Lovely line.', '2026-12-11', '2026-11-21T08:00:00Z'),
            (12, 'Fly words.', NULL, NULL);
        INSERT INTO focuses (clip_id, fault, place, still_frame, drills) VALUES
            (11, 'dropped-elbow', 0, 33, '["fist"]'), (11, 'overglide', 1, NULL, NULL),
            (16, 'crossing', 0, NULL, NULL);
        INSERT INTO overrules (clip_id, fault, because) VALUES (11, 'overglide', 'ready for it');
        INSERT INTO focus_answers (clip_id, fault, answer) VALUES (14, 'overglide', 'better');
        INSERT INTO plans (swimmer_id, clip_id, stroke, wish) VALUES (1, 11, 'freestyle',
            '{"starts_on": "2026-11-21", "aim_on": null, "weekdays": [1], "pool": ["25", "m"],
              "focuses": [["dropped-elbow", null]], "metres": 2000, "minutes": null,
              "level": "improver", "moves": {}, "repeats": {}, "found": [], "drills": {},
              "begins_at": "", "words": {}}');
        INSERT INTO undo_steps (user_id, text, parts, before, after)
            VALUES (1, 'x', '[["focuses", "clip_id", 11]]', '[[]]', '[[]]');
    """)
    old.close()
    migrate(path)
    migrate(path)
    connection = connect(path)
    done = reviews.by_id(connection, 11)
    assert (done.swimmer_id, done.filmed_on, done.words) == (1, "2026-11-20", "Lovely line.")
    assert (done.film_again_on, done.done_at) == ("2026-12-11", "2026-11-21T08:00:00Z")
    assert [(f.stroke, f.fault, f.still_clip, f.still_frame, f.drills) for f in done.focuses] == [
        ("freestyle", "dropped-elbow", 11, 33, ("fist",)),
        ("freestyle", "overglide", None, None, None),
    ]
    assert reviews.reasons(connection, 11, "freestyle") == {"overglide": "ready for it"}
    # The other stroke of that day keeps its own words; the unwritten front view joins that one,
    # because the other is finished.
    assert held(connection) == {11: [11], 12: [12, 13], 14: [14, 15], 16: [16]}
    assert reviews.by_id(connection, 12).words == "Fly words."
    assert focus_answers.newest(connection, 1, "freestyle") == {
        "overglide": ("better", "2026-11-27")
    }
    (plan,) = plans.of_swimmer(connection, 1)
    assert (plan.review_id, plan.clip_id) == (11, 11)
    assert connection.execute("SELECT count(*) FROM undo_steps").fetchone()[0] == 0
    assert connection.execute("PRAGMA foreign_key_check").fetchall() == []
    # A clip of nobody joins once it has somebody.
    clips.set_facts(connection, 17, replace(clips.by_id(connection, 17).facts, swimmer_id=2))
    assert held(connection)[16] == [16, 17]
    connection.close()
