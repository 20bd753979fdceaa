"""Tables as spreadsheet programs save and open them."""

from __future__ import annotations

import csv
import io
import zipfile

import pytest

from norvik.formats.lengths_csv import read_lengths
from norvik.formats.tables import (
    TableEncodingError,
    decimal_point,
    records,
    separator_of,
    text_of,
)
from norvik.formats.tables_out import STYLES, workbook, written_for
from norvik.formats.tracks_csv import Row, read_tracks, write_tracks

TABLE = 'day,what,value\r\n2026-11-05,"a; b, c",0.5\r\n2026-11-06,\'-3,-12.25\r\n'


def test_encodings() -> None:
    for encoding in ("utf-8", "utf-8-sig", "utf-16"):
        assert text_of("Łukasz, 水野".encode(encoding)) == "Łukasz, 水野"
    with pytest.raises(TableEncodingError, match="byte 2"):
        text_of("xÜ".encode("cp1252"))
    assert text_of("xÜ".encode("cp1252"), old_encoding=True) == "xÜ"
    with pytest.raises(TableEncodingError, match="UTF-8"):
        text_of(b"\x81", old_encoding=True)
    with pytest.raises(TableEncodingError, match="breaks off"):
        text_of(b"\xff\xfe\x00")


def test_separators() -> None:
    wanted = ("frame", "x")
    for sign in (",", ";", "\t", "|"):
        assert separator_of(f"frame{sign}x\n1{sign}2\n", wanted)[0] == sign
    assert separator_of("sep=;\r\nframe;x\n", wanted) == (";", "frame;x\n")
    assert separator_of("nothing known\n", wanted)[0] == ","
    assert [r[:2] for r in records("a;b\n1;2\n", ";")] == [(1, ["a", "b"]), (2, ["1", "2"])]


@pytest.mark.parametrize(
    ("cell", "as_point"),
    [("0,5", "0.5"), ("-12,25", "-12.25"), (",5", ".5"), ("1.5", "1.5"), ("a,b", "a,b"),
     ("1,2,3", "1,2,3"), ("", "")],
)  # fmt: skip
def test_decimal_commas(cell: str, as_point: str) -> None:
    assert decimal_point(cell) == as_point


def test_tables_of_lengths_and_points_are_read_with_semicolons() -> None:
    found = read_lengths("length;seconds;strokes\n1;21,4;18\n2;22,0;19\n")
    assert [(x.seconds, x.strokes) for x in found] == [(21.4, 18), (22.0, 19)]
    rows = read_tracks("frame;point;x_px;y_px\n3;right wrist;12,5;40\n".encode("utf-16"))
    assert [(r.frame, r.x, r.y) for r in rows] == [(3, 12.5, 40.0)]


def test_confidences_survive() -> None:
    rows = [Row(1, 0.1, "right wrist", 2.0, 3.0, "followed", 0.375),
            Row(2, 0.2, "right wrist", None, None, "lost", 0.0)]  # fmt: skip
    again = read_tracks(write_tracks(rows).encode())
    assert [r.confidence for r in again] == [0.375, 0.0]
    with pytest.raises(Exception, match="between 0 and 1"):
        read_tracks(b"frame,point,x_px,y_px,confidence\n1,p,1,1,3\n")


def test_a_table_for_programs_that_write_a_comma() -> None:
    text = written_for(TABLE, "comma")
    assert text.startswith("\ufeff")
    rows = list(csv.reader(io.StringIO(text[1:], newline=""), delimiter=";"))
    assert rows[1] == ["2026-11-05", "a; b, c", "0,5"]
    assert rows[2][2] == "-12,25"
    assert written_for(TABLE, "") == TABLE
    assert written_for(TABLE, "bom") == "\ufeff" + TABLE.replace("\r\n", "\r\n")
    assert set(STYLES) == {"", "comma", "bom"}


def test_a_workbook_has_numbers_words_and_their_meaning() -> None:
    data = workbook(TABLE, {"stroke": "freestyle"})
    with zipfile.ZipFile(io.BytesIO(data)) as book:
        sheet = book.read("xl/worksheets/sheet1.xml").decode()
        words = book.read("xl/sharedStrings.xml").decode()
        assert "xl/worksheets/sheet2.xml" in book.namelist()
    assert "<v>0.5</v>" in sheet
    assert "2026-11-05" in words  # a word, not a day of some calendar
    assert "freestyle" in words
    assert "<f>" not in sheet
