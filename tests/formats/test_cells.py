"""Words in tables that a spreadsheet program would run; names of files."""

from __future__ import annotations

import csv
import io

import pytest

from norvik.core.followup.length_log import Length
from norvik.formats.cells import as_meant, plain_text
from norvik.formats.lengths_csv import read_lengths, write_lengths
from norvik.web.shared.names import file_name


@pytest.mark.parametrize("text", ["=1+1", "+49", "-3 easy", "@SUM(A1)", "\tx", "\r=1"])
def test_a_formula_becomes_words_and_comes_back(text: str) -> None:
    assert plain_text(text).startswith("'")
    assert as_meant(plain_text(text)) == text


@pytest.mark.parametrize("text", ["", "easy", "'quoted'", "1-2", "a=b"])
def test_words_stay_words(text: str) -> None:
    assert plain_text(text) == text
    assert as_meant(text) == text


def test_a_table_of_lengths_holds_no_formula_and_reads_back_the_same() -> None:
    lengths = [Length(21.0, 18, "=cmd()", 3.5, 6, 4), Length(22.25, None, "easy")]
    text = write_lengths(lengths)
    for row in csv.reader(io.StringIO(text)):
        assert not any(cell.startswith(("=", "+", "-", "@")) for cell in row)
    assert read_lengths(text) == lengths


def test_a_table_of_before_has_no_kicks_and_breaths() -> None:
    assert read_lengths("length,seconds,strokes,effort,under_water_s\n1,20,18,,3\n") == [
        Length(20.0, 18, "", 3.0)
    ]


@pytest.mark.parametrize(
    ("name", "plain"),
    [("Zoë Håkonsen-Ærø", "zoe-haakonsen-aeroe"), ("Łukasz Đorđe", "lukasz-dorde"),
     ("水野", "swimmer"), ("  ", "swimmer"), ("O'Brien/../x", "o-brien-x")],
)  # fmt: skip
def test_names_of_files_are_plain_letters(name: str, plain: str) -> None:
    assert file_name(name) == plain
