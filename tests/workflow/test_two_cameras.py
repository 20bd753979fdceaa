"""Two cameras on one swim: tied by hand and by sound; a mark in one film is a mark in both."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from norvik.core.errors import MarkError
from norvik.core.time.sound_offset import Samples
from norvik.core.time.timebase import Stretch
from norvik.footage.sound import read_sound
from norvik.settings import Settings
from norvik.store import clips, marks, recordings, tied_recordings
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.workflow.clip_timing import time_clip
from norvik.workflow.mark import (
    delete_cycle,
    delete_mark,
    mark,
    move_mark,
    step_back,
    step_on,
)
from norvik.workflow.side_by_side.film import Film, film_of_clip
from norvik.workflow.side_by_side.pairing import Wish, pair
from norvik.workflow.side_by_side.tie import (
    SOUND_HZ,
    by_sound,
    clocks_of,
    tie_films,
    twin_frame,
)
from tests.clips import add_sound, numbered_clip
from tests.conftest import BroughtIn
from tests.workflow.conftest import COACH_ID

#: The second camera starts 0.7 s later and films twice as many frames a second.
LATER_S = 0.7
SPLASHES = (1.0, 1.9, 2.35, 3.4, 4.1)


@pytest.fixture(scope="module")
def films(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    folder = tmp_path_factory.mktemp("cameras")
    side = numbered_clip(folder / "a.mp4", [k / 30 for k in range(150)])
    front = numbered_clip(folder / "b.mp4", [k / 60 for k in range(240)])
    heard = [t - LATER_S for t in SPLASHES]
    return [
        (add_sound(side, folder / "side.mp4", 5.0, *SPLASHES), {}),
        (add_sound(front, folder / "front.mp4", 4.0, *heard), {"view": "front-under"}),
    ]


@pytest.fixture
def both(
    settings: Settings, brought_in: BroughtIn, films: list[tuple[Path, dict[str, object]]]
) -> Iterator[sqlite3.Connection]:
    brought_in(settings, [Swimmer("Tilde Vassholm"), Swimmer("Eirik Lundstrand")], *films)
    with connected(settings.database) as connection:
        yield connection


def film(connection: sqlite3.Connection, clip_id: int) -> Film:
    return film_of_clip(time_clip(connection, clips.by_id(connection, clip_id)))


def heard(settings: Settings) -> Callable[[int], Samples | None]:
    def of(recording_id: int) -> Samples | None:
        path = settings.copies / f"{recording_id}.m4a"
        return read_sound(path, SOUND_HZ) if path.is_file() else None

    return of


def tie(connection: sqlite3.Connection, *instants: tuple[int, int]) -> int:
    found = tie_films(connection, film(connection, 1), film(connection, 2), instants, COACH_ID)
    return found.copied


def placed(connection: sqlite3.Connection, clip_id: int) -> list[tuple[int, str, str]]:
    return [(m.frame, m.side, m.event) for m in marks.of_clip(connection, clip_id)]


def test_the_sound_says_which_frames_belong_together(
    both: sqlite3.Connection, settings: Settings
) -> None:
    found = by_sound(film(both, 1), film(both, 2), heard(settings))
    assert found is not None
    offset, (one, other) = found
    assert offset.later_s == pytest.approx(-LATER_S, abs=1 / 60)
    assert offset.clear
    # At 30 and at 60 frames a second: the nearest frames of that instant.
    assert other == pytest.approx(60 * (one / 30 - LATER_S), abs=1)
    recordings.set_stretches(both, 2, [Stretch(0, 4.0)])
    with pytest.raises(MarkError, match="does not run in real time"):
        by_sound(film(both, 1), film(both, 2), heard(settings))


def test_films_without_sound_say_so(both: sqlite3.Connection, settings: Settings) -> None:
    (settings.copies / "2.m4a").unlink()
    with pytest.raises(MarkError, match="has no sound"):
        by_sound(film(both, 1), film(both, 2), heard(settings))


def test_tied_films_go_by_one_clock_and_show_how_it_drifts(both: sqlite3.Connection) -> None:
    tie(both, (30, 18))
    known = tied_recordings.between(both, 1, 2)
    assert known is not None
    clocks = clocks_of(known, film(both, 1), film(both, 2))
    assert clocks.drift is None
    pairing = pair(film(both, 1), film(both, 2), Wish("clock"), clocks)
    assert [pairing.other_frame(f) for f in (30, 45, 21, 0)] == [18, 48, 0, 0]
    # Seen from the other film it is the same instant.
    back = tied_recordings.between(both, 2, 1)
    assert back is not None
    assert back.instants == ((18, 30),)
    # A second instant, a frame off in 3 s: the clocks drift apart, if at all, by less than that.
    tie(both, (30, 18), (120, 199))
    known = tied_recordings.between(both, 1, 2)
    assert known is not None
    clocks = clocks_of(known, film(both, 1), film(both, 2))
    assert clocks.drift == pytest.approx((181 / 60 - 3) / 3)
    assert clocks.drift_u is not None
    assert abs(clocks.drift) < 2 * clocks.drift_u


def test_a_mark_in_one_film_is_a_mark_in_both(both: sqlite3.Connection) -> None:
    tie(both, (30, 18))
    side, front = clips.by_id(both, 1), clips.by_id(both, 2)
    entry = mark(both, COACH_ID, side, 45, "arm", "right", "entry")
    assert placed(both, 2) == [(48, "right", "entry")]
    move_mark(both, COACH_ID, side, entry.id, 47)
    assert placed(both, 2) == [(52, "right", "entry")]
    step_back(both, COACH_ID, side)
    assert placed(both, 2) == [(48, "right", "entry")]
    step_back(both, COACH_ID, side)
    assert placed(both, 1) == placed(both, 2) == []
    step_on(both, COACH_ID, side)
    assert placed(both, 2) == [(48, "right", "entry")]
    # From the other film, too: between two frames of the slower one the nearest.
    catch = mark(both, COACH_ID, front, 68, "arm", "right", "catch")
    assert placed(both, 1) == [(45, "right", "entry"), (55, "right", "catch")]
    delete_mark(both, COACH_ID, front, catch.id)
    assert placed(both, 1) == [(45, "right", "entry")]
    # What the other camera did not film is marked in one film alone.
    mark(both, COACH_ID, side, 4, "arm", "right", "entry")
    assert len(placed(both, 1)) == 2
    assert len(placed(both, 2)) == 1
    assert twin_frame(both, side, front, 4) is None
    cycle = mark(both, COACH_ID, side, 60, "arm", "left", "entry")
    delete_cycle(both, COACH_ID, side, cycle.id)
    assert all(s == "right" for _, s, _ in placed(both, 1) + placed(both, 2))


def test_marks_go_into_the_film_that_has_none(both: sqlite3.Connection) -> None:
    side = clips.by_id(both, 1)
    for frame, event in ((2, "entry"), (45, "catch"), (60, "press")):
        mark(both, COACH_ID, side, frame, "arm", "right", event)
    assert tie(both, (30, 18)) == 2
    assert placed(both, 2) == [(48, "right", "catch"), (78, "right", "press")]
    # Both have marks now: nothing is copied, and none is lost.
    assert tie(both, (30, 19)) == 0
    assert len(placed(both, 2)) == 2


def test_a_tie_is_undone_and_marks_stay(both: sqlite3.Connection) -> None:
    tie(both, (30, 18))
    mark(both, COACH_ID, clips.by_id(both, 1), 45, "arm", "right", "entry")
    tied_recordings.untie(both, 2, 1)
    mark(both, COACH_ID, clips.by_id(both, 1), 50, "arm", "right", "catch")
    assert len(placed(both, 1)) == 2
    assert len(placed(both, 2)) == 1


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ("UPDATE clips SET swimmer_id = 2 WHERE id = 2", "one swimmer and one stroke"),
        ("UPDATE clips SET stroke = 'butterfly' WHERE id = 2", "one swimmer and one stroke"),
        ("UPDATE clips SET recording_id = 1 WHERE id = 2", "two recordings"),
    ],
)
def test_what_cannot_be_two_cameras_is_refused(
    both: sqlite3.Connection, change: str, words: str
) -> None:
    both.execute(change)
    with pytest.raises(MarkError, match=words):
        tie(both, (30, 18))
    assert tied_recordings.of_recording(both, 1) == []


def test_two_instants_that_are_not_the_same_leave_the_tie_as_it_was(
    both: sqlite3.Connection,
) -> None:
    tie(both, (30, 18))
    with pytest.raises(MarkError, match="not the same two"):
        tie(both, (30, 18), (120, 150))
    known = tied_recordings.between(both, 1, 2)
    assert known is not None
    assert known.instants == ((30, 18),)
