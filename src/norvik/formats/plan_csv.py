"""A plan as a table (RFC 4180, UTF-8): one row a set, in the order in which it is swum."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import astuple, dataclass

from norvik.core.errors import PlanError
from norvik.formats.cells import as_meant, plain_text
from norvik.formats.named_rows import named_rows, refuse

COLUMNS = ("date", "week", "session", "focus", "set", "repeats", "distance", "unit", "rest_s",
           "effort", "kit", "cue", "note", "film", "test")  # fmt: skip


@dataclass(frozen=True, slots=True)
class Row:
    """distance: of one repeat in `unit`. film: yes or empty. test: its name, or empty."""

    date: str
    week: int
    session: str
    focus: str
    set: str
    repeats: int
    distance: str
    unit: str
    rest_s: int
    effort: int
    kit: str
    cue: str
    note: str
    film: str
    test: str


def write_plan(rows: Iterable[Row]) -> str:
    """The table with its header."""
    text = io.StringIO(newline="")
    writer = csv.writer(text)
    writer.writerow(COLUMNS)
    writer.writerows(
        [plain_text(c) if isinstance(c, str) else c for c in astuple(row)] for row in rows
    )
    return text.getvalue()


@dataclass(frozen=True, slots=True)
class WrittenSet:
    """What of a row can be changed by hand: the session's day and the set's repeats."""

    row: int
    day: str
    session: str
    set: str
    repeats: int


def read_plan(data: bytes) -> list[WrittenSet]:
    """The rows of a table of a plan. Raises PlanError naming every row that is wrong."""
    needed = ("date", "session", "set", "repeats")
    rows = named_rows(data, COLUMNS, needed, "a table of a plan", PlanError)
    found: list[WrittenSet] = []
    wrong: list[str] = []
    for row in rows:
        cell, repeats = row.cells, row.cells.get("repeats", "")
        if row.wrong:
            wrong.append(f"row {row.number}: {row.wrong}")
            continue
        if not (repeats.isascii() and repeats.isdigit() and len(repeats) < 5):
            wrong.append(f"row {row.number}: “{repeats[:30]}” is no number of repeats")
            continue
        key = as_meant(cell["session"]).lower().removeprefix("session").strip()
        found.append(WrittenSet(row.number, cell["date"], key, as_meant(cell["set"]),
                                int(repeats)))  # fmt: skip
    refuse(wrong, "Nothing was changed", PlanError)
    return found
