"""The database: migrations, transactions, and marks that can be undone."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import numpy as np
import pytest

from norvik.core.errors import MarkError, NotFoundError
from norvik.settings import Settings
from norvik.store import clips, marks, observations, recordings, reviews, swimmers, trash
from norvik.store.connection import MIGRATIONS, connect, migrate, transaction
from norvik.store.observations import Sighting
from norvik.store.swimmers import Swimmer
from tests.uploading import add_clip


@pytest.fixture
def database(settings: Settings) -> Iterator[sqlite3.Connection]:
    connection = connect(settings.database)
    yield connection
    connection.close()


@pytest.fixture
def clip_id(database: sqlite3.Connection) -> int:
    swimmer = swimmers.add(database, Swimmer("Tilde Vassholm"))
    return add_clip(database, swimmer)


def test_migrating_again_keeps_what_is_there(settings: Settings, clip_id: int) -> None:
    migrate(settings.database)
    connection = connect(settings.database)
    assert clips.by_id(connection, clip_id).recording.original_name == "a.mp4"
    assert connection.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
    connection.close()


def test_a_migration_whose_record_was_lost_can_run_again(settings: Settings, clip_id: int) -> None:
    """As if the machine had stopped between the change and its record."""
    connection = connect(settings.database)
    connection.execute(
        "DELETE FROM _yoyo_migration WHERE migration_id = "
        "(SELECT max(migration_id) FROM _yoyo_migration)"
    )
    connection.close()
    migrate(settings.database)
    connection = connect(settings.database)
    assert clips.by_id(connection, clip_id).id == clip_id
    connection.close()


def test_a_library_of_the_first_schema_is_brought_over(tmp_path: Path) -> None:
    """Clips with their files become recordings of the same number; marks and reviews stay."""
    database = tmp_path / "norvik.sqlite3"
    old = connect(database)
    old.executescript((MIGRATIONS / "0001_first.sql").read_text(encoding="utf-8"))
    old.executescript("""
        INSERT INTO swimmers (name, level) VALUES ('Tilde Vassholm', 'improver');
        INSERT INTO clips (id, swimmer_id, stroke, view, role, filmed_on, stretch, original_name,
            original_path, sha256, bytes, state, review_path, rate_num, rate_den, frames)
        VALUES (4, 1, 'freestyle', 'overhead', 'race', '2026-11-20', 8.0, 'a.mp4',
            'originals/ab.mp4', 'ab', 10, 'ready', 'copies/4.mp4', 30, 1, 3);
        INSERT INTO clips (id, swimmer_id, stroke, view, role, filmed_on, original_name,
            original_path, sha256, bytes, state)
        VALUES (9, 1, 'freestyle', 'overhead', 'race', '2026-11-20', 'b.mp4', 'originals/cd.mp4',
            'cd', 10, 'waiting');
        DELETE FROM clips WHERE id = 9;
        INSERT INTO clips (id, swimmer_id, stroke, view, role, filmed_on, original_name,
            original_path, sha256, bytes, state)
        VALUES (7, 1, 'freestyle', 'overhead', 'race', '2026-11-20', 'c.mp4', 'originals/ef.mp4',
            'ef', 10, 'waiting');
        INSERT INTO marks (clip_id, frame, lane, side, event) VALUES (4, 2, 'arm', 'left', 'entry');
        INSERT INTO mark_changes (clip_id, user_id, mark_id, after) VALUES (4, 1, 1,
            '{"id": 1, "frame": 2, "lane": "arm", "side": "left", "event": "entry"}');
        INSERT INTO reviews (clip_id, words) VALUES (4, 'Good.');
    """)
    times = np.array([0.0, 0.1, 0.2])
    old.execute("INSERT INTO frame_tables VALUES (4, ?)", (times.tobytes(),))
    old.close()
    migrate(database)
    migrate(database)
    connection = connect(database)
    clip = clips.by_id(connection, 4)
    assert (clip.recording.id, clip.recording.copied, clip.recording.rate) == (4, True, 30)
    assert (clip.view, clip.role, clip.marks, clip.to_end) == ("overhead", "race", 1, True)
    assert clips.time_base(connection, clip).real_s.tolist() == pytest.approx([0, 0.0125, 0.025])
    assert reviews.by_id(connection, 4).words == "Good."
    # Old marks can still be taken back and made again.
    assert marks.undo(connection, 4, 1) is not None
    assert marks.of_clip(connection, 4) == []
    assert marks.redo(connection, 4, 1) is not None
    assert [m.id for m in marks.of_clip(connection, 4)] == [1]
    # What was under way begins anew, and ids of deleted clips stay used.
    row = connection.execute("SELECT kind, recording_id, state FROM jobs").fetchall()
    assert [tuple(r) for r in row] == [("prepare-recording", 7, "queued")]
    assert add_clip(connection, 1, "new.mp4") == 10
    assert recordings.by_id(connection, 10).original_name == "new.mp4"
    assert not connection.execute("PRAGMA foreign_key_check").fetchall()
    connection.close()


def test_a_data_folder_with_spaces_and_accents(tmp_path: Path) -> None:
    migrate(tmp_path / "höst läger #1" / "norvik.sqlite3")


def test_transactions_undo_schema_and_nest(database: sqlite3.Connection) -> None:
    with suppress(ZeroDivisionError), transaction(database):
        database.execute("CREATE TABLE extra (x INTEGER)")
        raise ZeroDivisionError
    assert not database.execute("SELECT 1 FROM sqlite_master WHERE name = 'extra'").fetchone()
    with transaction(database):
        outer = swimmers.add(database, Swimmer("Outer"))
        with suppress(ZeroDivisionError), transaction(database):
            swimmers.add(database, Swimmer("Inner"))
            raise ZeroDivisionError
    assert [s.id for s in swimmers.all_by_name(database)] == [outer]


def test_foreign_keys_hold(database: sqlite3.Connection) -> None:
    with pytest.raises(sqlite3.IntegrityError):
        database.execute(
            "INSERT INTO marks (clip_id, frame, lane, side, event) VALUES (99, 1, 'arm', '', 'x')"
        )


def shown(database: sqlite3.Connection, clip_id: int) -> list[tuple[int, int, str]]:
    return [(m.id, m.frame, m.event) for m in marks.of_clip(database, clip_id)]


def test_undo_and_redo_walk_the_whole_history(database: sqlite3.Connection, clip_id: int) -> None:
    states = [shown(database, clip_id)]
    entry = marks.place(database, clip_id, 1, 10, "arm", "right", "entry")
    states.append(shown(database, clip_id))
    marks.place(database, clip_id, 1, 20, "arm", "right", "catch")
    states.append(shown(database, clip_id))
    marks.move(database, clip_id, 1, entry.id, 12)
    states.append(shown(database, clip_id))
    marks.delete(database, clip_id, 1, entry.id)
    states.append(shown(database, clip_id))
    for state in reversed(states[:-1]):
        assert marks.undo(database, clip_id, 1) is not None
        assert shown(database, clip_id) == state
    assert marks.undo(database, clip_id, 1) is None
    for state in states[1:]:
        assert marks.redo(database, clip_id, 1) is not None
        assert shown(database, clip_id) == state
    assert marks.redo(database, clip_id, 1) is None
    marks.undo(database, clip_id, 1)
    marks.place(database, clip_id, 1, 99, "arm", "left", "entry")
    assert marks.can_undo_redo(database, clip_id, 1) == (True, False)


def test_the_same_mark_twice_is_refused(database: sqlite3.Connection, clip_id: int) -> None:
    marks.place(database, clip_id, 1, 10, "arm", "right", "entry")
    second = marks.place(database, clip_id, 1, 11, "arm", "right", "entry")
    with pytest.raises(MarkError, match="already marked on frame 10"):
        marks.place(database, clip_id, 1, 10, "arm", "right", "entry")
    with pytest.raises(MarkError, match="already marked"):
        marks.move(database, clip_id, 1, second.id, 10)
    assert len(shown(database, clip_id)) == 2


def test_two_people_undo_their_own_and_overwrite_nothing(
    database: sqlite3.Connection, clip_id: int
) -> None:
    coach = marks.place(database, clip_id, 1, 10, "arm", "right", "entry")
    helper = marks.place(database, clip_id, 2, 20, "arm", "left", "entry")
    marks.undo(database, clip_id, 1)
    assert [m.id for m in marks.of_clip(database, clip_id)] == [helper.id]
    marks.redo(database, clip_id, 1)
    marks.move(database, clip_id, 2, coach.id, 15)
    with pytest.raises(MarkError, match="Someone else"):
        marks.undo(database, clip_id, 1)
    assert marks.by_id(database, clip_id, coach.id).frame == 15


def test_a_deleted_mark_comes_back_under_its_own_id(
    database: sqlite3.Connection, clip_id: int
) -> None:
    first = marks.place(database, clip_id, 1, 10, "arm", "right", "entry")
    marks.delete(database, clip_id, 1, first.id)
    other = marks.place(database, clip_id, 2, 30, "arm", "right", "entry")
    assert other.id != first.id
    marks.undo(database, clip_id, 1)
    assert {m.id for m in marks.of_clip(database, clip_id)} == {first.id, other.id}


def test_marks_of_another_clip_cannot_be_touched(
    database: sqlite3.Connection, clip_id: int
) -> None:
    mark = marks.place(database, clip_id, 1, 10, "arm", "right", "entry")
    with pytest.raises(NotFoundError):
        marks.delete(database, clip_id + 1, 1, mark.id)


def test_sightings_and_focuses(database: sqlite3.Connection, clip_id: int) -> None:
    observations.put(database, clip_id, Sighting("crossing", "left", "slight", 4))
    observations.put(database, clip_id, Sighting("crossing", "left", "clear", 9))
    assert observations.of_clip(database, clip_id) == [Sighting("crossing", "left", "clear", 9)]
    both = [("freestyle", "crossing"), ("freestyle", "legs-low")]
    reviews.choose(database, 1, both)
    reviews.set_drills(database, 1, "freestyle", "legs-low", ["torpedo-kick"])
    reviews.choose(database, 1, both[1:])
    (focus,) = reviews.by_id(database, 1).focuses
    assert (focus.fault, focus.drills) == ("legs-low", ("torpedo-kick",))


def test_deleting_a_clip_takes_its_marks_and_leaves_its_review_whole(
    database: sqlite3.Connection, clip_id: int
) -> None:
    marks.place(database, clip_id, 1, 10, "arm", "right", "entry")
    reviews.set_words(database, 1, "Good.", None)
    trash.put(database, [clip_id])
    with transaction(database):
        assert trash.delete(database, [clip_id]) == [(1, "originals/a.mp4")]
    for table in ("marks", "mark_changes"):
        assert database.execute(f"SELECT count(*) FROM {table}").fetchone()[0] == 0
    review = reviews.by_id(database, 1)
    assert (review.words, review.clip_ids) == ("Good.", [])
    assert [m.was for m in review.members] == ["freestyle, side-under, 2026-11-20"]
