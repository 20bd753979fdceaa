"""A plan as a table (RFC 4180, UTF-8): one row a set, in the order in which it is swum."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import astuple, dataclass

from norvik.formats.cells import plain_text

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
