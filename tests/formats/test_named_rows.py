"""Rows by the names of their columns, as several programs save them."""

from __future__ import annotations

import pytest

from norvik.core.errors import PlanError
from norvik.formats.named_rows import NamedRow, named_rows, refuse

COLUMNS = ("date", "set", "note")


def rows(data: bytes) -> list[NamedRow]:
    return list(named_rows(data, COLUMNS, ("date", "set"), "a table of a plan", PlanError))


def test_columns_in_any_order_and_rows_that_end_early() -> None:
    found = rows(b"Note; SET ;date\r\ncalm;1; 2026-10-05 \r\n;;\r\nlate;2\r\n")
    assert [(r.number, r.cells, r.wrong) for r in found] == [
        (2, {"note": "calm", "set": "1", "date": "2026-10-05"}, None),
        (4, {"note": "late", "set": "2", "date": ""}, None),
    ]


def test_a_row_with_more_cells_than_the_header_is_named() -> None:
    (row,) = rows(b"date,set\n2026-10-05,1,2\n")
    assert (row.number, row.wrong) == (2, "more cells than the header")


def test_a_header_without_what_is_needed_is_refused_at_once() -> None:
    with pytest.raises(PlanError) as refused:
        named_rows(b"date,note\n", COLUMNS, ("date", "set"), "a table of a plan", PlanError)
    assert refused.value.sentence == (
        "Missing columns: set. A table of a plan begins with date,set,note."
    )
    with pytest.raises(PlanError):
        named_rows(b"\x00\x01\x02", COLUMNS, ("date",), "a table of a plan", PlanError)


def test_the_first_five_wrong_rows_are_named() -> None:
    refuse([], "Nothing was changed", PlanError)
    with pytest.raises(PlanError) as refused:
        refuse([f"row {n}" for n in range(2, 9)], "Nothing was changed", PlanError)
    assert refused.value.sentence == (
        "Nothing was changed: row 2; row 3; row 4; row 5; row 6 and 2 more."
    )
