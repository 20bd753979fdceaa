"""The score of a talk, its pieces, chapters and captions."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from norvik.core.errors import TalkError
from norvik.core.talk.chapters import Caption, captions_in_talk, chapters, tied
from norvik.core.talk.pieces import (
    LEAST_MS,
    Laid,
    Piece,
    after_take,
    between,
    laid,
    length_of,
    place_of,
    speak_on,
    without,
)
from norvik.core.talk.score import About, Score

ONE = {"clip": 3, "size": [640, 360], "title": "before"}
OTHER = {"model": "freestyle-side-under-well-30-60-1", "size": [1280, 720]}


def test_what_is_seen_is_what_was_done_by_then() -> None:
    score = Score([
        [0, "stage", "over", [ONE, OTHER]], [0, "frame", 0, 10],
        [0, "place", 0, [640, 360, 1, 0, 0, 1, 0, 0]],
        [40, "speed", 0.25, 1], [40, "frame", 0, 11], [80, "frame", 1, 7], [90, "blend", 0.3],
        [100, "ink", 0, [4, 5]], [120, "spot", 1, 0.5, 0.25], [150, "spot", -1], [200, "end"],
    ])  # fmt: skip
    at = score.at(79.9)
    assert (at.films[0].frame, at.films[1].frame, at.playing, at.speed) == (11, 0, True, 0.25)
    assert (at.films[0].clip, at.films[1].model) == (3, OTHER["model"])
    late = score.at(130)
    assert (late.films[1].frame, late.blend, late.spot) == (7, 0.3, (1, 0.5, 0.25))
    assert late.films[0].ink == (4, 5)
    assert score.at(160).spot is None
    assert (score.length_ms, score.at(-1).films) == (200, ())
    read = score.reader()
    assert [read(ms) for ms in (0, 79.9, 130, 160)] == [score.at(ms) for ms in (0, 79.9, 130, 160)]


def test_another_stage_begins_with_nothing_drawn() -> None:
    score = Score([[0, "stage", "beside", [ONE]], [0, "ink", 0, [1]], [0, "spot", 0, 0, 0],
                   [5, "stage", "beside", [ONE, OTHER]]])  # fmt: skip
    seen = score.at(5)
    assert (seen.films[0].ink, seen.films[0].place, seen.spot, len(seen.films)) == (
        (),
        None,
        None,
        2,
    )


@pytest.mark.parametrize(
    "deed",
    [
        [], [0], [0, "jump"], [-1, "end"], [float("nan"), "end"], [0, "frame", 0, 1.5],
        [0, "frame", 3, 1], [0, "frame", 0, -1], [0, "frame", 0, True], [0, "blend", 1.1],
        [0, "stage", "above", [ONE]], [0, "stage", "beside", []], [0, "stage", "beside", [ONE] * 4],
        [0, "stage", "beside", [{"size": [1, 1]}]],
        [0, "stage", "beside", [{"clip": "3", "size": [1, 1]}]],
        [0, "place", 0, [1, 2, 3]], [0, "place", 0, [0, 360, 1, 0, 0, 1, 0, 0]],
        [0, "ink", 0, ["<g/>"]], [0, "ink", 0, list(range(401))], [0, "about", "fault", 3, "x"],
        [0, "about", "fault", "x", "y" * 301], [0, "spot", 0, 3, 0], [4 * 3600 * 1000, "end"],
    ],
)  # fmt: skip
def test_deeds_that_cannot_be_are_refused(deed: list[object]) -> None:
    with pytest.raises(TalkError, match="record again"):
        Score([deed])


ROW = laid([Piece(1), Piece(2, 500, 1500)], {1: 2000.0, 2: 9000.0})


def test_pieces_lie_one_after_the_other() -> None:
    assert list(ROW) == [Laid(1, 0, 2000, 0), Laid(2, 500, 1500, 2000)]
    assert length_of(ROW) == 3000
    assert place_of(ROW, 2250) == (ROW[1], 750)
    assert place_of(ROW, 99_000) == (ROW[1], 1500)
    assert laid([Piece(7), Piece(1, 0, 5000)], {1: 2000.0}) == [Laid(1, 0, 2000, 0)]
    with pytest.raises(TalkError, match="no recording"):
        place_of([], 0)


LENGTHS = {1: 2000.0, 2: 3000.0, 3: 700.0}


@given(st.floats(0, 5700), st.floats(0, 5700))
def test_a_cut_takes_out_what_it_says_and_nothing_else(a: float, b: float) -> None:
    row = laid([Piece(1), Piece(2), Piece(3)], LENGTHS)
    begin, end = min(a, b), max(a, b)
    if end - begin < LEAST_MS:
        with pytest.raises(TalkError):
            without(row, begin, end)
        return
    if begin < LEAST_MS and length_of(row) - end < LEAST_MS:
        return
    left = laid(without(row, begin, end), LENGTHS)
    # Rims shorter than a click go with it.
    assert length_of(left) == pytest.approx(length_of(row) - (end - begin), abs=4 * LEAST_MS)
    for ms in (100.0, 1500.0, 2500.0, 5600.0):
        if begin - 1 <= ms <= end + 1:
            continue
        piece, take_ms = place_of(row, ms)
        there = [p for p in left if p.take == piece.take and p.from_ms <= take_ms < p.to_ms]
        near_rim = min(abs(take_ms - p.from_ms) for p in left) < LEAST_MS or not there
        assert there or near_rim
        if there:
            moved = ms - (end - begin) if ms > end else ms
            assert there[0].in_talk(take_ms) == pytest.approx(moved, abs=4 * LEAST_MS)


def test_the_whole_talk_is_not_cut() -> None:
    with pytest.raises(TalkError, match="Delete the talk"):
        without(ROW, 0, 3000)


def test_speaking_on_adding_between_and_after_a_pause() -> None:
    assert speak_on(ROW, 2400, 9) == [Piece(1, 0, 2000), Piece(2, 500, 900), Piece(9)]
    assert between(ROW, 2400, 9) == [
        Piece(1, 0, 2000), Piece(2, 500, 900), Piece(9), Piece(2, 900, 1500)]  # fmt: skip
    assert between(ROW, 0, 9)[0] == Piece(9)
    assert speak_on(ROW, 10, 9) == [Piece(9)]
    pieces = [Piece(1), Piece(2), Piece(1, 5, 9)]
    assert after_take(pieces, 2, 9) == [Piece(1), Piece(2), Piece(9), Piece(1, 5, 9)]
    assert after_take(pieces, 77, 9)[-1] == Piece(9)
    assert after_take([], 77, 9) == [Piece(9)]


def test_chapters_come_from_what_was_spoken_of() -> None:
    abouts = {
        1: [
            About(0, "strength", "long", "Long glide"),
            About(1900, "fault", "elbow", "Dropped elbow"),
        ],
        2: [About(0, "fault", "elbow", "Dropped elbow"), About(1400, "fault", "kick", "Late kick")],
    }
    row = laid([Piece(1), Piece(2)], {1: 4000.0, 2: 6000.0})
    found = chapters(row, abouts, {})
    assert [(c.at_ms, c.to_ms, c.words) for c in found] == [
        (0, 1900, "Long glide"), (1900, 5400, "Dropped elbow"), (5400, 10_000, "Late kick"),
    ]  # fmt: skip
    # Its own words go with it through a cut.
    shorter = laid(without(row, 0, 300), {1: 4000.0, 2: 6000.0})
    named = chapters(shorter, abouts, {(1, 1900.0): "Your elbow"})
    assert [(c.at_ms, c.words, c.own) for c in named][1] == (1600, "Your elbow", True)


def test_what_was_only_passed_is_no_chapter_and_a_talk_about_nothing_has_an_opening() -> None:
    row = laid([Piece(1)], {1: 9000.0})
    passed = [
        About(0, "fault", "a", "A"),
        About(3000, "fault", "b", "B"),
        About(3300, "fault", "c", "C"),
    ]
    assert [c.words for c in chapters(row, {1: passed}, {})] == ["A", "C"]
    assert [(c.words, c.to_ms) for c in chapters(row, {}, {})] == [("Opening", 9000)]
    late = chapters(row, {1: [About(4000, "fault", "a", "A")]}, {})
    assert [(c.at_ms, c.words) for c in late] == [(0, "Opening"), (4000, "A")]
    assert chapters([], {}, {}) == []


def test_captions_move_with_what_is_said() -> None:
    made = tied(ROW, 1800, 2300, "across the joint")
    assert made == [
        Caption(1, 1800, 2000, "across the joint"),
        Caption(2, 500, 800, "across the joint"),
    ]
    row = laid(without(ROW, 0, 1000), {1: 2000.0, 2: 9000.0})
    assert [(c.at_ms, c.to_ms) for c in captions_in_talk(row, made)] == [(800, 1000), (1000, 1300)]
    gone = laid(without(ROW, 1700, 2000), {1: 2000.0, 2: 9000.0})
    assert [c.at_ms for c in captions_in_talk(gone, made)] == [1700]
    assert tied(ROW, 5000, 6000, "after the end") == []


# ---- the edges of what a deed may say ----


@pytest.mark.parametrize(
    ("kind", "fine", "wrong"),
    [
        ("frame", [(0, 0), (2, 2**31)], [(3, 0), (-1, 0), (0, -1), (0, 2**31 + 1), (0, "1")]),
        ("blend", [(0,), (1,), (0.5,)], [(-0.01,), (1.01,), (True,), ("1",), (float("inf"),)]),
        ("speed", [(0, 0), (100, 1)], [(-0.1, 1), (100.1, 1), (1, 2), (1, -1), (1, 0.5)]),
        ("spot", [(-1,), (2, -1, 2), (0, 2, -1)],
         [(-2,), (3, 0, 0), (0, -1.1, 0), (0, 2.1, 0), (0, 0, -1.1), (0, 0, 2.1)]),
        ("ink", [(0, []), (2, [0, 2**31]), (0, list(range(400)))],
         [(3, []), (0, [-1]), (0, [2**31 + 1]), (0, [1.0]), (0, [True])]),
        ("place", [(0, [1, 20_000, -1e6, 1e6, 0, 0, 0, 0]), (2, [5, 5, 1, 0, 0, 1, 0, 0])],
         [(0, [0.9, 5, 1, 0, 0, 1, 0, 0]), (0, [5, 20_001, 1, 0, 0, 1, 0, 0]),
          (0, [5, 5, -1e6 - 1, 0, 0, 1, 0, 0]), (0, [5, 5, 1, 0, 0, 1, 0, 1e6 + 1]),
          (0, [5, 5, 1, 0, 0, 1, 0]), (0, [5, 5, 1, 0, 0, 1, 0, 0, 0]),
          (3, [5, 5, 1, 0, 0, 1, 0, 0])]),
        ("about", [("fault", "x", "y" * 300)],
         [("z" * 301, "x", "y"), ("fault", "z" * 301, "y"), (1, "x", "y"), ("fault", "x", 1)]),
        ("end", [()], [(1,)]),
    ],
)  # fmt: skip
def test_where_the_values_of_a_deed_end(
    kind: str, fine: list[tuple[object, ...]], wrong: list[tuple[object, ...]]
) -> None:
    for values in fine:
        assert Score([[0, kind, *values]]).deeds[0][1] == kind, values
    for values in wrong:
        with pytest.raises(TalkError):
            Score([[0, kind, *values]])


@pytest.mark.parametrize("ms", [0, 3 * 3600 * 1000])
def test_when_a_deed_may_be(ms: float) -> None:
    assert Score([[ms, "end"]]).length_ms == ms
    for beyond in (-0.1, 3 * 3600 * 1000 + 0.1, True, "0"):
        with pytest.raises(TalkError):
            Score([[beyond, "end"]])


@pytest.mark.parametrize(
    "film",
    [
        {"clip": 0, "size": [1, 1]}, {"clip": 2**53 + 1, "size": [1, 1]},
        {"clip": 1, "size": [0, 1]}, {"clip": 1, "size": [1, 0]}, {"clip": 1, "size": [20_001, 1]},
        {"clip": 1, "size": [1, 20_001]}, {"clip": 1, "size": [1]}, {"clip": 1},
        {"clip": 1, "size": [1, 1], "title": 4}, {"clip": 1, "size": [1, 1], "title": "t" * 301},
        {"model": 4, "size": [1, 1]}, {"model": "m" * 301, "size": [1, 1]},
    ],
)  # fmt: skip
def test_films_that_cannot_stand_on_a_stage(film: dict[str, object]) -> None:
    with pytest.raises(TalkError):
        Score([[0, "stage", "beside", [film]]])


def test_a_stage_keeps_what_its_films_are() -> None:
    """A clip by its number or a model by its name, with its size; the title is tidied."""
    films = [
        {"clip": 1, "size": [20_000, 1], "title": " two  words ", "more": 1},
        {"clip": 2**53, "size": [1, 20_000]}, {"model": "m" * 300, "size": [3, 4]},
    ]  # fmt: skip
    score = Score([[0, "stage", "difference", films]])
    first, second, third = score.at(0).films
    assert (first.clip, first.model, first.size, first.title) == (1, "", (20_000, 1), "two words")
    assert (second.clip, second.size, second.title) == (2**53, (1, 20_000), "")
    assert (third.clip, third.model, third.size) == (None, "m" * 300, (3, 4))
    assert score.deeds[0][3][0] == {"size": [20_000, 1], "title": "two words", "clip": 1}
    assert score.at(0).layout == "difference"


def test_each_deed_changes_its_own_film_alone() -> None:
    place = [640, 360, 2, 0, 0, 2, 5, 6]
    score = Score([
        [0, "stage", "beside", [ONE, OTHER, ONE]], [1, "frame", 1, 9], [2, "place", 1, place],
        [3, "ink", 1, [7]], [4, "frame", 2, 5], [5, "frame", 0, 3], [6, "about", "a", "b", "c"],
    ])  # fmt: skip
    films = score.at(9).films
    assert [f.frame for f in films] == [3, 9, 5]
    assert [f.place for f in films] == [None, tuple(place), None]
    assert [f.ink for f in films] == [(), (7,), ()]
    assert [f.clip for f in films] == [3, None, 3]
    assert score.abouts == [About(6, "a", "b", "c")]


def test_a_deed_on_a_film_that_is_not_there_changes_nothing() -> None:
    score = Score([[0, "stage", "beside", [ONE]], [1, "frame", 1, 9], [2, "ink", 2, [1]]])
    assert score.at(5) == score.at(0)
    # Deeds come in the order of their times, however they were sent.
    late = Score([[5, "frame", 0, 2], [0, "stage", "beside", [ONE]], [3, "frame", 0, 1]])
    assert [late.at(ms).films[0].frame for ms in (2.9, 3, 4.9, 5)] == [0, 1, 1, 2]
    assert Score([]).length_ms == 0.0


def test_how_it_stands_before_anything_was_done() -> None:
    seen = Score([[9, "end"]]).at(0)
    assert (seen.layout, seen.blend, seen.spot, seen.speed, seen.playing) == (
        "beside", 0.5, None, 0.25, False,
    )  # fmt: skip
    still = Score([[0, "speed", 0.5, 1], [1, "speed", 0.125, 0]])
    assert (still.at(0).playing, still.at(1).playing, still.at(1).speed) == (True, False, 0.125)
