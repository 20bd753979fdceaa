"""Swims by lengths: worked values, checks against the watch, tables and typed lines."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from norvik.core.errors import LengthsError
from norvik.core.followup.length_log import Length, length_log
from norvik.formats.lengths_csv import read_lengths, write_lengths


def test_worked_rates() -> None:
    # 20 strokes in 21 s: 57.1 strokes/min over the length; with 4 s under water 70.6.
    figures = length_log([Length(21, 20, under_s=4)], 25).lengths[0]
    assert figures.rate_raw == pytest.approx(57.1, abs=0.05)
    assert figures.rate == pytest.approx(70.6, abs=0.05)
    assert figures.golf == 41
    assert figures.pace_s == pytest.approx(84)


def test_a_swim_is_added_up_and_held_against_the_watch() -> None:
    lengths = [Length(21.0, 18), Length(22.0, 19), Length(23.0, 20), Length(22.0, 19)]
    log = length_log(lengths, 25, given_total_s=90.0)
    assert (log.distance_m, log.total_s, log.pace_s) == (100, 88.0, 88.0)
    assert (log.strokes_spread, log.seconds_spread, log.steady) == (2, 2.0, True)
    assert log.mean_golf == pytest.approx(41.0)
    assert log.off_s == pytest.approx(-2.0)
    assert log.total_is_off
    assert not length_log(lengths, 25, 88.9).total_is_off
    assert length_log([*lengths, Length(25, 22)], 25).steady is False
    # Said of 25 m lengths only, and only where every one was counted.
    assert length_log(lengths, 50).steady is None
    assert length_log([*lengths, Length(22)], 25).steady is None
    assert length_log([Length(22)], 25).mean_golf is None


@pytest.mark.parametrize(
    ("lengths", "words"),
    [([], "no length"), ([Length(0)], "Length 1"), ([Length(20), Length(math.nan)], "Length 2"),
     ([Length(20, 500)], "strokes"), ([Length(20, 5, under_s=20)], "under water")],
)  # fmt: skip
def test_lengths_that_cannot_be(lengths: list[Length], words: str) -> None:
    with pytest.raises(LengthsError, match=words):
        length_log(lengths, 25)
    with pytest.raises(LengthsError, match="pool"):
        length_log([Length(20)], 0)


def test_typed_lines() -> None:
    found = read_lengths("21.4 18\n\n0:22,0 19 very easy 3.5\n23")
    assert found == [Length(21.4, 18), Length(22.0, 19, "very easy", 3.5), Length(23.0)]


def test_a_table_in_any_order_of_columns() -> None:
    text = "\ufeffStrokes,Seconds,coach\r\n18,21.4,me\r\n,1:02.5,\r\n"
    assert read_lengths(text) == [Length(21.4, 18), Length(62.5)]


@given(
    st.lists(
        st.builds(
            Length,
            st.integers(1, 900_000_000).map(lambda n: n / 1e6),
            st.none() | st.integers(0, 200),
            st.text("abc ,\"'", max_size=20).map(str.strip),
            st.none() | st.integers(0, 10_000_000).map(lambda n: n / 1e6),
        ),
        min_size=1, max_size=30,
    )
)  # fmt: skip
def test_what_is_written_is_read_back(lengths: list[Length]) -> None:
    assert read_lengths(write_lengths(lengths)) == lengths


@pytest.mark.parametrize(
    ("text", "words"),
    [("", "no length"), ("fast", "Row 1"), ("21 18\n22 x1 3 4 5", "Row 2"), ("21 18.5", "Row 1"),
     ("seconds,strokes\n21,x", "Row 2"), ("seconds,strokes\n21,18,4", "Row 2"),
     ("seconds,strokes\n", "under this header"), ("seconds,seconds\n1,2", "once"),
     ("seconds\n-4", "Row 2"), ("1\n" * 5000, "5000 rows")],
)  # fmt: skip
def test_tables_that_cannot_be_read_name_the_row(text: str, words: str) -> None:
    with pytest.raises(LengthsError, match=words):
        read_lengths(text)
